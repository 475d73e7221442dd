import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Dropdown from "react-bootstrap/Dropdown";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { body, GET, POST } from "../shared/api/client";
import { useSend } from "../shared/api/useSend";
import { RecordsCheck } from "./RecordsCheck";
import { useTechnician } from "./technician";
import { useTheme, type Theme } from "./theme";

const THEMES: [Theme, string][] = [
  ["system", "As the system"],
  ["light", "Light"],
  ["safelight", "Safelight"],
];

/** Initials of who works, theme, and the check of signed records. */
export function TechnicianMenu() {
  const { initials, choose } = useTechnician();
  const [theme, setTheme] = useTheme();
  const [adding, setAdding] = useState(false);
  const [checking, setChecking] = useState(false);
  const people = useQuery({ queryKey: ["technicians"], queryFn: () => body(GET("/api/technicians")) });
  return (
    <>
      <Dropdown align="end">
        <Dropdown.Toggle className={initials ? "num" : "unset"} aria-label={initials ? `Working as ${initials}` : "Who works? Choose your initials"}>
          {initials ?? "Who works?"}
        </Dropdown.Toggle>
        <Dropdown.Menu>
          <Dropdown.Header>Who works</Dropdown.Header>
          {people.data?.items
            .filter((one) => !one.retired_at)
            .map((one) => (
              <Dropdown.Item key={one.id} as="button" active={one.initials === initials} onClick={() => choose(one.initials)} className="num">
                {one.initials}
              </Dropdown.Item>
            ))}
          <Dropdown.Item as="button" onClick={() => setAdding(true)}>
            Add initials…
          </Dropdown.Item>
          <Dropdown.Divider />
          <Dropdown.Header>Light in the room</Dropdown.Header>
          {THEMES.map(([value, name]) => (
            <Dropdown.Item key={value} as="button" active={theme === value} onClick={() => setTheme(value)}>
              {name}
            </Dropdown.Item>
          ))}
          <Dropdown.Divider />
          <Dropdown.Item as="button" onClick={() => setChecking(true)}>
            Check signed records…
          </Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      <AddInitials show={adding} onClose={() => setAdding(false)} />
      {checking && <RecordsCheck onClose={() => setChecking(false)} />}
    </>
  );
}

function AddInitials({ show, onClose }: { show: boolean; onClose: () => void }) {
  const { choose } = useTechnician();
  const [text, setText] = useState("");
  const add = useSend(
    (initials: string, headers) => body(POST("/api/technicians", { body: { initials }, headers })),
    (made) => {
      choose(made.initials);
      setText("");
      onClose();
    },
  );
  const problem = add.error ? (add.error.fields.initials ?? add.error.message) : undefined;
  return (
    <Modal show={show} onHide={onClose} aria-labelledby="add-initials">
      <Form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate(text);
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" id="add-initials" className="h3 m-0">
            Add initials
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <Form.Group controlId="initials">
            <Form.Label>Initials, one to four letters</Form.Label>
            <Form.Control autoFocus autoComplete="off" maxLength={12} value={text} isInvalid={Boolean(problem)} onChange={(event) => setText(event.target.value)} />
            <Form.Control.Feedback type="invalid">{problem?.includes("pattern") ? "Give one to four letters." : problem}</Form.Control.Feedback>
          </Form.Group>
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit" disabled={add.isPending}>
            Add and work as these
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
