import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { FileLinks } from "../../shared/coupon/FileLinks";
import { plural } from "../../shared/format";
import type { Arm, Calibration } from "./model";
import type { CampaignDialog } from "./CampaignMenu";
import { ConflictNote } from "./ConflictNote";
import { Evidence } from "./Evidence";
import { CustomForm } from "./range/CustomForm";
import { LadderForm } from "./range/LadderForm";
import { SettingsToType } from "./SettingsToType";
import { Suggestion } from "./Suggestion";

/** What to print or read next, and what it costs. */
export function NextPanel({
  calibration,
  arm,
  onDialog,
  onLadder,
  onDecide,
}: {
  calibration: Calibration;
  arm: Arm;
  onDialog: (name: CampaignDialog) => void;
  onLadder: (exposures_s: number[]) => void;
  onDecide: () => void;
}) {
  const [custom, setCustom] = useState(false);
  const closed = Boolean(calibration.closed_at);
  // A strip only seeds: after it the range is still to be found.
  const fresh = arm.coupons.every((card) => card.way === "strip");
  const planned = arm.coupons.filter((card) => card.status === "planned");
  const alone = planned.length === 1 && planned[0]?.way === "separate" ? planned[0] : null;
  const waiting = arm.to_read.length + arm.to_print.length > 0;
  if (!arm.coupons.length && closed) return <p className="mb-0">Nothing was printed in this arm.</p>;
  return (
    <>
      {(!fresh || waiting) && <h2>What now</h2>}
      {arm.to_read.length > 0 && (
        <div className="mb-3">
          <p className="mb-2">
            {plural(arm.to_read.length, "coupon")} printed and not read. Wash, dry and cure first: an uncured reading is
            provisional.
          </p>
          <Link className="btn btn-primary w-100" to={`/coupons/${arm.to_read[0]}`}>
            Read {arm.to_read[0]}
          </Link>
        </div>
      )}
      {arm.to_print.length > 0 && calibration.simulated && (
        <p>{plural(arm.to_print.length, "coupon")} to print: the simulated printer does it, from the tray.</p>
      )}
      {arm.to_print.length > 0 && !calibration.simulated && (
        <>
          <p className="caution">
            {plural(arm.to_print.length, "coupon")} to print. Gloves and eye protection; vat level, plate clean, bottle
            shaken. Mark each in the tray when it is out.
          </p>
          <div className="mb-3">
            <span className="form-label d-block">
              {arm.to_print.length > 1 ? `All ${arm.to_print.length} as a ZIP` : `Files of ${arm.to_print[0]}`}
            </span>
            <FileLinks
              name={arm.to_print.length > 1 ? plural(arm.to_print.length, "coupon") : `coupon ${arm.to_print[0]}`}
              href={(format) =>
                alone
                  ? `/api/coupons/${alone.code}/file?format=${format}`
                  : `/api/calibrations/${calibration.id}/files-to-print?arm=${arm.number}&format=${format}`
              }
            />
          </div>
          <SettingsToType calibration={calibration} arm={arm} />
        </>
      )}
      {fresh && !closed && <LadderForm calibration={calibration} arm={arm} onLadder={onLadder} />}
      {arm.range_only && <p className="trouble">{arm.range_only}</p>}
      <ConflictNote calibration={calibration} arm={arm} onDialog={onDialog} />
      {!fresh && !waiting && arm.next && !arm.window?.conflict && (
        <Suggestion next={arm.next} calibration={calibration} arm={arm} onDecide={onDecide} />
      )}
      <Evidence arm={arm} />
      {!closed && (
        <>
          <Button variant="link" aria-expanded={custom} onClick={() => setCustom(!custom)}>
            {custom ? "Close" : "Plan other coupons…"}
          </Button>
          {custom && <CustomForm calibration={calibration} arm={arm} onDone={() => setCustom(false)} />}
        </>
      )}
    </>
  );
}
