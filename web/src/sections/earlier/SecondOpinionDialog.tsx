import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { useSay } from "../../app/toasts";
import { type ApiError, asApiError, body, POST, send, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { FileField } from "../../shared/fields/FileField";
import { TextField } from "../../shared/fields/TextField";
import { day } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";

type Questions = Schemas["QuestionsView"];
type Props = { calibration: string; arm: number; onClose: () => void };

/** Ask another workshop, and take in what it says: readings and notes, never settings. */
export function SecondOpinionDialog({ calibration, arm, onClose }: Props) {
  const say = useSay();
  const [text, setText] = useState("");
  const [named, setNamed] = useState(false);
  const [trouble, setTrouble] = useState<ApiError | null>(null);
  const path = { params: { path: { calibration_id: calibration } } };
  const questions = useGet("/api/calibrations/{calibration_id}/questions", path);
  const ask = useSend(
    (_: null, headers) =>
      body(
        POST("/api/calibrations/{calibration_id}/questions", {
          ...path,
          body: { text, arm, with_names: named },
          headers,
        }),
      ),
    () => {
      setText("");
      void questions.refetch();
    },
  );
  async function takeIn(file: File) {
    setTrouble(null);
    try {
      const told = await send<Questions>(`/api/calibrations/${calibration}/opinions`, file);
      const newest = told.items.flatMap((one) => one.opinions).at(-1);
      say(`${newest?.workshop ?? "Another workshop"} has answered: it stands beside the readings.`);
      void questions.refetch();
    } catch (error) {
      setTrouble(asApiError(error));
    }
  }
  const items = questions.data?.items ?? [];
  return (
    <Modal show onHide={onClose} size="lg" aria-labelledby="second-opinion">
      <Modal.Header closeButton>
        <Modal.Title id="second-opinion">A second opinion</Modal.Title>
      </Modal.Header>
      <Modal.Body className="d-grid gap-3">
        {items.map((one) => (
          <section key={one.code} aria-label={`Question ${one.code}`}>
            <p className="mb-1">
              <b className="num">{one.code}</b> {one.text}
              <small className="d-block text-secondary">
                {one.initials}, {day(one.asked_at)}
                {one.with_names ? ", with names" : ", without names"}
              </small>
            </p>
            <div className="d-flex flex-wrap gap-2 mb-2">
              <a className="btn btn-quiet btn-sm" href={`/api/questions/${one.code}/pdf`} download>
                PDF of {one.code}
              </a>
              <a className="btn btn-quiet btn-sm" href={`/api/questions/${one.code}/file`} download>
                File of {one.code}
              </a>
            </div>
            <ul className="plain-list mb-0">
              {one.opinions.map((opinion) => (
                <OpinionLine
                  key={opinion.id}
                  opinion={opinion}
                  calibration={calibration}
                  onChanged={() => void questions.refetch()}
                />
              ))}
            </ul>
          </section>
        ))}
        {items.length > 0 && (
          <FileField
            label="Their answer"
            accept=".json"
            onChoose={(file) => void takeIn(file)}
            error={trouble?.fields.file}
          />
        )}
        <Trouble error={trouble && !trouble.fields.file ? trouble : null} />
        <TextField
          label="What do you want to know?"
          value={text}
          onChange={setText}
          lines={2}
          error={ask.error?.fields.text}
          placeholder="Is 2.6 s over, or is it the film?"
        />
        <Form.Check
          id="with-names"
          label="Names of lab, material, printer and people go with it"
          checked={named}
          onChange={(event) => setNamed(event.target.checked)}
        />
        <Trouble error={ask.error && !ask.error.fields.text ? ask.error : null} />
      </Modal.Body>
      <Modal.Footer>
        <Button variant="quiet" onClick={onClose}>
          Close
        </Button>
        <Button disabled={ask.isPending || text.trim().length < 3} onClick={() => ask.mutate(null)}>
          Make the question
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

function OpinionLine({
  opinion,
  calibration,
  onChanged,
}: {
  opinion: Schemas["OpinionView"];
  calibration: string;
  onChanged: () => void;
}) {
  const withdraw = useSend(
    (_: null) =>
      body(
        POST("/api/calibrations/{calibration_id}/opinions/{opinion_id}/withdraw", {
          params: { path: { calibration_id: calibration, opinion_id: opinion.id } },
        }),
      ),
    onChanged,
  );
  const judged = opinion.readings.filter((one) => one.verdict || one.note);
  return (
    <li>
      <b>{opinion.workshop}</b>
      {opinion.initials && `, ${opinion.initials}`}: {opinion.note}
      <small className="d-block text-secondary">
        {judged.map((one) => `${one.code} ${[one.verdict, one.note].filter(Boolean).join(", ")}`).join("; ")}. Taken in
        by {opinion.received_by}, {day(opinion.received_at)}{" "}
        <Button
          variant="link"
          size="sm"
          className="p-0 align-baseline"
          aria-label={`Withdraw the opinion of ${opinion.workshop}`}
          onClick={() => withdraw.mutate(null)}
        >
          Withdraw
        </Button>
      </small>
    </li>
  );
}
