import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import Button from "react-bootstrap/Button";
import Dropdown from "react-bootstrap/Dropdown";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { useSay } from "../../app/toasts";
import { body, GET, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { duration, millilitres, plural, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { markOf } from "../../shared/StateMark";
import { ExposureStrip } from "../../shared/strip/ExposureStrip";
import { saveDrawing } from "../../shared/plot/save";
import { ArmDialog } from "./ArmDialog";
import { ArmsPanel } from "./ArmsPanel";
import { CloseDialog } from "./CloseDialog";
import { ConfirmStage } from "./confirm/ConfirmStage";
import { DecidePanel } from "./DecidePanel";
import { DepthStage } from "./depth/DepthStage";
import { FirstLayerStage } from "./first-layer/FirstLayerStage";
import { IssuePanel } from "./IssuePanel";
import { LimitsDialog } from "./LimitsDialog";
import { STEPS, type Arm, type Calibration, type Step } from "./model";
import { NextPanel } from "./NextPanel";
import { NotesDialog } from "./NotesDialog";
import { Photos } from "./Photos";
import { PreparePanel } from "./PreparePanel";
import { Trail } from "./Trail";
import { Tray } from "./Tray";
import "./calibrate.scss";

/** Steps with a page state of their own, without the exposure strip. */
const ALONE: Step[] = ["depth", "first-layer", "confirm"];

export default function CalibrationPage() {
  const { id = "" } = useParams();
  const query = useQuery({
    queryKey: ["calibration", id],
    queryFn: () => body(GET("/api/calibrations/{calibration_id}", { params: { path: { calibration_id: id } } })),
  });
  return <Loaded query={query}>{(held) => <Campaign calibration={held} />}</Loaded>;
}

function Campaign({ calibration }: { calibration: Calibration }) {
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const say = useSay();
  const strip = useRef<HTMLElement>(null);
  const [dialog, setDialog] = useState<"limits" | "arm" | "close" | "notes" | null>(null);
  const arm = calibration.arms.find((one) => String(one.number) === search.get("arm")) ?? furthest(calibration.arms);
  const step = (STEPS.find((one) => one.path === search.get("step"))?.path ?? stepOf(arm.stage)) as Step;
  const result = arm.window;
  const policies = result?.policies ?? null;
  const wanted = search.get("policy") ?? (policies?.["size-true"] != null ? "size-true" : "centre");
  const offered = policies?.[wanted] ?? policies?.centre ?? null;
  const [byHand, setByHand] = useChosenByHand(search, setSearch);
  const chosen = policies && offered !== null ? (byHand ?? offered) : null;

  function go(changes: Record<string, string | null>) {
    const next = new URLSearchParams(search);
    for (const [name, value] of Object.entries(changes)) value === null ? next.delete(name) : next.set(name, value);
    // A step or an arm is a place to come back to; the rest refines the place one is at.
    setSearch(next, { replace: !("step" in changes || "arm" in changes) });
  }
  function choose(at: number) {
    const [low, high] = result?.ladder_s ?? [at, at];
    const inside = Math.min(Math.max(at, low), high);
    setByHand(Number(inside.toFixed(6)));
  }
  const move = (steps: number) => chosen !== null && choose(Math.round(chosen / calibration.exposure_step_s + steps) * calibration.exposure_step_s);
  const nextUnread = arm.to_read[0];
  usePageKeys([
    { keys: "← →", does: "move by one step" },
    ...(chosen !== null
      ? [
          { keys: "left", hotkey: "arrowleft", does: "", run: () => move(-1) },
          { keys: "right", hotkey: "arrowright", does: "", run: () => move(1) },
        ]
      : []),
    { keys: "r", does: "read next coupon", run: nextUnread ? () => void navigate(`/coupons/${nextUnread}`) : undefined },
    { keys: "n", does: "plan a coupon", run: () => go({ step: "refine" }) },
    { keys: "l", does: "limits", run: () => setDialog("limits") },
  ]);
  const reopen = useSend(
    (_: null) => body(POST("/api/calibrations/{calibration_id}/reopen", { params: { path: { calibration_id: calibration.id } } })),
    () => say(`${calibration.code} is open again.`),
  );
  const sub = [
    calibration.code,
    calibration.bottle && `bottle ${calibration.bottle}`,
    temperatures(calibration),
    spent(calibration),
    guessed(calibration),
  ];
  return (
    <>
      <PageHead title={`${calibration.material} on ${calibration.printer}, ${calibration.layer_height_um}${THIN}µm`}>
        <Trail stage={arm.stage} done={calibration.stages_done} step={step} onStep={(to) => go({ step: to })} />
      </PageHead>
      <div className="campaign-line">
        <span className="text-secondary me-auto">{sub.filter(Boolean).join(" · ")}</span>
        <Arms calibration={calibration} arm={arm} onArm={(number) => {
            setByHand(null);
            go({ arm: String(number), at: null, policy: null });
          }} onStart={() => setDialog("arm")} />
        <Dropdown>
          <Dropdown.Toggle variant="quiet" size="sm">
            More
          </Dropdown.Toggle>
          <Dropdown.Menu>
            <Dropdown.Item as="button" onClick={() => setDialog("limits")}>
              What the parts need…
            </Dropdown.Item>
            <Dropdown.Item as="button" onClick={() => void saveDrawing(strip.current, calibration.code, "svg")}>
              Save the strip as SVG
            </Dropdown.Item>
            <Dropdown.Item as="button" onClick={() => void saveDrawing(strip.current, calibration.code, "png")}>
              Save the strip as PNG
            </Dropdown.Item>
            {!calibration.closed_at && (
              <>
                <Dropdown.Item as="button" onClick={() => setDialog("notes")}>
                  Bottle, finish route, note…
                </Dropdown.Item>
                <Dropdown.Item as="button" onClick={() => setDialog("arm")}>
                  Start an arm with another setting…
                </Dropdown.Item>
                <Dropdown.Item as="button" onClick={() => setDialog("close")}>
                  Close this calibration…
                </Dropdown.Item>
              </>
            )}
          </Dropdown.Menu>
        </Dropdown>
      </div>
      {calibration.note && <p className="mb-2">{calibration.note}</p>}
      {calibration.closed_at && (
        <p className="caution d-flex flex-wrap gap-3 align-items-center">
          <span className="flex-grow-1">Closed: {calibration.closed_reason}</span>
          <Button size="sm" variant="outline-primary" onClick={() => reopen.mutate(null)}>
            Open again
          </Button>
        </p>
      )}
      {step === "depth" && <DepthStage calibration={calibration} />}
      {step === "first-layer" && <FirstLayerStage calibration={calibration} />}
      {step === "confirm" && <ConfirmStage calibration={calibration} arm={arm} chosen={chosen} onStep={(to) => go({ step: to })} />}
      {!ALONE.includes(step) && <div className="calibration">
        <div className="strip-place">
          <section className="panel" aria-label="Exposure" ref={strip}>
            <ExposureStrip
              result={result}
              limits={calibration.limits}
              marks={arm.coupons.map((coupon) => ({ code: coupon.code, kind: coupon.kind, exposure_s: coupon.effective_s, mark: markOf(coupon) }))}
              seen={arm.marks}
              range={[calibration.low_s, calibration.high_s]}
              step={calibration.exposure_step_s}
              chosen={chosen}
              onChoose={chosen === null ? undefined : choose}
              onMark={(code) => void navigate(`/coupons/${code}`)}
            />
          </section>
        </div>
        <aside className="panel next-place" aria-label={STEPS.find((one) => one.path === step)?.name}>
          {(step === "range" || step === "refine") && (
            <>
              <PreparePanel calibration={calibration} arm={arm} />
              <NextPanel calibration={calibration} arm={arm} />
            </>
          )}
          {step === "decide" && (
            <DecidePanel calibration={calibration} arm={arm} policy={wanted} chosen={chosen} onPolicy={(name) => {
                setByHand(null);
                go({ policy: name, at: null });
              }} onStep={(to) => go({ step: to })} />
          )}
          {step === "issue" && <IssuePanel key={arm.id} calibration={calibration} arm={arm} policy={chosen === offered ? wanted : "own choice"} chosen={chosen} onStep={(to) => go({ step: to })} />}
        </aside>
        <div className="tray-place">
          <Photos coupons={arm.coupons} step={calibration.exposure_step_s} />
          <Tray calibration={calibration} arm={arm} />
          <ArmsPanel calibration={calibration} />
        </div>
      </div>}
      {dialog === "limits" && <LimitsDialog calibration={calibration} onClose={() => setDialog(null)} />}
      {dialog === "arm" && <ArmDialog calibration={calibration} from={arm} onClose={() => setDialog(null)} onStarted={(number) => {
            setByHand(null);
            go({ arm: String(number), at: null, policy: null, step: null });
          }} />}
      {dialog === "notes" && <NotesDialog calibration={calibration} onClose={() => setDialog(null)} />}
      {dialog === "close" && <CloseDialog calibration={calibration} onClose={() => setDialog(null)} />}
    </>
  );
}

function Arms({ calibration, arm, onArm, onStart }: { calibration: Calibration; arm: Arm; onArm: (number: number) => void; onStart: () => void }) {
  if (calibration.arms.length < 2) return null;
  return (
    <div className="arms mb-0" role="group" aria-label="Arms: coupons that share every setting except exposure">
      {calibration.arms.map((one) => (
        <Button key={one.id} variant={one.id === arm.id ? "primary" : "quiet"} size="sm" aria-pressed={one.id === arm.id} onClick={() => onArm(one.number)}>
          {one.name} · {one.coupons.length}
        </Button>
      ))}
      {!calibration.closed_at && (
        <Button variant="link" size="sm" onClick={onStart}>
          Another arm…
        </Button>
      )}
    </div>
  );
}

/** The exposure moved by hand: at once on screen, in the address when the hand rests, so that no key press is lost. */
function useChosenByHand(search: URLSearchParams, setSearch: (next: URLSearchParams, options: { replace: boolean }) => void) {
  const inAddress = search.get("at");
  const [byHand, setByHand] = useState<number | null>(inAddress ? Number(inAddress) : null);
  useEffect(() => {
    if (byHand === null || String(byHand) === inAddress) return;
    const timer = setTimeout(() => {
      // From the address as it is by now: a step taken meanwhile must not be taken back.
      const next = new URLSearchParams(window.location.search);
      next.set("at", String(byHand));
      setSearch(next, { replace: true });
    }, 250);
    return () => clearTimeout(timer);
  }, [byHand, inAddress, search, setSearch]);
  return [byHand, setByHand] as const;
}

function furthest(arms: Arm[]): Arm {
  const order = ["range", "refine", "decide", "issued"];
  return arms.reduce((best, one) => (order.indexOf(one.stage) > order.indexOf(best.stage) ? one : best), arms[0]!);
}

function stepOf(stage: Arm["stage"]): Step {
  return stage === "issued" ? "issue" : stage;
}

function spent({ arms, spent_ml, spent_s }: Calibration): string {
  const coupons = arms.reduce((sum, one) => sum + one.coupons.length, 0);
  return spent_s ? `${plural(coupons, "coupon")}, ${millilitres(spent_ml)}, ${duration(spent_s)}` : coupons ? `${plural(coupons, "coupon")} planned` : "nothing printed yet";
}

/** The guess kept when the campaign began, beside what it came to. */
function guessed({ guess, sets }: Calibration): string | null {
  if (!guess) return null;
  const said = `guess ~${Number(guess.exposure_s.toPrecision(2))}${THIN}s`;
  return sets.length ? `${said}, came to ${sets[0]!.exposure_s}${THIN}s` : said;
}

function temperatures({ temp_low_c, temp_high_c }: Calibration): string | null {
  if (temp_low_c === null || temp_high_c === null) return null;
  return temp_low_c === temp_high_c ? `${temp_low_c}${THIN}°C` : `${temp_low_c}–${temp_high_c}${THIN}°C`;
}

