import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { exposure, percent, THIN } from "../../../shared/format";
import type { CampaignDialog } from "../CampaignMenu";
import type { Arm, Calibration } from "../model";
import { Notices } from "../Notices";
import { SettingsToType } from "../SettingsToType";

type Props = {
  calibration: Calibration;
  arm: Arm;
  onDialog: (name: CampaignDialog) => void;
  onDecide: () => void;
};

/** Where prints of parts alone show the window: which print to make next, or that there are enough. */
export function PrintsPanel({ calibration, arm, onDialog, onDecide }: Props) {
  const told = arm.from_prints;
  if (!told) return null;
  const { next } = told;
  const share = percent(calibration.whole_share ?? 0);
  const notices = [...told.notices, ...(arm.window?.warnings ?? [])];
  return (
    <>
      <h2>What now</h2>
      {next?.action === "print" && next.exposure_s !== null && (
        <>
          <p className="mb-1">Print parts at</p>
          <div className="next-number">
            {exposure(next.exposure_s, calibration.exposure_step_s)}
            <small className="fs-6">{THIN}s</small>
          </div>
          <p>{next.reason}</p>
          <Link className="btn btn-primary w-100" to={startOf(calibration, arm, next.exposure_s)}>
            Start this print
          </Link>
          <Link className="btn btn-link w-100 mb-2" to={`${startOf(calibration, arm, next.exposure_s)}&done`}>
            It came out already
          </Link>
          <SettingsToType calibration={calibration} arm={arm} />
        </>
      )}
      {next?.action === "review" && <p className="trouble">{next.reason}</p>}
      {next?.action === "decide" && (
        <>
          <p>{next.reason}</p>
          <Button className="w-100 mb-3" size="lg" onClick={onDecide}>
            Decide
          </Button>
        </>
      )}
      <p className="mb-2">
        {share} of parts should come out whole.{" "}
        <Button variant="link" className="p-0 align-baseline" onClick={() => onDialog("limits")}>
          Change
        </Button>
      </p>
      <Notices notices={notices} />
    </>
  );
}

/** The page where this print starts, with the settings of the arm. */
const startOf = (calibration: Calibration, arm: Arm, exposure_s: number) =>
  `/log/new?from=${calibration.code}&arm=${arm.number}&exposure=${exposure_s}`;
