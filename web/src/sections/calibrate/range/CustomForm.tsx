import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { body, POST } from "../../../shared/api/client";
import { NumberField } from "../../../shared/fields/NumberField";
import { Trouble } from "../../../shared/Trouble";
import { useKept } from "../../../shared/useKept";
import type { Arm, Calibration } from "../model";
import { KindChoice } from "./KindChoice";
import { type Kind, type Plan, usePlan, useQuote } from "./plan";
import { planWords, QuoteCard } from "./QuoteCard";

type Custom = { text: string; kind: Kind; thickness: number | null; repeat: boolean; plate: boolean };

/** Coupons of one's own choice, besides what is advised. */
export function CustomForm({ calibration, arm, onDone }: { calibration: Calibration; arm: Arm; onDone: () => void }) {
  const [custom, setCustom, forget] = useKept<Custom>(`custom.${arm.id}`, {
    text: "",
    kind: "support",
    thickness: null,
    repeat: false,
    plate: false,
  });
  const set = (changes: Partial<Custom>) => setCustom((held) => ({ ...held, ...changes }));
  const plan = usePlan(arm, () => {
    forget();
    onDone();
  });
  const exposures = custom.text.trim()
    ? custom.text
        .trim()
        .split(/[\s;]+/)
        .map((part) => Number(part.replace(",", ".")))
    : [];
  const wrong = exposures.some((value) => !(value > 0));
  const onPlate = custom.plate && custom.kind !== "grid" && calibration.several_exposures;
  const given: Plan = {
    kind: custom.kind,
    exposures_s: exposures,
    thickness_mm: custom.thickness,
    is_repeat: custom.repeat,
    way: onPlate ? "plate" : "separate",
    repeats: null,
  };
  const quote = useQuote([arm.id, "custom", given, arm.coupons.length], exposures.length > 0 && !wrong, () =>
    body(POST("/api/arms/{arm_id}/quote", { params: { path: { arm_id: arm.id } }, body: given })),
  );
  const errors = quote.error?.fields ?? {};
  const priced = quote.error || wrong || !exposures.length ? undefined : quote.data;
  const problem = wrong
    ? "Give seconds, separated by spaces."
    : Object.entries(errors).find(([name]) => name.startsWith("exposures_s"))?.[1];
  return (
    <Form
      noValidate
      className="border-top pt-3"
      aria-label="Plan other coupons"
      onSubmit={(event) => {
        event.preventDefault();
        if (priced && !quote.isPlaceholderData) plan.mutate(given);
      }}
    >
      <div className="row g-2">
        <Form.Group className="col-12" controlId="custom-exposures">
          <Form.Label>Exposures, s</Form.Label>
          <Form.Control
            autoFocus
            className="num"
            autoComplete="off"
            placeholder="2.2 2.6 3.1"
            value={custom.text}
            isInvalid={Boolean(problem)}
            onChange={(event) => set({ text: event.target.value })}
          />
          <Form.Control.Feedback type="invalid">{problem}</Form.Control.Feedback>
        </Form.Group>
        <KindChoice kind={custom.kind} onKind={(kind) => set({ kind })} className="col-6" />
        <NumberField
          className="col-6"
          label="Thickness"
          unit="mm"
          value={custom.thickness}
          onChange={(thickness) => set({ thickness })}
          error={errors.thickness_mm}
        />
        <div className="col-12">
          <Form.Check
            id="custom-repeat"
            label="A repeat: supersedes earlier ones at its exposure"
            checked={custom.repeat}
            onChange={(event) => set({ repeat: event.target.checked })}
          />
          {calibration.several_exposures && custom.kind !== "grid" && (
            <Form.Check
              id="custom-plate"
              label="All on one plate, shuffled"
              checked={custom.plate}
              onChange={(event) => set({ plate: event.target.checked })}
            />
          )}
        </div>
      </div>
      <QuoteCard quote={priced} step={calibration.exposure_step_s} />
      <Trouble error={quote.error && !problem && !errors.thickness_mm ? quote.error : null} className="mt-2" />
      <Button type="submit" className="w-100 mt-3" disabled={!priced || quote.isPlaceholderData || plan.isPending}>
        {planWords(priced)}
      </Button>
      <Trouble error={plan.error} className="mt-2" />
    </Form>
  );
}
