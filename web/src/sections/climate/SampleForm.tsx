import { useState } from "react";
import Form from "react-bootstrap/Form";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { NumberField } from "../../shared/fields/NumberField";
import { Trouble } from "../../shared/Trouble";
import { temperature } from "../../shared/format";

/** What a thermometer shows, typed; a jump that air cannot make is asked about. */
export function SampleForm({ probe, onClose }: { probe: Schemas["ProbeView"]; onClose: () => void }) {
  const say = useSay();
  const [temp, setTemp] = useState<number | null>(null);
  const [sure, setSure] = useState(false);
  const send = useSend(
    (temp_c: number, headers) =>
      body(
        POST("/api/probes/{probe_id}/samples", {
          params: { path: { probe_id: probe.id } },
          body: { temp_c, humidity_pct: null, sure },
          headers,
        }),
      ),
    (probe, temp_c) => {
      say(`${probe.name}: ${temperature(temp_c)} is noted.`);
      onClose();
    },
    {
      waits: {
        words: (temp_c) => `${probe.name}: ${temperature(temp_c)}`,
        onKept() {
          say("It waits in this device.");
          onClose();
        },
      },
    },
  );
  const jumped = send.error?.fields.temp_c;
  return (
    <FormDialog
      title={`${probe.name}, ${probe.place}`}
      action="Record it"
      saving={send.isPending}
      error={null}
      ready={temp !== null}
      onSave={() => temp !== null && send.mutate(temp)}
      onClose={onClose}
    >
      <NumberField autoFocus label="Temperature" unit="°C" value={temp} onChange={setTemp} error={jumped} />
      {jumped && (
        <Form.Check
          id="sample-sure"
          label="It is right all the same"
          checked={sure}
          onChange={(event) => setSure(event.target.checked)}
        />
      )}
      <Trouble error={jumped ? null : send.error} />
    </FormDialog>
  );
}
