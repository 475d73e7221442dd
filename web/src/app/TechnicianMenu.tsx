import { useState } from "react";
import { Link } from "react-router";
import Dropdown from "react-bootstrap/Dropdown";
import { FormDialog } from "../shared/fields/FormDialog";
import { RecordsCheck } from "./RecordsCheck";
import { useTechnician } from "./technician";
import { useNewInitials } from "./useNewInitials";
import { useTheme, type Theme } from "./theme";
import { useGet } from "../shared/api/useGet";

const THEMES: [Theme, string][] = [
  ["system", "Match system"],
  ["light", "Light"],
  ["safelight", "Safelight"],
];

/** Initials of who works, theme, and the check of all records. */
export function TechnicianMenu() {
  const { initials, choose } = useTechnician();
  const [theme, setTheme] = useTheme();
  const [adding, setAdding] = useState(false);
  const [checking, setChecking] = useState(false);
  const people = useGet("/api/technicians");
  return (
    <>
      <Dropdown align="end">
        <Dropdown.Toggle
          className={initials ? "num" : "unset"}
          aria-label={initials ? `Working as ${initials}` : "Who is working? Choose your initials"}
        >
          {initials ?? "Who is working?"}
        </Dropdown.Toggle>
        <Dropdown.Menu>
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
          <Dropdown.Item as="button" onClick={() => setAdding(true)}>
            Add initials…
          </Dropdown.Item>
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
          <Dropdown.Item as={Link} to="/lab/activity">
            What changed
          </Dropdown.Item>
          <Dropdown.Item as={Link} to="/lab/glossary">
            Words
          </Dropdown.Item>
          <Dropdown.Item as="button" onClick={() => setChecking(true)}>
            Check all records…
          </Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      {adding && <AddInitials onClose={() => setAdding(false)} />}
      {checking && <RecordsCheck onClose={() => setChecking(false)} />}
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
