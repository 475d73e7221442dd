import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import type { FeatureState, Plan, PlanFeature } from "../../shared/coupon/CouponDrawing";
import { signed, size, THIN } from "../../shared/format";
import { type Draft, seen } from "./draft";

const FITS: [FeatureState, string][] = [
  ["formed", "goes"],
  ["partial", "tight"],
  ["absent", "does not go"],
];

/** What is looked at besides counts and calipers: the pair that just touches, the taper plug or gauge piece, the smallest code. */
export function SeenFields({ plan, draft, onDraft }: { plan: Plan; draft: Draft; onDraft: (draft: Draft) => void }) {
  const pairs = plan.features.filter((one) => one.kind === "vernier");
  const codes = plan.features.filter((one) => one.kind === "legible").sort((a, b) => b.size_mm - a.size_mm);
  const fits = plan.features.filter((one) => one.kind === "fit");
  const steps = plan.features.filter((one) => one.kind === "taper");
  if (!pairs.length && !codes.length && !fits.length && !steps.length) return null;
  const smallest = codes.filter((one) => draft.states[one.key] === "formed").at(-1);
  const none = (kind: string) => ({
    ...draft,
    states: {
      ...draft.states,
      ...Object.fromEntries(plan.features.filter((one) => one.kind === kind).map((one) => [one.key, undefined])),
    },
  });
  return (
    <>
      <h2>Also seen</h2>
      <div className="d-grid gap-2 mb-3">
        <OneOf
          id="seen-vernier"
          label="Vernier pair that just touches"
          among={pairs}
          edgeShare={0.5}
          draft={draft}
          onPick={(one) => onDraft(one ? (draft.states[one.key] ? draft : seen(draft, plan, one)) : none("vernier"))}
        />
        <OneOf
          id="seen-taper"
          label="Step at which the taper plug stopped"
          among={steps}
          edgeShare={0.25}
          draft={draft}
          onPick={(one) => onDraft(one ? (draft.states[one.key] ? draft : seen(draft, plan, one)) : none("taper"))}
        />
        {fits.map((fit, at) => (
          <fieldset key={fit.key}>
            <legend className="form-label">{pieceName(fits.length, at)}</legend>
            <div className="btn-group w-100" role="group" aria-label={pieceName(fits.length, at)}>
              {FITS.map(([state, word]) => (
                <Button
                  key={state}
                  variant={draft.states[fit.key] === state ? "primary" : "quiet"}
                  aria-pressed={draft.states[fit.key] === state}
                  onClick={() =>
                    onDraft({
                      ...draft,
                      states: { ...draft.states, [fit.key]: draft.states[fit.key] === state ? undefined : state },
                    })
                  }
                >
                  {word}
                </Button>
              ))}
            </div>
          </fieldset>
        ))}
        {codes.length > 0 && (
          <Form.Group controlId="seen-code">
            <Form.Label>Smallest code still read</Form.Label>
            <Form.Select
              value={smallest?.key ?? ""}
              onChange={(event) => {
                const code = codes.find((one) => one.key === event.target.value);
                onDraft(code ? seen(draft, plan, code) : none("legible"));
              }}
            >
              <option value="">not read</option>
              {codes.map((one) => (
                <option key={one.key} value={one.key}>
                  {size(one.size_mm)}
                  {THIN}mm
                </option>
              ))}
            </Form.Select>
          </Form.Group>
        )}
      </div>
    </>
  );
}

type OneOfProps = {
  id: string;
  label: string;
  among: PlanFeature[];
  /** Growth of an edge for each millimetre that is drawn. */
  edgeShare: number;
  draft: Draft;
  onPick: (feature: PlanFeature | null) => void;
};

/** One of a row is marked; each says what it means in growth of an edge. */
function OneOf({ id, label, among, edgeShare, draft, onPick }: OneOfProps) {
  if (!among.length) return null;
  return (
    <Form.Group controlId={id}>
      <Form.Label>{label}</Form.Label>
      <Form.Select
        value={among.find((one) => draft.states[one.key] === "formed")?.key ?? ""}
        onChange={(event) => onPick(among.find((one) => one.key === event.target.value) ?? null)}
      >
        <option value="">not read</option>
        {among.map((one, index) => (
          <option key={one.key} value={one.key}>
            {index + 1}: drawn {signed(1000 * one.size_mm)}
            {THIN}µm, edge {signed(1000 * edgeShare * one.size_mm, 1)}
            {THIN}µm
          </option>
        ))}
      </Form.Select>
    </Form.Group>
  );
}

/** A coupon has one gauge piece, or a pair of which one should go and one should not. */
const pieceName = (count: number, at: number): string =>
  count < 2 ? "Gauge piece" : at === 0 ? "Piece that should go" : "Piece that should not go";
