import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";
import { type ApiError, body, POST } from "../../shared/api/client";
import { askWith, type Question, type Reply } from "../../shared/api/askPerson";
import { useGet } from "../../shared/api/useGet";
import { FormDialog } from "../../shared/fields/FormDialog";
import { PasswordField } from "../../shared/fields/PasswordField";
import { TextField } from "../../shared/fields/TextField";
import { BothVersions } from "../../shared/outbox/BothVersions";
import { SignInForm } from "./SignInForm";
import { type Session, useTechnician } from "./technician";
import { useNewInitials } from "./useNewInitials";

type Asked = { question: Question; answer: (reply: Reply) => void };

/**
 * Every change carries initials: where nobody chose theirs, they are asked for once, and the change goes on. Where people
 * sign in and this browser is let in no more, it stands over the page until somebody signs in; what was typed stays.
 */
export function WhoIsWorking() {
  const { session } = useTechnician();
  const [asked, setAsked] = useState<Asked | null>(null);
  const wasIn = useRef(false);
  if (session?.signed_in) wasIn.current = true;
  const isOut = Boolean(session?.asks && !session.signed_in && wasIn.current);
  useEffect(() => {
    askWith((question) => new Promise((answer) => setAsked({ question, answer })));
    return () => askWith(null);
  }, []);
  const done = (reply: Reply) => {
    setAsked(null);
    asked?.answer(reply);
  };
  const question = asked?.question;
  if (isOut || (question?.is === "who" && session?.asks)) return <SignInAgain onDone={() => done(true)} />;
  if (question?.is === "version") return <TwoVersions {...question} onDone={done} />;
  if (question?.is === "password") return <PasswordAgain onDone={done} />;
  return asked ? <Choose onDone={done} /> : null;
}

/** Over a page at which somebody worked: it stays as it is until somebody signs in. */
function SignInAgain({ onDone }: { onDone: () => void }) {
  return (
    <Modal show backdrop="static" keyboard={false} aria-label="Sign in again">
      <Modal.Header>
        <Modal.Title as="h2" className="h3 m-0">
          You are signed out here
        </Modal.Title>
      </Modal.Header>
      <Modal.Body className="d-grid gap-3">
        <p className="mb-0">
          The time ran out, you signed in as somebody else, or a lead ended it. What you typed is still on the page: it
          is saved under the initials of whoever signs in now.
        </p>
        <SignInForm onDone={onDone} />
      </Modal.Body>
    </Modal>
  );
}

/** A signature asks for the password again, each time. */
function PasswordAgain({ onDone }: { onDone: (isAnswered: boolean) => void }) {
  const { initials } = useTechnician();
  const [password, setPassword] = useState("");
  const confirm = useMutation<Session, ApiError, null>({
    mutationFn: () => body(POST("/api/session/confirm", { body: { password } })),
    onSuccess: () => onDone(true),
    onError: () => setPassword(""),
  });
  return (
    <FormDialog
      title="Sign with your password"
      action="Sign"
      saving={confirm.isPending}
      ready={Boolean(password)}
      error={confirm.error}
      onSave={() => confirm.mutate(null)}
      onClose={() => onDone(false)}
    >
      <p className="mb-0">A signature is yours alone: give the password of {initials} again.</p>
      <PasswordField
        label={`Password of ${initials}`}
        value={password}
        onChange={setPassword}
        autoFocus
        error={confirm.error?.fields.password}
      />
    </FormDialog>
  );
}

type VersionProps = { error: ApiError; wantsReason: boolean; onDone: (reply: Reply) => void };

/** Somebody else changed it meanwhile: both versions, and the person says which one is to stand. */
function TwoVersions({ error, wantsReason, onDone }: VersionProps) {
  const [reason, setReason] = useState("");
  return (
    <FormDialog
      title="Changed meanwhile"
      action="Save mine over it"
      saving={false}
      ready={!wantsReason || reason.trim() !== ""}
      error={null}
      onSave={() => onDone(reason.trim() || true)}
      onClose={() => onDone(false)}
    >
      <p className="mb-0">{error.message} What you entered is kept; nothing is saved yet.</p>
      <BothVersions differences={error.differences} />
      {wantsReason && <TextField label="Why the earlier one is corrected" value={reason} onChange={setReason} />}
    </FormDialog>
  );
}

function Choose({ onDone }: { onDone: (isAnswered: boolean) => void }) {
  const { choose } = useTechnician();
  const people = useGet("/api/technicians").data?.items.filter((one) => !one.retired_at) ?? [];
  const label = people.length ? "Or your initials, one to four letters" : "Your initials, one to four letters";
  const added = useNewInitials(label, () => onDone(true));
  return (
    <FormDialog
      title="Who is working?"
      action="Work as these"
      saving={added.saving}
      error={null}
      onSave={added.save}
      onClose={() => onDone(false)}
    >
      <p className="mb-0">Every change carries the initials of who made it. They are asked for once in this browser.</p>
      {people.length > 0 && (
        <div className="d-flex flex-wrap gap-2" role="group" aria-label="Initials here">
          {people.map((one) => (
            <Button
              key={one.id}
              variant="quiet"
              className="num"
              onClick={() => {
                choose(one.initials);
                onDone(true);
              }}
            >
              {one.initials}
            </Button>
          ))}
        </div>
      )}
      {added.field}
    </FormDialog>
  );
}
