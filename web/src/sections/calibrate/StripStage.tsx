import { type Ref, useState } from "react";
import { useNavigate } from "react-router";
import { useGet } from "../../shared/api/useGet";
import { markOf } from "../../shared/StateMark";
import { ExposureStrip } from "../../shared/strip/ExposureStrip";
import type { CampaignDialog } from "./CampaignMenu";
import { ArmsPanel } from "./ArmsPanel";
import { DecidePanel } from "./DecidePanel";
import { IssuePanel } from "./IssuePanel";
import { type Arm, STEPS, type Calibration } from "./model";
import { NextPanel } from "./NextPanel";
import { SeedOfLooks } from "./OneLook";
import { Photos } from "./Photos";
import { PreparePanel } from "./PreparePanel";
import { PrintsPanel } from "./from-prints/PrintsPanel";
import { TriedExposures } from "./from-prints/TriedExposures";
import { Tray } from "./Tray";
import type { CampaignPlace } from "./useCampaignPlace";

/** What the advice would print next and nobody has planned. */
function proposedIn(arm: Arm): number[] {
  const ofParts = arm.from_prints?.next?.exposure_s;
  if (ofParts != null) return [ofParts];
  const waiting = arm.to_print.length + arm.to_read.length > 0;
  return waiting ? [] : (arm.next?.exposures_s ?? []);
}

type Props = {
  calibration: Calibration;
  place: CampaignPlace;
  strip: Ref<HTMLElement>;
  onDialog: (name: CampaignDialog) => void;
};

/** Range, refine, decide, issue: the strip, what to do beside it, the coupons below. */
export function StripStage({ calibration, place, strip, onDialog }: Props) {
  const navigate = useNavigate();
  const { arm, step, chosen, toStep } = place;
  const [ladder, setLadder] = useState<number[]>([]);
  const { material_id, printer_id, layer_height_um } = calibration;
  const restsOnPrints = arm.from_prints !== null;
  const ofPair = useGet(
    "/api/materials/{material_id}/print-evidence",
    restsOnPrints
      ? null
      : { params: { path: { material_id }, query: { printer: printer_id, layer_height_um, target: 0.95 } } },
  ).data?.success;
  const prints = arm.from_prints ? arm.from_prints.success : ofPair;
  const printing = step === "range" || step === "refine";
  return (
    <div className="calibration">
      <div className="strip-place">
        <section className="panel" aria-label="Exposure" ref={strip}>
          <ExposureStrip
            result={arm.window}
            marks={arm.coupons.map((coupon) => ({
              code: coupon.code,
              kind: coupon.kind,
              exposure_s: coupon.effective_s,
              mark: markOf(coupon),
            }))}
            seen={arm.marks}
            prints={prints}
            alone={restsOnPrints}
            proposed={printing ? [...new Set([...ladder, ...proposedIn(arm)])] : []}
            range={[calibration.low_s, calibration.high_s]}
            step={calibration.exposure_step_s}
            chosen={chosen}
            onChoose={chosen === null ? undefined : place.choose}
            onMark={(code) => void navigate(`/coupons/${code}`)}
          />
        </section>
      </div>
      <aside className="panel next-place" aria-label={STEPS.find((one) => one.path === step)?.name}>
        {printing && restsOnPrints && (
          <PrintsPanel calibration={calibration} arm={arm} onDialog={onDialog} onDecide={() => toStep("decide")} />
        )}
        {printing && !restsOnPrints && (
          <>
            <PreparePanel calibration={calibration} arm={arm} />
            <SeedOfLooks calibration={calibration} arm={arm} />
            <NextPanel
              calibration={calibration}
              arm={arm}
              onDialog={onDialog}
              onLadder={setLadder}
              onDecide={() => toStep("decide")}
            />
          </>
        )}
        {step === "decide" && (
          <DecidePanel
            calibration={calibration}
            arm={arm}
            policy={place.policy}
            chosen={chosen}
            onPolicy={place.toPolicy}
            onChoose={place.choose}
            onStep={toStep}
            onDialog={onDialog}
          />
        )}
        {step === "issue" && (
          <IssuePanel
            key={arm.id}
            calibration={calibration}
            arm={arm}
            policy={place.reasoned}
            chosen={chosen}
            onStep={toStep}
          />
        )}
      </aside>
      <div className="tray-place">
        <Photos coupons={arm.coupons} step={calibration.exposure_step_s} />
        {restsOnPrints ? (
          <TriedExposures calibration={calibration} arm={arm} />
        ) : (
          <Tray calibration={calibration} arm={arm} />
        )}
        <ArmsPanel calibration={calibration} />
      </div>
    </div>
  );
}
