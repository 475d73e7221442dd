import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { body, POST } from "../../../shared/api/client";
import { useGet } from "../../../shared/api/useGet";
import { Choice } from "../../../shared/fields/Choice";
import { NumberField } from "../../../shared/fields/NumberField";
import { TextField } from "../../../shared/fields/TextField";
import { DraftNote } from "../../../shared/fields/DraftNote";
import { useEntry } from "../../../shared/fields/useEntry";
import { Trouble } from "../../../shared/Trouble";
import type { Arm, Calibration } from "../model";
import { KindChoice } from "./KindChoice";
import { type Kind, type Plan, usePlan, useQuote } from "./plan";
import { planWords, QuoteCard } from "./QuoteCard";

type Custom = {
  exposures_s: string;
  kind: Kind;
  own_coupon: string;
  thickness_mm: number | null;
  is_repeat: boolean;
  plate: boolean;
};

/** Coupons of one's own choice, besides what is advised. */
export function CustomForm({ calibration, arm, onDone }: { calibration: Calibration; arm: Arm; onDone: () => void }) {
  const entry = useEntry<Custom>(
    { exposures_s: "", kind: "support", own_coupon: "", thickness_mm: null, is_repeat: false, plate: false },
    `custom.${arm.id}`,
  );
  const { values: custom, set } = entry;
  const plan = usePlan(arm, () => {
    entry.forget();
    onDone();
  });
  const exposures = custom.exposures_s.trim()
    ? custom.exposures_s
        .trim()
        .split(/[\s;]+/)
        .map((part) => Number(part.replace(",", ".")))
    : [];
  const wrong = exposures.some((value) => !(value > 0));
  const isOwn = custom.kind === "own";
  const own = useGet("/api/own-coupons", isOwn ? {} : null, { select: (answer) => answer.items });
  const onPlate = custom.plate && custom.kind !== "grid" && !isOwn && calibration.several_exposures;
  const request: Plan = {
    kind: custom.kind,
    own_coupon: isOwn ? custom.own_coupon || null : null,
    exposures_s: exposures,
    thickness_mm: isOwn ? null : custom.thickness_mm,
    is_repeat: custom.is_repeat,
    way: onPlate ? "plate" : "separate",
    repeats: null,
  };
  const quote = useQuote([arm.id, "custom", request, arm.coupons.length], exposures.length > 0 && !wrong, () =>
    body(POST("/api/arms/{arm_id}/quote", { params: { path: { arm_id: arm.id } }, body: request })),
  );
  const { field, errors, elsewhere } = entry.checked(quote.error);
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
        if (priced && !quote.isPlaceholderData) plan.mutate(request);
      }}
    >
      <DraftNote entry={entry} />
      <div className="row g-2">
        <TextField
          className="col-12"
          label="Exposures, s"
          autoFocus
          autoComplete="off"
          placeholder="2.2 2.6 3.1"
          {...field("exposures_s")}
          error={problem}
        />
        <KindChoice kind={custom.kind} onKind={(kind) => set({ kind })} className="col-6" />
        {isOwn ? (
          <div className="col-6">
            <Choice
              label="Which"
              {...field("own_coupon")}
              options={(own.data ?? []).map((one) => [one.code, one.name] as const)}
            />
          </div>
        ) : (
          <NumberField className="col-6" label="Thickness" unit="mm" {...field("thickness_mm")} />
        )}
        {isOwn && own.data?.length === 0 && (
          <p className="col-12 mb-0">
            None is described yet: <Link to="/shelf/coupons/own/new">describe a coupon of your own</Link>.
          </p>
        )}
        <div className="col-12">
          <Form.Check
            id="custom-repeat"
            label="A repeat: supersedes earlier ones at its exposure"
            checked={custom.is_repeat}
            onChange={(event) => set({ is_repeat: event.target.checked })}
          />
          {calibration.several_exposures && custom.kind !== "grid" && !isOwn && (
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
      <Trouble error={elsewhere} className="mt-2" />
      <Button type="submit" className="w-100 mt-3" disabled={!priced || quote.isPlaceholderData || plan.isPending}>
        {planWords(priced)}
      </Button>
      <Trouble error={plan.error} className="mt-2" />
    </Form>
  );
}
