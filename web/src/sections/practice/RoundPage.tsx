import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { useTechnician } from "../../app/people/technician";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { CouponDrawing, featureLabel, type Plan, type States } from "../../shared/coupon/CouponDrawing";
import { NumberField } from "../../shared/fields/NumberField";
import { exposure, percent, plural, signed, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { useKept } from "../../shared/useKept";
import { type Draft, emptyDraft, toInput } from "../reading/draft";
import { MarkDrawing } from "../reading/MarkDrawing";
import { MarkFields } from "../reading/MarkFields";
import { useMarking } from "../reading/marking";
import { levelName } from "./tabs";
import "../reading/reading.scss";
import "./practice.scss";

type Round = Schemas["RoundView"];
type Hidden = Schemas["PracticeCouponView"];
type Call = NonNullable<Schemas["PracticeInput"]["verdict"]>;
const CALLS: [Call, string][] = [
  ["under", "under"],
  ["right", "right"],
  ["over", "over"],
];

/** One round: the coupon to read, and those that were read with their truth over the marks. */
export default function RoundPage() {
  const { id = "" } = useParams();
  const query = useGet("/api/practice/rounds/{round_id}", { params: { path: { round_id: id } } });
  return (
    <Loaded page query={query}>
      {(round) => <RoundOf key={round.id} round={round} />}
    </Loaded>
  );
}

function RoundOf({ round }: { round: Round }) {
  // The truth of a coupon is looked at before the next one is taken.
  const [looking, setLooking] = useState<number | null>(null);
  const read = round.coupons.filter((one) => one.score);
  const waiting = round.coupons.find((one) => !one.score);
  const shown = looking === null ? undefined : read.find((one) => one.place === looking);
  return (
    <>
      <PageHead
        title={`Practice, ${levelName(round.level).toLowerCase()}`}
        sub={`${round.initials} · ${shown ? `coupon ${shown.place} with its truth` : waiting ? `coupon ${waiting.place} of ${round.of}` : "finished"}`}
      >
        <Link className="btn btn-quiet" to="/practice">
          All practice
        </Link>
      </PageHead>
      {shown ? (
        <Truth round={round} coupon={shown}>
          {waiting ? (
            <Button size="lg" onClick={() => setLooking(null)}>
              Coupon {waiting.place}, at {exposure(waiting.exposure_s, round.exposure_step_s)}
              {THIN}s
            </Button>
          ) : (
            <Button size="lg" onClick={() => setLooking(null)}>
              How the round went
            </Button>
          )}
        </Truth>
      ) : waiting ? (
        <HiddenCoupon key={waiting.id} round={round} coupon={waiting} onRead={() => setLooking(waiting.place)} />
      ) : (
        <Finished round={round} onLook={setLooking} />
      )}
    </>
  );
}

const pictureOf = (coupon: Hidden) => ({
  href: `/api/practice/coupons/${coupon.id}/picture`,
  marginMm: coupon.margin_mm,
  unsure: new Set<string>(),
});

/** Mark, count, call, choose the next exposure. */
function HiddenCoupon({ round, coupon, onRead }: { round: Round; coupon: Hidden; onRead: () => void }) {
  const { plan } = round;
  const { initials } = useTechnician();
  const [draft, setDraft, forget] = useKept<Draft>(`practice.${coupon.id}`, emptyDraft());
  const [call, setCall] = useState<Call | null>(null);
  const [next, setNext] = useState<number | null>(null);
  const bare: Plan = { ...plan, features: plan.features.filter((one) => isPractised(one.kind)) };
  const marking = useMarking(bare, draft, setDraft);
  const features = toInput(draft, bare, null).features;
  const save = useSend(
    (_: null, headers) =>
      body(
        POST("/api/practice/coupons/{practice_coupon_id}/reading", {
          params: { path: { practice_coupon_id: coupon.id } },
          body: { features, verdict: call, next_s: next },
          headers,
        }),
      ),
    () => {
      forget();
      onRead();
    },
  );
  const others = initials !== null && initials !== round.initials;
  const submit = () => {
    if (!marking.stop && !others && features.length && !save.isPending) save.mutate(null);
  };
  usePageKeys([{ keys: "Ctrl Enter", hotkey: "ctrl+enter", does: "check against the truth", run: submit }]);
  const errors = save.error?.fields ?? {};
  return (
    <div className="reading">
      <MarkDrawing plan={bare} draft={draft} marking={marking} code="" exposure="" picture={pictureOf(coupon)} />
      <aside className="panel entry" aria-label="Reading">
        <p>
          Printed at{" "}
          <strong className="num">
            {exposure(coupon.exposure_s, round.exposure_step_s)}
            {THIN}s
          </strong>
          . Right means: edges within {round.right_um}
          {THIN}µm of where they are drawn.
        </p>
        <MarkFields plan={bare} draft={draft} onDraft={setDraft} marking={marking} errors={{}} />
        <fieldset className="mb-3">
          <legend className="form-label">This coupon is</legend>
          <div className="btn-group w-100" role="group" aria-label="This coupon is">
            {CALLS.map(([value, word]) => (
              <Button
                key={value}
                variant={call === value ? "primary" : "quiet"}
                aria-pressed={call === value}
                onClick={() => setCall(value)}
              >
                {word}
              </Button>
            ))}
          </div>
          {errors.verdict && <p className="trouble mb-0">{errors.verdict}</p>}
        </fieldset>
        <NumberField
          label="Next exposure"
          unit="s"
          value={next}
          onChange={setNext}
          error={errors.next_s}
          hint="the same again, where it is right"
          className="mb-3"
        />
        {others && (
          <p className="caution">
            This is the round of {round.initials}: only they can read it. Begin one of your own.
          </p>
        )}
        <Trouble error={errors.verdict || errors.next_s ? null : save.error} className="mb-2" />
        <Button
          ref={marking.saveButton}
          size="lg"
          className="w-100"
          disabled={others || !features.length || marking.stop || save.isPending}
          onClick={submit}
        >
          {save.isPending ? "Printing the next coupon…" : "Check against the truth"}
        </Button>
      </aside>
    </div>
  );
}

const isPractised = (kind: string) => kind === "wall" || kind === "slot" || kind === "taper";

/** The truth over the marks: what was read otherwise is ringed, and everything is in words beside it. */
function Truth({ round, coupon, children }: { round: Round; coupon: Hidden; children: React.ReactNode }) {
  const { score, truth, right_s, growth_um } = coupon;
  if (!score || !truth || right_s === null || growth_um === null) return null;
  const wrong = new Set(score.wrong.map((mark) => mark.key));
  const features = new Map(round.plan.features.map((one) => [one.key, one]));
  const states: States = Object.fromEntries(Object.entries(truth).filter(([key]) => features.has(key)));
  return (
    <div className="reading">
      <div className="plan round-picture">
        <CouponDrawing
          plan={round.plan}
          states={states}
          label={`The truth of coupon ${coupon.place}`}
          picture={{ ...pictureOf(coupon), unsure: wrong }}
        />
      </div>
      <aside className="panel entry" aria-label="How it was read">
        <h2>
          {score.call === score.true_call
            ? `Rightly called ${score.call}`
            : `Called ${score.call}, it is ${score.true_call}`}
        </h2>
        <p>
          Edges have grown by{" "}
          {growth_um < -500 ? "so little that the bars washed away" : `${signed(growth_um)}${THIN}µm`}. Right for this
          resin is {right_s.toFixed(2)}
          {THIN}s: {exposure(score.next_s, round.exposure_step_s)}
          {THIN}s lies {percent(Math.abs(score.next_off_pct) / 100)} {score.next_off_pct < 0 ? "below" : "above"} it
          {score.nearer ? "." : ", further away than this coupon."}
        </p>
        <p>
          {plural(score.marks - score.wrong.length, "mark")} of {score.marks} read as they are.
          {score.wall_bias_um !== null && ` Thinnest wall ${signed(score.wall_bias_um)}${THIN}µm off.`}
          {score.slot_bias_um !== null && ` Narrowest slot ${signed(score.slot_bias_um)}${THIN}µm off.`}
          {score.plug_bias_um !== null && ` Growth by the plug ${signed(score.plug_bias_um, 1)}${THIN}µm off.`}
        </p>
        {score.wrong.length > 0 && (
          <>
            <h3>Read otherwise than they are</h3>
            <ul>
              {score.wrong.map((mark) => {
                const feature = features.get(mark.key);
                return feature ? (
                  <li key={mark.key}>
                    {featureLabel(feature, mark.truth)}; read: {featureLabel(feature, mark.read).split(": ").at(-1)}
                  </li>
                ) : null;
              })}
            </ul>
          </>
        )}
        {children}
      </aside>
    </div>
  );
}

function Finished({ round, onLook }: { round: Round; onLook: (place: number) => void }) {
  const called = round.coupons.filter((one) => one.score?.call === one.score?.true_call).length;
  const last = round.coupons.at(-1)?.score;
  return (
    <section className="panel" aria-label="How the round went">
      <h2>
        {called} of {round.coupons.length} called as they are
      </h2>
      {last && (
        <p>
          The last exposure you chose lies {percent(Math.abs(last.next_off_pct) / 100)}{" "}
          {last.next_off_pct < 0 ? "below" : "above"} the right one.
        </p>
      )}
      <ul className="list-unstyled d-grid gap-2">
        {round.coupons.map((one) => (
          <li key={one.id}>
            <Button variant="quiet" onClick={() => onLook(one.place)}>
              Coupon {one.place}, {exposure(one.exposure_s, round.exposure_step_s)}
              {THIN}s: called {one.score?.call}
              {one.score?.call === one.score?.true_call ? "" : `, is ${one.score?.true_call}`};{" "}
              {plural(one.score?.wrong.length ?? 0, "mark")} otherwise
            </Button>
          </li>
        ))}
      </ul>
      <Link className="btn btn-primary" to="/practice">
        Another round
      </Link>
    </section>
  );
}
