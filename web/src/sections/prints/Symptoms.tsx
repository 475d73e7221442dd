import type { Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { SymptomDrawing } from "./SymptomDrawing";

export type Symptom = Schemas["ReportInput"]["symptoms"][number];

/** What was seen, chosen from drawings. */
export function Symptoms({ value, onChange }: { value: Symptom[]; onChange: (value: Symptom[]) => void }) {
  const all = useGet("/api/print-symptoms", {}, { select: (answer) => answer.items, staleTime: Infinity });
  return (
    <fieldset className="symptoms wide">
      <legend className="form-label">What was seen on those that failed</legend>
      <div className="tiles">
        {(all.data ?? []).map((one) => {
          const key = one.key as Symptom;
          const on = value.includes(key);
          return (
            <button
              key={key}
              type="button"
              className={on ? "on" : ""}
              aria-pressed={on}
              onClick={() => onChange(on ? value.filter((other) => other !== key) : [...value, key])}
            >
              <SymptomDrawing of={key} />
              {one.name}
            </button>
          );
        })}
      </div>
    </fieldset>
  );
}
