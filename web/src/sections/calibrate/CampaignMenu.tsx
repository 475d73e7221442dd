import type { RefObject } from "react";
import Dropdown from "react-bootstrap/Dropdown";
import { Link } from "react-router";
import { saveDrawing } from "../../shared/plot/save";
import type { Calibration } from "./model";

export type CampaignDialog = "limits" | "arm" | "close" | "notes" | "cut-offs" | "strip" | "opinion";

/** What is done rarely with a campaign. */
export function CampaignMenu({
  calibration,
  strip,
  onDialog,
}: {
  calibration: Calibration;
  strip: RefObject<HTMLElement | null>;
  onDialog: (name: CampaignDialog) => void;
}) {
  const open: [CampaignDialog, string][] = [
    ["notes", "Bottle, finish route, note…"],
    ["strip", "The printer’s own strip…"],
    ["arm", "Start an arm with another setting…"],
    ["close", "Close this calibration…"],
  ];
  return (
    <Dropdown>
      <Dropdown.Toggle variant="quiet" size="sm">
        More
      </Dropdown.Toggle>
      <Dropdown.Menu>
        <Dropdown.Item as="button" onClick={() => onDialog("limits")}>
          What the parts need…
        </Dropdown.Item>
        <Dropdown.Item as="button" onClick={() => onDialog("cut-offs")}>
          How sure an offer must be…
        </Dropdown.Item>
        <Dropdown.Item as="button" onClick={() => onDialog("opinion")}>
          A second opinion…
        </Dropdown.Item>
        <Dropdown.Item as={Link} to={`/calibrate/${calibration.code}/pictures`}>
          Coupons as pictures
        </Dropdown.Item>
        {(["svg", "png"] as const).map((kind) => (
          <Dropdown.Item key={kind} as="button" onClick={() => void saveDrawing(strip.current, calibration.code, kind)}>
            Save the strip as {kind.toUpperCase()}
          </Dropdown.Item>
        ))}
        {!calibration.closed_at &&
          open.map(([name, words]) => (
            <Dropdown.Item key={name} as="button" onClick={() => onDialog(name)}>
              {words}
            </Dropdown.Item>
          ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}
