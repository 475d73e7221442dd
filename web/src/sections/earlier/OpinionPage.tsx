import { useState } from "react";
import Button from "react-bootstrap/Button";
import ButtonGroup from "react-bootstrap/ButtonGroup";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { type ApiError, asApiError, body, POST, send, type Schemas } from "../../shared/api/client";
import { FileField } from "../../shared/fields/FileField";
import { TextField } from "../../shared/fields/TextField";
import { plain, THIN } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import "../calibrate/calibrate.scss";

type Asked = Schemas["Asked"];
type Verdict = NonNullable<Schemas["OpinionReading"]["verdict"]>;
const VERDICTS: Verdict[] = ["under", "right", "over"];

/** Another workshop's question: its coupons as a ladder, and what you see on them. */
export default function OpinionPage() {
  const [asked, setAsked] = useState<Asked | null>(null);
  const [trouble, setTrouble] = useState<ApiError | null>(null);
  async function open(file: File) {
    setTrouble(null);
    try {
      setAsked(await send<Asked>("/api/second-opinions/open", file));
    } catch (error) {
      setAsked(null);
      setTrouble(asApiError(error));
    }
  }
  return (
    <>
      <PageHead title="Give a second opinion" sub="What goes back are readings and notes, never settings" />
      <section className="panel" aria-label="File">
        <FileField
          label="Their question"
          accept=".json"
          onChoose={(file) => void open(file)}
          error={trouble?.fields.file}
        />
        <Trouble error={trouble && !trouble.fields.file ? trouble : null} className="mt-2" />
      </section>
      {asked && <Answer key={asked.id} asked={asked} />}
    </>
  );
}

function Answer({ asked }: { asked: Asked }) {
  const say = useSay();
  const [verdicts, setVerdicts] = useState<Record<string, Verdict | null>>({});
  const [notes, setNotes] = useState<Record<string, string>>({});
  const [workshop, setWorkshop] = useState("");
  const [note, setNote] = useState("");
  const [trouble, setTrouble] = useState<ApiError | null>(null);
  async function write() {
    setTrouble(null);
    const readings = asked.coupons
      .map((one) => ({ code: one.code, verdict: verdicts[one.code] ?? null, note: notes[one.code] ?? "" }))
      .filter((one) => one.verdict || one.note);
    try {
      const request = { question_id: asked.id, workshop, note, readings };
      const answer: unknown = await body(POST("/api/second-opinions/answer", { body: request, parseAs: "text" }));
      const link = document.createElement("a");
      link.href = URL.createObjectURL(new Blob([String(answer)], { type: "application/json" }));
      link.download = `opinion-${asked.code}.json`;
      link.click();
      URL.revokeObjectURL(link.href);
      say("The answer is saved as a file: send it back.");
    } catch (error) {
      setTrouble(asApiError(error));
    }
  }
  return (
    <>
      <section className="panel mt-3" aria-label="Question">
        <h2>{asked.text}</h2>
        <p className="mb-1">{asked.about}</p>
        {asked.names && <p className="mb-1">{asked.names}</p>}
        <p className="mb-1">{asked.window}</p>
        <p className="small text-secondary mb-0">
          {asked.settings.map((one) => `${one.name} ${one.value} ${one.unit}`.trim()).join(" · ")}
        </p>
      </section>
      <ul className="tray mt-3" aria-label="Their coupons">
        {asked.coupons.map((one) => (
          <li key={one.code}>
            <article className="tray-card" aria-label={`Coupon ${one.code}`}>
              <div className="head">
                <span className="exposure num">
                  {plain(one.exposure_s)}
                  {THIN}s
                </span>
                <span className="num">{one.code}</span>
              </div>
              {one.photo && (
                <img className="w-100" src={`data:image/jpeg;base64,${one.photo}`} alt={`Coupon ${one.code}`} />
              )}
              <span className="small">{one.read}</span>
              <ButtonGroup size="sm" aria-label={`What you see on ${one.code}`}>
                {VERDICTS.map((verdict) => (
                  <Button
                    key={verdict}
                    variant={verdicts[one.code] === verdict ? "primary" : "quiet"}
                    aria-pressed={verdicts[one.code] === verdict}
                    onClick={() =>
                      setVerdicts({ ...verdicts, [one.code]: verdicts[one.code] === verdict ? null : verdict })
                    }
                  >
                    {verdict}
                  </Button>
                ))}
              </ButtonGroup>
              <TextField
                label={`Note on ${one.code}`}
                value={notes[one.code] ?? ""}
                onChange={(text) => setNotes({ ...notes, [one.code]: text })}
                maxLength={500}
              />
            </article>
          </li>
        ))}
      </ul>
      <section className="panel mt-3 d-grid gap-3" aria-label="Your answer" style={{ maxWidth: "48rem" }}>
        <TextField label="Your workshop" value={workshop} onChange={setWorkshop} error={trouble?.fields.workshop} />
        <TextField label="What you would look at" value={note} onChange={setNote} lines={3} maxLength={4000} />
        <Trouble error={trouble && !trouble.fields.workshop ? trouble : null} />
        <div>
          <Button disabled={!workshop.trim()} onClick={() => void write()}>
            Save the answer
          </Button>
        </div>
      </section>
    </>
  );
}
