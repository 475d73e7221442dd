import { useRef, useState } from "react";
import Button from "react-bootstrap/Button";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { duration, millilitres, plural, THIN, temperatures, roughly } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { ArmDialog } from "./ArmDialog";
import { SecondOpinionDialog } from "../earlier/SecondOpinionDialog";
import { BuiltInStripDialog } from "./BuiltInStripDialog";
import { CampaignMenu, type CampaignDialog } from "./CampaignMenu";
import { CloseDialog } from "./CloseDialog";
import { ConfirmStage } from "./confirm/ConfirmStage";
import { CutOffsDialog } from "../../shared/CutOffsDialog";
import { DepthStage } from "./depth/DepthStage";
import { FirstLayerStage } from "./first-layer/FirstLayerStage";
import { LimitsDialog } from "./LimitsDialog";
import { type Arm, type Calibration, type Step } from "./model";
import { NotesDialog } from "./NotesDialog";
import { StripStage } from "./StripStage";
import { Trail } from "./Trail";
import { useCampaignPlace } from "./useCampaignPlace";
import "./calibrate.scss";
import { useGet } from "../../shared/api/useGet";

/** Steps with a page state of their own, without the exposure strip. */
const ALONE: Step[] = ["depth", "first-layer", "confirm"];

export default function CalibrationPage() {
  const { id = "" } = useParams();
  const query = useGet("/api/calibrations/{calibration_id}", { params: { path: { calibration_id: id } } });
  return (
    <Loaded page query={query}>
      {(held) => <Campaign calibration={held} />}
    </Loaded>
  );
}

function Campaign({ calibration }: { calibration: Calibration }) {
  const navigate = useNavigate();
  const say = useSay();
  const strip = useRef<HTMLElement>(null);
  const [search] = useSearchParams();
  // A remedy leads here to start another arm.
  const [dialog, setDialog] = useState<CampaignDialog | null>(search.get("open") === "arm" ? "arm" : null);
  const place = useCampaignPlace(calibration);
  const { arm, step, chosen, move, toStep } = place;
  usePageKeys([
    { keys: "← →", does: "move by one step" },
    ...(chosen !== null
      ? [
          { keys: "left", hotkey: "arrowleft", does: "", run: () => move(-1) },
          { keys: "right", hotkey: "arrowright", does: "", run: () => move(1) },
        ]
      : []),
    {
      keys: "r",
      does: "read next coupon",
      run: arm.to_read[0] ? () => void navigate(`/coupons/${arm.to_read[0]}`) : undefined,
    },
    { keys: "n", does: arm.from_prints ? "print parts" : "plan a coupon", run: () => toStep("refine") },
    { keys: "l", does: "limits", run: () => setDialog("limits") },
  ]);
  const reopen = useSend(
    (_: null) =>
      body(POST("/api/calibrations/{calibration_id}/reopen", { params: { path: { calibration_id: calibration.id } } })),
    () => say(`${calibration.code} is open again.`),
  );
  const sub = [
    calibration.code,
    calibration.bottle && `bottle ${calibration.bottle}`,
    band(calibration),
    spent(calibration),
    guessed(calibration),
  ];
  return (
    <>
      <PageHead title={`${calibration.material} on ${calibration.printer}, ${calibration.layer_height_um}${THIN}µm`}>
        <Trail stage={arm.stage} done={calibration.stages_done} step={step} onStep={toStep} />
      </PageHead>
      <div className="campaign-line">
        <span className="text-secondary me-auto">{sub.filter(Boolean).join(" · ")}</span>
        <Arms calibration={calibration} arm={arm} onArm={place.toArm} onStart={() => setDialog("arm")} />
        <CampaignMenu calibration={calibration} strip={strip} onDialog={setDialog} />
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
      {step === "depth" && <DepthStage calibration={calibration} onStep={toStep} />}
      {step === "first-layer" && <FirstLayerStage calibration={calibration} />}
      {step === "confirm" && <ConfirmStage calibration={calibration} arm={arm} chosen={chosen} onStep={toStep} />}
      {!ALONE.includes(step) && (
        <StripStage calibration={calibration} place={place} strip={strip} onDialog={setDialog} />
      )}
      {dialog === "limits" && <LimitsDialog calibration={calibration} onClose={() => setDialog(null)} />}
      {dialog === "cut-offs" && <CutOffsDialog onClose={() => setDialog(null)} />}
      {dialog === "arm" && (
        <ArmDialog
          calibration={calibration}
          from={arm}
          onClose={() => setDialog(null)}
          onStarted={(number) => place.toArm(number, true)}
        />
      )}
      {dialog === "opinion" && (
        <SecondOpinionDialog calibration={calibration.id} arm={arm.number} onClose={() => setDialog(null)} />
      )}
      {dialog === "strip" && <BuiltInStripDialog arm={arm} onClose={() => setDialog(null)} />}
      {dialog === "notes" && <NotesDialog calibration={calibration} onClose={() => setDialog(null)} />}
      {dialog === "close" && <CloseDialog calibration={calibration} onClose={() => setDialog(null)} />}
    </>
  );
}

function Arms({
  calibration,
  arm,
  onArm,
  onStart,
}: {
  calibration: Calibration;
  arm: Arm;
  onArm: (number: number) => void;
  onStart: () => void;
}) {
  if (calibration.arms.length < 2) return null;
  return (
    <div className="arms mb-0" role="group" aria-label="Arms: coupons that share every setting except exposure">
      {calibration.arms.map((one) => (
        <Button
          key={one.id}
          variant={one.id === arm.id ? "primary" : "quiet"}
          size="sm"
          aria-pressed={one.id === arm.id}
          onClick={() => onArm(one.number)}
        >
          {one.name} · {one.from_prints?.prints ?? one.coupons.length}
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

function spent({ arms, spent_ml, spent_s, whole_share }: Calibration): string {
  if (whole_share !== null) {
    const prints = arms.reduce((sum, one) => sum + (one.from_prints?.prints ?? 0), 0);
    return `by prints of parts alone, ${plural(prints, "print")}`;
  }
  const coupons = arms.reduce((sum, one) => sum + one.coupons.length, 0);
  return spent_s
    ? `${plural(coupons, "coupon")}, ${millilitres(spent_ml)}, ${duration(spent_s)}`
    : coupons
      ? `${plural(coupons, "coupon")} planned`
      : "nothing printed yet";
}

/** The guess kept when the campaign began, beside what it came to. */
function guessed({ guess, sets }: Calibration): string | null {
  if (!guess) return null;
  const words = `estimate ~${roughly(guess.exposure_s)}${THIN}s`;
  return sets[0] ? `${words}, came to ${sets[0].exposure_s}${THIN}s` : words;
}

const band = ({ temp_low_c, temp_high_c }: Calibration): string | null =>
  temp_low_c === null || temp_high_c === null ? null : temperatures(temp_low_c, temp_high_c);
