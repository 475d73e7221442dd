import { useEffect } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { body, POST, type Schemas } from "../../../shared/api/client";
import { NumberField } from "../../../shared/fields/NumberField";
import { Loaded } from "../../../shared/Loading";
import { Trouble } from "../../../shared/Trouble";
import { useKept } from "../../../shared/useKept";
import type { Arm, Calibration } from "../model";
import { KindChoice } from "./KindChoice";
import { type Kind, usePlan, useQuote, type Way } from "./plan";
import { planWords, QuoteCard } from "./QuoteCard";
import { SourceChoice } from "./SourceChoice";
import { WayChoice } from "./WayChoice";
import { useGet } from "../../../shared/api/useGet";

type Ladder = {
  low: number | null;
  high: number | null;
  count: number | null;
  spacing: "geometric" | "linear";
  kind: Kind;
  thickness: number | null;
  way: Way;
  repeats: number | null;
};

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
    low: arm.range_s[0],
    high: arm.range_s[1],
    count: 5,
    spacing: "geometric",
    kind: "flat",
    thickness: null,
    way: "separate",
    repeats: null,
  };
  const [ladder, setLadder, forget] = useKept<Ladder>(`ladder.${arm.id}`, first);
  const set = (changes: Partial<Ladder>) => setLadder((held) => ({ ...held, ...changes }));
  const plan = usePlan(arm, forget);
  const strip = ladder.way === "strip";
  const given = {
    low_s: ladder.low ?? 0,
    high_s: ladder.high ?? 0,
    count: ladder.count ?? 0,
    spacing: ladder.spacing,
    kind: ladder.kind,
    thickness_mm: strip ? null : ladder.thickness,
    way: ladder.way,
    repeats: ladder.way === "plate" ? ladder.repeats : null,
  };
  const ready = ladder.low !== null && ladder.high !== null && ladder.count !== null;
  const quote = useQuote([arm.id, given, arm.coupons.length], ready, () =>
    body(POST("/api/arms/{arm_id}/quote-ladder", { params: { path: { arm_id: arm.id } }, body: given })),
  );
  const errors = quote.error?.fields ?? {};
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
            exposures_s: exposures,
            thickness_mm: given.thickness_mm,
            is_repeat: false,
            way: ladder.way,
            repeats: given.repeats,
          });
      }}
    >
      <h2>Find the range</h2>
      <p className="text-secondary">
        Print the fast coupon at deliberately distant exposures, to see both failures; then close in.
      </p>
      {arm.range_from && <p>Filled in: around what looked right in “{arm.range_from}”.</p>}
      <SourceChoice calibration={calibration} sources={sources} onRange={(low, high) => set({ low, high })} />
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
        <NumberField
          className="col-6"
          label="Lowest"
          unit="s"
          value={ladder.low}
          onChange={(low) => set({ low })}
          error={errors.low_s}
        />
        <NumberField
          className="col-6"
          label="Highest"
          unit="s"
          value={ladder.high}
          onChange={(high) => set({ high })}
          error={errors.high_s}
        />
        <NumberField
          className="col-6"
          label={strip ? "Areas" : "Coupons"}
          value={ladder.count}
          onChange={(count) => set({ count })}
          error={errors.count ?? errors.exposures_s}
        />
        <Form.Group className="col-6" controlId="ladder-spacing">
          <Form.Label>Steps</Form.Label>
          <Form.Select value={ladder.spacing} onChange={(event) => set({ spacing: event.target.value as "geometric" })}>
            <option value="geometric">equal ratio</option>
            <option value="linear">equal seconds</option>
          </Form.Select>
        </Form.Group>
        {!strip && (
          <>
            <KindChoice kind={ladder.kind} onKind={(kind) => set({ kind })} className="col-6" without={["grid"]} />
            <NumberField
              className="col-6"
              label="Thickness"
              unit="mm"
              value={ladder.thickness}
              onChange={(thickness) => set({ thickness })}
              error={errors.thickness_mm}
              hint={priced ? `own: ${priced.thickness_mm.toFixed(2)}` : undefined}
            />
          </>
        )}
        {ladder.way === "plate" && (
          <NumberField
            className="col-6"
            label="Each how often"
            value={ladder.repeats}
            onChange={(repeats) => set({ repeats })}
            error={errors.repeats}
            hint={priced?.plate && ladder.repeats === null ? `as fits: ${priced.plate.repeats}` : undefined}
          />
        )}
      </div>
      <QuoteCard quote={priced} step={calibration.exposure_step_s} />
      <Trouble
        error={
          quote.error &&
          !["low_s", "high_s", "count", "exposures_s", "thickness_mm", "repeats"].some((name) => errors[name])
            ? quote.error
            : null
        }
        className="mt-2"
      />
      <Button type="submit" className="w-100 mt-3" disabled={!priced || quote.isPlaceholderData || plan.isPending}>
        {planWords(priced)}
      </Button>
      <Trouble error={plan.error} className="mt-2" />
    </Form>
  );
}
