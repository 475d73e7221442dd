import type { Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { SymptomDrawing } from "./SymptomDrawing";
import "./log.scss";

export type Symptom = Schemas["ReportInput"]["symptoms"][number];

/** What was seen, chosen from drawings. */
export function Symptoms({
  value,
  onChange,
  legend = true,
}: {
  value: Symptom[];
  onChange: (value: Symptom[]) => void;
  /** Where the heading above says it, it is there for those who hear the page. */
  legend?: boolean;
}) {
  const all = useGet("/api/print-symptoms", {}, { select: (answer) => answer.items, staleTime: Infinity });
  return (
    <fieldset className="symptoms wide">
      <legend className={legend ? "form-label" : "visually-hidden"}>What was seen on those that failed</legend>
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
