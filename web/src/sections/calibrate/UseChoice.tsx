import type { Schemas } from "../../shared/api/client";

type Use = Schemas["PartUseView"];

/** What the parts are for, in words; the limits follow and stay open to change. */
export function UseChoice({
  uses,
  chosen,
  onChoose,
}: {
  uses: Use[];
  chosen: string | null;
  onChoose: (use: Use) => void;
}) {
  return (
    <div className="use-choice" role="group" aria-label="What the parts are for">
      {uses.map((use) => (
        <button key={use.key} type="button" aria-pressed={use.key === chosen} onClick={() => onChoose(use)}>
          <strong>{use.name}</strong>
          <small>{use.words}</small>
        </button>
      ))}
    </div>
  );
}

/** The use whose limits stand in the form, if any. */
export const chosenUse = (uses: Use[], limits: object | null): string | null =>
  uses.find((use) => limits && JSON.stringify(sorted(use.limits)) === JSON.stringify(sorted(limits)))?.key ?? null;

const sorted = (limits: object) => Object.entries(limits).sort(([a], [b]) => a.localeCompare(b));
