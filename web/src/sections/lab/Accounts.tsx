import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useTechnician } from "../../app/people/technician";
import { useSay } from "../../app/toasts";
import { body, POST, PUT, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { FormDialog } from "../../shared/fields/FormDialog";
import { TextField } from "../../shared/fields/TextField";
import { day } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { type Column, DataTable } from "../../shared/table/DataTable";
import { Trouble } from "../../shared/Trouble";

type Account = Schemas["AccountView"];
type Role = Account["role"];
const ROLES: readonly Role[] = ["viewer", "technician", "lead"];

const state = (one: Account) =>
  one.revoked_at
    ? `revoked ${day(one.revoked_at)}`
    : one.must_change
      ? "has not chosen a password yet"
      : one.last_used_at
        ? `last here ${day(one.last_used_at)}`
        : "was never here";

const COLUMNS: Column<Account>[] = [
  { name: "Initials", value: (one) => one.initials, cell: (one) => <span className="num">{one.initials}</span> },
  { name: "Role", value: (one) => one.role },
  { name: "State", value: state, wide: true },
];

/** Everybody with an account, for a lead: added, given another role or password, revoked and taken back. */
export function Accounts() {
  const say = useSay();
  const people = useGet("/api/people");
  const [adding, setAdding] = useState(false);
  const [changing, setChanging] = useState<{ account: Account; what: "role" | "password" } | null>(null);
  const restore = useSend(({ id }: Account) =>
    body(POST("/api/people/{account_id}/restore", { params: { path: { account_id: id } } })),
  );
  const revoke = useSend(
    ({ id }: Account) => body(POST("/api/people/{account_id}/revoke", { params: { path: { account_id: id } } })),
    (done) => say(`${done.initials} may sign in no more, and is out on every device.`, () => restore.mutate(done)),
  );
  return (
    <section className="panel" aria-label="Accounts">
      <div className="d-flex flex-wrap align-items-baseline gap-3 mb-2">
        <h2 className="mb-0">Accounts</h2>
        <Button className="ms-auto" onClick={() => setAdding(true)}>
          Add somebody
        </Button>
      </div>
      <Trouble error={revoke.error ?? restore.error} className="mb-2" />
      <Loaded query={people}>
        {(answer) => (
          <DataTable
            name="accounts"
            rows={answer.items}
            columns={COLUMNS}
            id={(one) => one.id}
            actions={(one) =>
              one.revoked_at ? (
                <Button size="sm" variant="quiet" onClick={() => restore.mutate(one)}>
                  Let in again
                </Button>
              ) : (
                <div className="d-flex flex-wrap gap-1 justify-content-end">
                  <Button
                    size="sm"
                    variant="quiet"
                    aria-label={`Role of ${one.initials}`}
                    onClick={() => setChanging({ account: one, what: "role" })}
                  >
                    Role…
                  </Button>
                  <Button
                    size="sm"
                    variant="quiet"
                    aria-label={`Password of ${one.initials}`}
                    onClick={() => setChanging({ account: one, what: "password" })}
                  >
                    Password…
                  </Button>
                  <Button
                    size="sm"
                    variant="quiet"
                    aria-label={`Revoke ${one.initials}`}
                    onClick={() => revoke.mutate(one)}
                  >
                    Revoke
                  </Button>
                </div>
              )
            }
          />
        )}
      </Loaded>
      {adding && <AddDialog roles={people.data?.roles ?? {}} onClose={() => setAdding(false)} />}
      {changing?.what === "role" && (
        <RoleDialog account={changing.account} roles={people.data?.roles ?? {}} onClose={() => setChanging(null)} />
      )}
      {changing?.what === "password" && (
        <SetPasswordDialog account={changing.account} onClose={() => setChanging(null)} />
      )}
    </section>
  );
}

type Roles = Record<string, string>;
const options = (roles: Roles) => ROLES.map((role) => [role, `${role}: ${roles[role] ?? ""}`] as const);

function AddDialog({ roles, onClose }: { roles: Roles; onClose: () => void }) {
  const say = useSay();
  const [initials, setInitials] = useState("");
  const [role, setRole] = useState<Role>("technician");
  const [password, setPassword] = useState("");
  const add = useSend(
    (_: null) => body(POST("/api/people", { body: { initials, role, password } })),
    (added) => {
      say(`${added.initials} may sign in as ${added.role}.`);
      onClose();
    },
  );
  const fields = add.error?.fields ?? {};
  return (
    <FormDialog
      title="Add somebody"
      saving={add.isPending}
      ready={Boolean(initials.trim() && password)}
      error={add.error}
      onSave={() => add.mutate(null)}
      onClose={onClose}
    >
      <TextField
        label="Initials, one to four letters"
        value={initials}
        onChange={setInitials}
        error={fields.initials?.includes("pattern") ? "Give one to four letters." : fields.initials}
        hint="Initials that worked here before keep everything they recorded"
        autoFocus
        autoComplete="off"
        maxLength={12}
      />
      <Choice label="Role" value={role} onChange={setRole} options={options(roles)} error={fields.role} />
      <TextField
        label="Password for the first time"
        value={password}
        onChange={setPassword}
        autoComplete="off"
        error={fields.password}
        hint="Hand it over; they choose one of their own when they first sign in"
      />
    </FormDialog>
  );
}

function RoleDialog({ account, roles, onClose }: { account: Account; roles: Roles; onClose: () => void }) {
  const { changed } = useTechnician();
  const [role, setRole] = useState<Role>(account.role);
  const save = useSend(
    (_: null) =>
      body(PUT("/api/people/{account_id}/role", { params: { path: { account_id: account.id } }, body: { role } })),
    () => {
      // It may be one's own.
      void changed();
      onClose();
    },
  );
  return (
    <FormDialog
      title={`Role of ${account.initials}`}
      action="Change it"
      saving={save.isPending}
      error={save.error}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <Choice label="Role" value={role} onChange={setRole} options={options(roles)} />
      <p className="text-secondary mb-0">It holds from their next step on.</p>
    </FormDialog>
  );
}

function SetPasswordDialog({ account, onClose }: { account: Account; onClose: () => void }) {
  const say = useSay();
  const [password, setPassword] = useState("");
  const save = useSend(
    (_: null) =>
      body(
        PUT("/api/people/{account_id}/password", { params: { path: { account_id: account.id } }, body: { password } }),
      ),
    (done) => {
      say(`${done.initials} signs in with it, and then chooses their own.`);
      onClose();
    },
  );
  return (
    <FormDialog
      title={`Password of ${account.initials}`}
      action="Set it"
      saving={save.isPending}
      ready={Boolean(password)}
      error={save.error}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <p className="mb-0">Where theirs is lost. They are signed out everywhere, and their PINs are gone.</p>
      <TextField
        label="Password for the next sign-in"
        value={password}
        onChange={setPassword}
        autoComplete="off"
        autoFocus
        error={save.error?.fields.password}
        hint="Hand it over; they choose one of their own then"
      />
    </FormDialog>
  );
}
