import { useState } from "react";
import Button from "react-bootstrap/Button";
import { type Session, useTechnician } from "../../app/people/technician";
import { useSay } from "../../app/toasts";
import { body, POST, PUT } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { PairDialog } from "./PairDialog";
import { PasswordField, PinField } from "../../shared/fields/PasswordField";
import { Trouble } from "../../shared/Trouble";

type Me = NonNullable<Session["signed_in"]>;

/** One's own password, and the PIN for changing places at this device. */
export function YouPanel({ me }: { me: Me }) {
  const say = useSay();
  const { changed } = useTechnician();
  const [opened, setOpened] = useState<"password" | "pin" | "phone" | null>(me.must_change ? "password" : null);
  const remove = useSend(
    (_: null) => body(POST("/api/session/pin/remove")),
    () => {
      void changed();
      say("You have no PIN at this device any more.");
    },
  );
  return (
    <section className="panel" aria-label="You">
      <h2>
        You are <span className="num">{me.initials}</span>, {me.role}
      </h2>
      {me.must_change && (
        <p className="caution">A lead set your password. Choose one of your own before you change anything.</p>
      )}
      <p className="text-secondary">
        {me.may_lead
          ? "You sign qualifications, and change limits, briefs, settings and people. Each signature asks for your password again."
          : me.may_write
            ? "You print, read, test, blend and issue sets. A lead signs, and changes limits, briefs and settings."
            : "You look at everything and change nothing."}{" "}
        {me.has_pin
          ? "At this device you come back by PIN."
          : "With a PIN you come back at this device quickly; it is of no use anywhere else."}
      </p>
      <div className="d-flex flex-wrap gap-2">
        <Button variant="quiet" onClick={() => setOpened("password")}>
          Change your password…
        </Button>
        <Button variant="quiet" onClick={() => setOpened("pin")}>
          {me.has_pin ? "Another PIN here…" : "Choose a PIN here…"}
        </Button>
        <Button variant="quiet" onClick={() => setOpened("phone")}>
          Pair a phone…
        </Button>
        {me.has_pin && (
          <Button variant="quiet" onClick={() => remove.mutate(null)}>
            No PIN here
          </Button>
        )}
      </div>
      <Trouble error={remove.error} className="mt-2" />
      {opened === "password" && <PasswordDialog onClose={() => setOpened(null)} />}
      {opened === "phone" && <PairDialog initials={me.initials} onClose={() => setOpened(null)} />}
      {opened === "pin" && <PinDialog onClose={() => setOpened(null)} />}
    </section>
  );
}

function PasswordDialog({ onClose }: { onClose: () => void }) {
  const say = useSay();
  const { changed } = useTechnician();
  const [password, setPassword] = useState("");
  const [next, setNext] = useState("");
  const [again, setAgain] = useState("");
  const save = useSend(
    (_: null) => body(PUT("/api/session/password", { body: { password, new_password: next } })),
    () => {
      void changed();
      say("Your password is changed; other devices are signed out.");
      onClose();
    },
  );
  const fields = save.error?.fields ?? {};
  const differs = again !== "" && again !== next;
  return (
    <FormDialog
      title="Change your password"
      action="Change it"
      saving={save.isPending}
      ready={Boolean(password && next) && next === again}
      error={save.error}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <PasswordField
        label="Password until now"
        value={password}
        onChange={setPassword}
        autoFocus
        error={fields.password}
      />
      <PasswordField
        label="New password"
        value={next}
        onChange={setNext}
        isNew
        hint="Ten characters or more; a few words together do well"
        error={fields.new_password}
      />
      <PasswordField
        label="The new one again"
        value={again}
        onChange={setAgain}
        isNew
        error={differs && "The two differ."}
      />
    </FormDialog>
  );
}

function PinDialog({ onClose }: { onClose: () => void }) {
  const say = useSay();
  const { changed } = useTechnician();
  const [password, setPassword] = useState("");
  const [pin, setPin] = useState("");
  const save = useSend(
    (_: null) => body(PUT("/api/session/pin", { body: { password, pin } })),
    () => {
      void changed();
      say("You come back at this device by PIN.");
      onClose();
    },
  );
  const fields = save.error?.fields ?? {};
  return (
    <FormDialog
      title="A PIN for this device"
      action="Save"
      saving={save.isPending}
      ready={Boolean(password && pin)}
      error={save.error}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <p className="mb-0">
        For a bench that several people share. Five wrong tries lock it until the password is given; a signature asks
        for the password all the same.
      </p>
      <PasswordField label="Your password" value={password} onChange={setPassword} autoFocus error={fields.password} />
      <PinField label="PIN, four to eight digits" value={pin} onChange={setPin} error={fields.pin} />
    </FormDialog>
  );
}
