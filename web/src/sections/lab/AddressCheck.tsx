import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";
import { useTechnician } from "../../app/people/technician";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { moment } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";

type Check = Schemas["AddressCheckView"];
const LOOK_MS = 2_000;

/** Whether the address on labels and cards leads here: tried by scanning a code off this screen. */
export function AddressCheck({ place, onTake }: { place: Schemas["LabPlace"]; onTake: (address: string) => void }) {
  const { session } = useTechnician();
  const kept = useGet("/api/lab-settings/address-check", {}, { select: (answer) => answer.kept });
  const begin = useSend((_: null) => body(POST("/api/lab-settings/address-checks")));
  return (
    <div className="mt-3">
      {!place.reaches_others && (
        <p className="caution">
          Labels and cards printed now lead to this machine alone: no phone can follow them.{" "}
          {session?.asks ? "Set the address first." : "Serve the workshop first: the page People tells how."}
        </p>
      )}
      <div className="d-flex flex-wrap align-items-center gap-3">
        <Button variant="quiet" onClick={() => begin.mutate(null)} disabled={begin.isPending}>
          Try the address with a phone…
        </Button>
        {session?.asks && place.address_from !== "environment" && location.origin !== place.address && (
          <Button variant="quiet" onClick={() => onTake(location.origin)}>
            Take {location.origin}, where this page is open
          </Button>
        )}
        <span className="text-secondary">
          {kept.data
            ? `Scanned with success by ${kept.data.initials}, ${moment(kept.data.at)}.`
            : "The address in use has not been scanned yet."}
        </span>
      </div>
      <Trouble error={begin.error} className="mt-2" />
      {begin.data && <ScanDialog check={begin.data} onClose={() => begin.reset()} />}
    </div>
  );
}

function ScanDialog({ check, onClose }: { check: Check; onClose: () => void }) {
  const say = useSay();
  const path = { params: { path: { token: check.token } } };
  const now = useGet("/api/lab-settings/address-checks/{token}", path, {
    refetchInterval: (query) => (query.state.data?.reached_at ? false : LOOK_MS),
    gcTime: 0,
  });
  const keep = useSend(
    (_: null) => body(POST("/api/lab-settings/address-checks/{token}/keep", path)),
    () => {
      say("The address works, and that is noted.");
      onClose();
    },
  );
  const reached = now.data?.reached_at;
  return (
    <Modal show onHide={onClose} aria-labelledby="scan-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="scan-title" className="h3 m-0">
          Scan this with a phone
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className="text-center">
        <p>
          It leads to <span className="num text-break text-wrap">{check.link}</span>
        </p>
        <img
          src={`/api/lab-settings/address-checks/${check.token}/code.svg`}
          alt={`QR code of ${check.link}`}
          width={240}
          height={240}
          style={{ maxWidth: "100%" }}
        />
        <p className="mt-3 mb-0" role="status">
          {reached
            ? `A ${now.data?.reached_by} arrived here at ${moment(reached)}. The address works.`
            : "Waiting for the phone. It has to be in the same network; a warning about the certificate means that it does not know the lab's authority yet."}
        </p>
        <Trouble error={now.error ?? keep.error} className="mt-2" />
      </Modal.Body>
      <Modal.Footer>
        <Button disabled={!reached || keep.isPending} onClick={() => keep.mutate(null)}>
          Note that it works
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
