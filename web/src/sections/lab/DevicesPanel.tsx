import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useTechnician } from "../../app/people/technician";
import { useSay } from "../../app/toasts";
import { body, POST, PUT, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { TextField } from "../../shared/fields/TextField";
import { moment } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { type Column, DataTable } from "../../shared/table/DataTable";
import { Trouble } from "../../shared/Trouble";

type Device = Schemas["DeviceView"];

const COLUMNS: Column<Device>[] = [
  {
    name: "Device",
    value: (one) => one.name,
    cell: (one) => (
      <>
        {one.name} {one.is_this && <span className="text-secondary">(this one)</span>}
      </>
    ),
    wide: true,
  },
  { name: "Who", value: (one) => one.initials.join(", ") },
  { name: "Last used", value: (one) => one.last_used_at, cell: (one) => moment(one.last_used_at) },
];

/** Browsers somebody signed in at: named, and revoked when one is lost. */
export function DevicesPanel({ isLead }: { isLead: boolean }) {
  const say = useSay();
  const { changed } = useTechnician();
  const devices = useGet("/api/devices");
  const [naming, setNaming] = useState<Device | null>(null);
  const revoke = useSend(
    ({ id }: Device) => body(POST("/api/devices/{device_id}/revoke", { params: { path: { device_id: id } } })),
    (_, device) => {
      say(`${device.name} is let in no more.`);
      if (device.is_this) void changed();
    },
  );
  return (
    <section className="panel" aria-label="Devices">
      <h2>Devices</h2>
      <p className="text-secondary">
        {isLead ? "Every browser somebody signed in at." : "Browsers you signed in at."} A lost one is revoked: whoever
        is signed in at it is out at once, and PINs chosen at it are gone. A sign-in ends by itself after twelve hours
        without use.
      </p>
      <Trouble error={revoke.error} className="mb-2" />
      <Loaded query={devices}>
        {(answer) => (
          <DataTable
            name="devices"
            part="devices"
            rows={answer.items}
            columns={COLUMNS}
            id={(one) => one.id}
            actions={(one) => (
              <div className="d-flex flex-wrap gap-1 justify-content-end">
                <Button size="sm" variant="quiet" aria-label={`Name ${one.name}`} onClick={() => setNaming(one)}>
                  Name…
                </Button>
                <Button size="sm" variant="quiet" aria-label={`Revoke ${one.name}`} onClick={() => revoke.mutate(one)}>
                  Revoke
                </Button>
              </div>
            )}
          />
        )}
      </Loaded>
      {naming && <NameDialog device={naming} onClose={() => setNaming(null)} />}
    </section>
  );
}

function NameDialog({ device, onClose }: { device: Device; onClose: () => void }) {
  const [name, setName] = useState(device.name);
  const save = useSend(
    (_: null) => body(PUT("/api/devices/{device_id}", { params: { path: { device_id: device.id } }, body: { name } })),
    onClose,
  );
  return (
    <FormDialog
      title="Name of the device"
      action="Save"
      saving={save.isPending}
      ready={Boolean(name.trim())}
      error={save.error}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <TextField
        label="What people here call it"
        value={name}
        onChange={setName}
        maxLength={80}
        autoFocus
        error={save.error?.fields.name}
      />
    </FormDialog>
  );
}
