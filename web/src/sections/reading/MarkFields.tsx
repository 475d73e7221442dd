import Form from "react-bootstrap/Form";
import type { Plan, PlanFeature } from "../../shared/coupon/CouponDrawing";
import { NumberField } from "../../shared/fields/NumberField";
import { size } from "../../shared/format";
import { counted, type Draft, type Row, washed } from "./draft";
import type { Marking } from "./marking";
import { SeenFields } from "./SeenFields";

const KIND_ROWS: Record<Row["kind"], string> = { wall: "Walls standing", slot: "Slots open", tip: "Tips held" };

type Props = {
  plan: Plan;
  draft: Draft;
  onDraft: (draft: Draft) => void;
  marking: Marking;
  errors: Record<string, string>;
};

/** The same reading by typing: counts by series, caliper values in order, and what else is seen. */
export function MarkFields({ plan, draft, onDraft, marking, errors }: Props) {
  const { rows, calipers, fields, bad } = marking;
  return (
    <>
      {rows.length > 0 && (
        <>
          <h2>Counts</h2>
          <div className="counts mb-3">
            {rows.map((row) => (
              <NumberField
                key={row.key}
                ref={(element) => void (fields.current[row.key] = element)}
                label={[KIND_ROWS[row.kind], rowSide(row)].filter(Boolean).join(", ")}
                value={counted(draft, row)}
                onChange={(value) => marking.countRow(row, value)}
                onBad={(isBad) => marking.note(row.key, isBad ? "Give a whole number." : null)}
                error={bad[row.key]}
                hint={`of ${row.features.filter((feature) => draft.states[feature.key] !== "lost").length}`}
                onEnter={() => marking.onward(row.key)}
              />
            ))}
          </div>
        </>
      )}
      {calipers.length > 0 && (
        <>
          <h2>Calipers</h2>
          <div className="counts mb-3">
            {calipers.map((feature) => (
              <div
                key={feature.key}
                onFocus={() => marking.setFocus(feature.key)}
                onBlur={() => marking.setFocus(null)}
              >
                <NumberField
                  ref={(element) => void (fields.current[feature.key] = element)}
                  label={caliperLabel(feature)}
                  unit="mm"
                  value={draft.measured[feature.key] ?? null}
                  disabled={draft.states[feature.key] === "lost" || draft.states[feature.key] === "absent"}
                  onChange={(value) => onDraft({ ...draft, measured: { ...draft.measured, [feature.key]: value } })}
                  onBad={(isBad) => marking.note(feature.key, isBad ? "Give a number." : null)}
                  error={errors[feature.key]}
                  onEnter={() => marking.onward(feature.key)}
                />
                {feature.kind === "outer" && (
                  <Form.Check
                    id={`washed-${feature.key}`}
                    className="washed"
                    label="washed away"
                    aria-label={`${caliperLabel(feature)} washed away`}
                    checked={draft.states[feature.key] === "absent"}
                    onChange={(event) => onDraft(washed(draft, feature.key, event.target.checked))}
                  />
                )}
              </div>
            ))}
          </div>
        </>
      )}
      <SeenFields plan={plan} draft={draft} onDraft={onDraft} />
    </>
  );
}

function caliperLabel(feature: PlanFeature): string {
  if (feature.kind === "z-gap") return `Clearance under bridge ${size(feature.size_mm)}`;
  // Bars of a grid lie at nine places: row and column on the plate, seen from above.
  const cell = /^outer-(\d)(\d)$/.exec(feature.key);
  if (cell) return `Bar ${size(feature.size_mm)}, row ${cell[1]} column ${cell[2]}`;
  return `${feature.kind === "outer" ? "Bar" : "Notch"} ${size(feature.size_mm)} along ${feature.axis?.toUpperCase()}`;
}

function rowSide(row: Row): string {
  if (row.kind !== "tip") return row.side;
  return row.side === "left" ? "upper row" : "lower row";
}
