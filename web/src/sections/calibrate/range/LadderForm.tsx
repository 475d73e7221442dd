import { useEffect } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { body, POST, type Schemas } from "../../../shared/api/client";
import { Choice } from "../../../shared/fields/Choice";
import { NumberField } from "../../../shared/fields/NumberField";
import { Loaded } from "../../../shared/Loading";
import { Trouble } from "../../../shared/Trouble";
import { DraftNote } from "../../../shared/fields/DraftNote";
import { useEntry } from "../../../shared/fields/useEntry";
import type { Arm, Calibration } from "../model";
import { KindChoice } from "./KindChoice";
import { type Kind, usePlan, useQuote, type Way } from "./plan";
import { planWords, QuoteCard } from "./QuoteCard";
import { SourceChoice } from "./SourceChoice";
import { WayChoice } from "./WayChoice";
import { useGet } from "../../../shared/api/useGet";

type Ladder = {
  low_s: number | null;
  high_s: number | null;
  count: number | null;
  spacing: "geometric" | "linear";
  kind: Kind;
  thickness_mm: number | null;
  way: Way;
  repeats: number | null;
};

const SPACINGS = [
  ["geometric", "equal ratio"],
  ["linear", "equal seconds"],
] as const;

/** Says what the ladder would print, and nothing when it is gone. */
type OnLadder = (exposures_s: number[]) => void;

/** A first ladder: where its range comes from, how it is printed, and what it costs. */
export function LadderForm({ calibration, arm, onLadder }: { calibration: Calibration; arm: Arm; onLadder: OnLadder }) {
  const sources = useGet("/api/calibrations/{calibration_id}/sources", {
    params: { path: { calibration_id: calibration.id }, query: { arm: arm.number } },
  });
  return (
    <Loaded query={sources}>
      {(held) => <Fields key={arm.id} calibration={calibration} arm={arm} sources={held} onLadder={onLadder} />}
    </Loaded>
  );
}

function Fields({
  calibration,
  arm,
  sources,
  onLadder,
}: {
  calibration: Calibration;
  arm: Arm;
  sources: Schemas["SourcesView"];
  onLadder: OnLadder;
}) {
  const first: Ladder = {
    low_s: arm.range_s[0],
    high_s: arm.range_s[1],
    count: 5,
    spacing: "geometric",
    kind: "flat",
    thickness_mm: null,
    way: "separate",
    repeats: null,
  };
  const entry = useEntry<Ladder>(first, `ladder.${arm.id}`);
  const { values: ladder, set } = entry;
  const plan = usePlan(arm, entry.forget);
  const strip = ladder.way === "strip";
  const request = {
    ...ladder,
    low_s: ladder.low_s ?? 0,
    high_s: ladder.high_s ?? 0,
    count: ladder.count ?? 0,
    thickness_mm: strip ? null : ladder.thickness_mm,
    repeats: ladder.way === "plate" ? ladder.repeats : null,
  };
  const ready = ladder.low_s !== null && ladder.high_s !== null && ladder.count !== null;
  const quote = useQuote([arm.id, request, arm.coupons.length], ready, () =>
    body(POST("/api/arms/{arm_id}/quote-ladder", { params: { path: { arm_id: arm.id } }, body: request })),
  );
  const { field, errors, elsewhere } = entry.checked(quote.error);
  const priced = quote.error ? undefined : quote.data;
  const exposures = priced ? [...new Set(priced.coupons.map((one) => one.exposure_s))].sort((a, b) => a - b) : [];
  const shown = exposures.join(" ");
  useEffect(() => {
    onLadder(shown ? shown.split(" ").map(Number) : []);
    return () => onLadder([]);
  }, [shown, onLadder]);
  return (
    <Form
      noValidate
      aria-label="Find the range"
      onSubmit={(event) => {
        event.preventDefault();
        if (priced && ready && !quote.isPlaceholderData)
          plan.mutate({
            kind: strip ? "strip" : ladder.kind,
            own_coupon: null,
            exposures_s: exposures,
            thickness_mm: request.thickness_mm,
            is_repeat: false,
            way: ladder.way,
            repeats: request.repeats,
          });
      }}
    >
      <h2>Find the range</h2>
      <DraftNote entry={entry} />
      <p className="text-secondary">
        Print the fast coupon at deliberately distant exposures, to see both failures; then close in.
      </p>
      {arm.range_from && <p>Filled in: around what looked right in “{arm.range_from}”.</p>}
      <SourceChoice calibration={calibration} sources={sources} onRange={(low_s, high_s) => set({ low_s, high_s })} />
      <WayChoice
        ways={sources.ways}
        way={ladder.way}
        onWay={(way) => set({ way, count: way === "strip" ? 7 : way === "plate" ? 4 : 5 })}
      />
      {strip && (
        <p className="caution">
          With the lift suppressed nothing may be printed normally afterwards until the lift is back on. Setback asks
          for it.
        </p>
      )}
      <div className="row g-2">
        <NumberField className="col-6" label="Lowest" unit="s" {...field("low_s")} />
        <NumberField className="col-6" label="Highest" unit="s" {...field("high_s")} />
        <NumberField
          className="col-6"
          label={strip ? "Areas" : "Coupons"}
          {...field("count")}
          error={errors.count ?? errors.exposures_s}
        />
        <div className="col-6">
          <Choice label="Steps" {...field("spacing")} options={SPACINGS} />
        </div>
        {!strip && (
          <>
            <KindChoice
              kind={ladder.kind}
              onKind={(kind) => set({ kind })}
              className="col-6"
              without={["grid", "own"]}
            />
            <NumberField
              className="col-6"
              label="Thickness"
              unit="mm"
              {...field("thickness_mm")}
              hint={priced ? `default: ${priced.thickness_mm.toFixed(2)}` : undefined}
            />
          </>
        )}
        {ladder.way === "plate" && (
          <NumberField
            className="col-6"
            label="Each how often"
            {...field("repeats")}
            hint={priced?.plate && ladder.repeats === null ? `as fits: ${priced.plate.repeats}` : undefined}
          />
        )}
      </div>
      <QuoteCard quote={priced} step={calibration.exposure_step_s} />
      <Trouble error={errors.exposures_s ? null : elsewhere} className="mt-2" />
      <Button type="submit" className="w-100 mt-3" disabled={!priced || quote.isPlaceholderData || plan.isPending}>
        {planWords(priced)}
      </Button>
      <Trouble error={plan.error} className="mt-2" />
    </Form>
  );
}
