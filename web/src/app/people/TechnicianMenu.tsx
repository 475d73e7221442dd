import { useState } from "react";
import Dropdown from "react-bootstrap/Dropdown";
import Modal from "react-bootstrap/Modal";
import { Link } from "react-router";
import { body, POST } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { RecordsCheck } from "../RecordsCheck";
import { useTheme, type Theme } from "../theme";
import { SignInForm } from "./SignInForm";
import { type Session, useTechnician } from "./technician";
import { useNewInitials } from "./useNewInitials";

const THEMES: [Theme, string][] = [
  ["system", "Match system"],
  ["light", "Light"],
  ["safelight", "Safelight"],
];

/** Who works, theme, the lab's pages, and the check of all records. */
export function TechnicianMenu() {
  const { initials, session } = useTechnician();
  const [theme, setTheme] = useTheme();
  const [opened, setOpened] = useState<"adding" | "checking" | "changing" | null>(null);
  const [changing, setChanging] = useState<string | null>(null);
  const close = () => setOpened(null);
  const nobody = session?.asks ? "Nobody is signed in" : "Who is working?";
  return (
    <>
      <Dropdown align="end">
        <Dropdown.Toggle
          className={initials ? "num" : "unset"}
          aria-label={
            initials ? `Working as ${initials}` : session?.asks ? nobody : "Who is working? Choose your initials"
          }
        >
          {initials ?? nobody}
        </Dropdown.Toggle>
        <Dropdown.Menu>
          {session?.asks ? (
            <SignedIn
              session={session}
              onChange={(who) => {
                setChanging(who);
                setOpened("changing");
              }}
            />
          ) : (
            <Initials onAdd={() => setOpened("adding")} />
          )}
          <Dropdown.Divider />
          <Dropdown.Header aria-level={2}>Light in the room</Dropdown.Header>
          {THEMES.map(([value, name]) => (
            <Dropdown.Item
              key={value}
              as="button"
              aria-current={theme === value || undefined}
              onClick={() => setTheme(value)}
              className={theme === value ? "active" : ""}
            >
              {name}
            </Dropdown.Item>
          ))}
          <Dropdown.Divider />
          <Dropdown.Item as={Link} to="/lab">
            Settings of this lab
          </Dropdown.Item>
          <Dropdown.Item as={Link} to="/lab/people">
            People
          </Dropdown.Item>
          <Dropdown.Item as={Link} to="/at-hand">
            At the bench
          </Dropdown.Item>
          {session?.asks && (
            <Dropdown.Item as={Link} to="/waiting">
              Waiting entries
            </Dropdown.Item>
          )}
          <Dropdown.Item as={Link} to="/lab/instruments">
            Instruments
          </Dropdown.Item>
          <Dropdown.Item as={Link} to="/lab/activity">
            What changed
          </Dropdown.Item>
          <Dropdown.Item as={Link} to="/lab/glossary">
            Words
          </Dropdown.Item>
          <Dropdown.Item as="button" onClick={() => setOpened("checking")}>
            Check all records…
          </Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      {opened === "adding" && <AddInitials onClose={close} />}
      {opened === "checking" && <RecordsCheck onClose={close} />}
      {opened === "changing" && (
        <Modal show onHide={close} aria-label="Somebody else works here">
          <Modal.Header closeButton>
            <Modal.Title as="h2" className="h3 m-0">
              Who works here now?
            </Modal.Title>
          </Modal.Header>
          <Modal.Body>
            <SignInForm start={changing} onDone={close} />
          </Modal.Body>
        </Modal>
      )}
    </>
  );
}

/** Initials to choose from, where nobody signs in. */
function Initials({ onAdd }: { onAdd: () => void }) {
  const { initials, choose } = useTechnician();
  const people = useGet("/api/technicians");
  return (
    <>
      <Dropdown.Header aria-level={2}>Who is working</Dropdown.Header>
      {people.data?.items
        .filter((one) => !one.retired_at)
        .map((one) => (
          <Dropdown.Item
            key={one.id}
            as="button"
            aria-current={one.initials === initials || undefined}
            onClick={() => choose(one.initials)}
            className={`num ${one.initials === initials ? "active" : ""}`}
          >
            {one.initials}
          </Dropdown.Item>
        ))}
      <Dropdown.Item as="button" onClick={onAdd}>
        Add initials…
      </Dropdown.Item>
    </>
  );
}

/** Who is signed in, who comes back by PIN, and the way out. */
function SignedIn({ session, onChange }: { session: Session; onChange: (who: string | null) => void }) {
  const { changed } = useTechnician();
  const leave = useSend(
    (_: null) => body(POST("/api/session/sign-out")),
    () => {
      // The page is left: whoever comes next begins at its address.
      location.reload();
    },
  );
  const me = session.signed_in;
  if (!me)
    return (
      <Dropdown.Item as="button" onClick={() => void changed()}>
        Sign in
      </Dropdown.Item>
    );
  return (
    <>
      <Dropdown.Header aria-level={2}>
        {me.initials}, {me.role}
      </Dropdown.Header>
      {session.people_here
        .filter((one) => one.initials !== me.initials)
        .map((one) => (
          <Dropdown.Item key={one.initials} as="button" onClick={() => onChange(one.initials)}>
            Change to <span className="num">{one.initials}</span>…
          </Dropdown.Item>
        ))}
      <Dropdown.Item as="button" onClick={() => onChange(null)}>
        Somebody else…
      </Dropdown.Item>
      <Dropdown.Item as="button" onClick={() => leave.mutate(null)}>
        Sign out
      </Dropdown.Item>
    </>
  );
}

function AddInitials({ onClose }: { onClose: () => void }) {
  const added = useNewInitials("Initials, one to four letters", onClose);
  return (
    <FormDialog
      title="Add initials"
      action="Add and work as these"
      saving={added.saving}
      error={null}
      onSave={added.save}
      onClose={onClose}
    >
      {added.field}
    </FormDialog>
  );
}
