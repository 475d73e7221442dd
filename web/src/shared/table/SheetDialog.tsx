import { useState } from "react";
import Button from "react-bootstrap/Button";
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
  send: (given: Schemas["SheetInput"], headers: Record<string, string>) => Promise<Told>;
  onClose: () => void;
};

/** Readings from a spreadsheet: say what its columns hold, see every row checked, then take in all or none. */
export function SheetDialog({ title, what, send, onClose }: Props) {
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
  async function choose(file: File) {
    const read = await file.text();
    setText(read);
    setTold(null);
    setMapping({});
    ask.mutate({ text: read, mapping: {}, keep: false });
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
          onChoose={(file) => void choose(file)}
        />
        {told && (
          <div className="start-fields">
            {told.fields.map((field) => (
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
