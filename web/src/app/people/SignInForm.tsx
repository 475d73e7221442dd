import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { type ApiError, body, POST } from "../../shared/api/client";
import { PasswordField, PinField } from "../../shared/fields/PasswordField";
import { TextField } from "../../shared/fields/TextField";
import { Trouble } from "../../shared/Trouble";
import { type Session, useTechnician } from "./technician";

type Props = { onDone?: () => void; start?: string | null };

/** By PIN for those who chose one at this device, by password for everybody else. */
export function SignInForm({ onDone, start = null }: Props) {
  const { session } = useTechnician();
  const here = session?.people_here ?? [];
  const [who, setWho] = useState<string | null>(start);
  const person = here.find((one) => one.initials === who);
  return (
    <div className="d-grid gap-3">
      {here.length > 0 && (
        <div className="d-flex flex-wrap gap-2" role="group" aria-label="Who comes back by PIN">
          {here.map((one) => (
            <Button
              key={one.initials}
              variant={one.initials === who ? "primary" : "quiet"}
              className="num"
              aria-pressed={one.initials === who}
              onClick={() => setWho(one.initials)}
            >
              {one.initials}
            </Button>
          ))}
          <Button variant={person ? "quiet" : "primary"} aria-pressed={!person} onClick={() => setWho(null)}>
            By password
          </Button>
        </div>
      )}
      {person && !person.is_locked ? (
        <ByPin key={person.initials} initials={person.initials} onDone={onDone} />
      ) : (
        <ByPassword key={who} start={who ?? ""} locked={person?.is_locked ? person.initials : null} onDone={onDone} />
      )}
    </div>
  );
}

/** Not in turn with other changes: one of them may wait for this answer. */
function useEntering<Input>(send: (input: Input) => Promise<Session>, onDone?: () => void) {
  const { changed } = useTechnician();
  return useMutation<Session, ApiError, Input>({
    mutationFn: send,
    onSuccess: async () => {
      await changed();
      onDone?.();
    },
    // A locked PIN says so where it is asked for.
    onError: () => void changed(),
  });
}

function ByPin({ initials, onDone }: { initials: string; onDone?: () => void }) {
  const [pin, setPin] = useState("");
  const enter = useEntering((_: null) => body(POST("/api/session/switch", { body: { initials, pin } })), onDone);
  return (
    <form
      className="d-grid gap-3"
      aria-label="Come back by PIN"
      onSubmit={(event) => {
        event.preventDefault();
        enter.mutate(null, { onError: () => setPin("") });
      }}
    >
      <PinField label={`PIN of ${initials}`} value={pin} onChange={setPin} autoFocus error={enter.error?.fields.pin} />
      <Trouble error={enter.error && !enter.error.fields.pin ? enter.error : null} />
      <Button type="submit" disabled={!pin || enter.isPending}>
        Work as {initials}
      </Button>
    </form>
  );
}

type PasswordProps = { start: string; locked: string | null; onDone?: () => void };

function ByPassword({ start, locked, onDone }: PasswordProps) {
  const [initials, setInitials] = useState(start);
  const [password, setPassword] = useState("");
  const enter = useEntering((_: null) => body(POST("/api/session/sign-in", { body: { initials, password } })), onDone);
  return (
    <form
      className="d-grid gap-3"
      aria-label="Sign in"
      onSubmit={(event) => {
        event.preventDefault();
        enter.mutate(null, { onError: () => setPassword("") });
      }}
    >
      {locked && (
        <p className="caution mb-0">
          The PIN of {locked} is locked after too many wrong tries. The password opens it again.
        </p>
      )}
      <TextField
        label="Initials"
        value={initials}
        onChange={setInitials}
        autoComplete="username"
        autoFocus={!start}
        maxLength={12}
      />
      <PasswordField
        label="Password"
        value={password}
        onChange={setPassword}
        autoFocus={Boolean(start)}
        error={enter.error?.fields.password}
      />
      <Trouble error={enter.error && !enter.error.fields.password ? enter.error : null} />
      <Button type="submit" disabled={!initials.trim() || !password || enter.isPending}>
        Sign in
      </Button>
    </form>
  );
}
