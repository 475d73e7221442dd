import Form from "react-bootstrap/Form";
import type { Plan } from "../../shared/coupon/CouponDrawing";
import { NumberField } from "../../shared/fields/NumberField";
import { counted, type Draft, washed } from "./draft";
import { caliperLabel, rowLabel } from "./labels";
import type { Marking } from "./marking";
import { SeenFields } from "./SeenFields";

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
                label={rowLabel(row)}
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
