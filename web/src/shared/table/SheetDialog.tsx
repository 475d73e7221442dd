import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { useSay } from "../../app/toasts";
import type { Schemas } from "../api/client";
import { useSend } from "../api/useSend";
import { FileField } from "../fields/FileField";
import { Choice } from "../fields/Choice";
import { plural } from "../format";
import { Trouble } from "../Trouble";

type Told = Schemas["SheetTold"];
type Props = {
  title: string;
  what: string;
  /** Address of a table to fill in. */
  template?: string;
  send: (given: Schemas["SheetInput"], headers: Record<string, string>) => Promise<Told>;
  onClose: () => void;
};

/** With a column for each feature only what every row needs is chosen from all columns; the rest is matched by its name. */
const MOST_CHOICES = 12;
const isChosenAlone = (told: Told) => (field: Told["fields"][number]) =>
  told.fields.length <= MOST_CHOICES || field.needed;

type OtherProps = { told: Told; mapping: Record<string, string>; map: (key: string, column: string) => void };

/** Columns whose names say nothing: each may be given a meaning, or is left out. */
function OtherColumns({ told, mapping, map }: OtherProps) {
  if (told.fields.length <= MOST_CHOICES) return <Names told={told} />;
  const taken = new Set(Object.values(mapping));
  const others = told.columns.filter((column) => !taken.has(column) || !Object.values(told.suggested).includes(column));
  const matched = told.columns.length - told.columns.filter((column) => !taken.has(column)).length;
  return (
    <>
      <p className="mt-2 mb-2">
        {matched} of {plural(told.columns.length, "column")} are matched.
      </p>
      <div className="start-fields">
        {others.map((column) => {
          const key = Object.entries(mapping).find(([, name]) => name === column)?.[0] ?? "";
          return (
            <Choice
              key={column}
              label={column}
              value={key}
              none="left out"
              onChange={(next) => {
                if (key) map(key, "");
                if (next) map(next, column);
              }}
              options={told.fields.map((field) => [field.key, field.name])}
            />
          );
        })}
      </div>
    </>
  );
}

/** What features are called in a row. */
function Names({ told }: { told: Told }) {
  const names = Object.entries(told.names);
  if (!names.length) return null;
  return (
    <details className="mt-2">
      <summary>Names of features</summary>
      <ul className="plain-list sheet-rows">
        {names.map(([key, words]) => (
          <li key={key}>
            <span className="num">{key}</span>: {words}
          </li>
        ))}
      </ul>
    </details>
  );
}

/** Readings from a spreadsheet: say what its columns hold, see every row checked, then take in all or none. */
export function SheetDialog({ title, what, template, send, onClose }: Props) {
  const say = useSay();
  const [text, setText] = useState("");
  const [mapping, setMapping] = useState<Record<string, string>>({});
  // Rows that were checked under another mapping say nothing any more.
  const [stale, setStale] = useState(true);
  // What the last answer said stays on screen while the next one is asked for, or is refused.
  const [told, setTold] = useState<Told | null>(null);
  const ask = useSend(
    (given: Schemas["SheetInput"], headers) => send(given, headers),
    (told, given) => {
      if (!Object.keys(given.mapping).length) setMapping(told.suggested);
      setStale(!told.rows.length);
      setTold(told);
      if (told.kept) {
        say(`${plural(told.good, "reading")} taken in.`);
        onClose();
      }
    },
  );
  const errors = ask.error?.fields ?? {};
  function look(table: string) {
    setText(table);
    setTold(null);
    setMapping({});
    if (table.trim()) ask.mutate({ text: table, mapping: {}, keep: false });
  }
  const map = (key: string, column: string) => {
    setMapping((held) => Object.fromEntries(Object.entries({ ...held, [key]: column }).filter(([, name]) => name)));
    setStale(true);
  };
  const bad = told?.rows.filter((row) => row.words) ?? [];
  return (
    <Modal show onHide={onClose} size="lg" aria-labelledby="sheet-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="sheet-title" className="h3 m-0">
          {title}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <FileField
          label={`A CSV file, ${what}`}
          accept=".csv,.txt,text/csv"
          error={errors.text}
          onChoose={(file) => void file.text().then(look)}
        />
        <Form.Group controlId="sheet-pasted" className="mt-2">
          <Form.Label>Or paste it from a spreadsheet, with its first line</Form.Label>
          <Form.Control
            as="textarea"
            rows={2}
            className="num"
            value=""
            placeholder={text ? "A table is here; paste to replace it." : ""}
            onPaste={(event) => {
              event.preventDefault();
              look(event.clipboardData.getData("text/plain"));
            }}
            onChange={(event) => look(event.target.value)}
          />
        </Form.Group>
        {template && (
          <p className="mt-2 mb-0">
            <a href={template} download>
              Template with the coupons that wait
            </a>
          </p>
        )}
        {told && (
          <div className="start-fields mt-2">
            {told.fields.filter(isChosenAlone(told)).map((field) => (
              <Choice
                key={field.key}
                label={field.needed ? `${field.name} *` : field.name}
                value={mapping[field.key] ?? ""}
                none={field.needed ? "Choose a column…" : "not in it"}
                onChange={(column) => map(field.key, column)}
                options={told.columns.map((one) => [one, one])}
                error={errors[`mapping.${field.key}`]}
              />
            ))}
          </div>
        )}
        {told && <OtherColumns told={told} mapping={mapping} map={map} />}
        <Trouble error={ask.error && !Object.keys(errors).length ? ask.error : null} className="mt-2" />
        {told && !stale && (
          <div className="mt-3" aria-live="polite">
            <p className={bad.length ? "found" : "passed"}>
              {bad.length ? "▲" : "■"} {plural(told.good, "reading")} can be taken in
              {bad.length > 0 && `, ${bad.length} cannot: nothing is taken in until all can`}.
            </p>
            {bad.length > 0 && (
              <ul className="plain-list sheet-rows" aria-label="Rows that cannot be taken in">
                {bad.slice(0, 50).map((row) => (
                  <li key={`${row.line} ${row.code}`}>
                    line {row.line}, <span className="num">{row.code}</span>: {row.words}
                  </li>
                ))}
              </ul>
            )}
          </div>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button
          variant="quiet"
          disabled={!text || ask.isPending || !Object.keys(mapping).length}
          onClick={() => ask.mutate({ text, mapping, keep: false })}
        >
          Check the rows
        </Button>
        <Button
          disabled={!told || stale || bad.length > 0 || ask.isPending}
          onClick={() => ask.mutate({ text, mapping, keep: true })}
        >
          Take in {told && !stale ? told.good : ""}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
