import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link, useNavigate } from "react-router";
import { PageHead } from "../../app/PageHead";
import type { Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { exposure, moment, plural, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { placeOfTask } from "../../shared/places";
import { useKeptAtHand } from "./useKeptAtHand";
import "./atHand.scss";

type AtHand = Schemas["AtHand"];

/** A phone at the bench: a code in the hand, what waits to be read, what runs, today, and the cards. */
export default function AtHandPage() {
  const query = useGet("/api/at-hand", {}, { refetchInterval: 60_000 });
  return (
    <Loaded query={query} page>
      {(hand) => <Hand hand={hand} />}
    </Loaded>
  );
}

function Hand({ hand }: { hand: AtHand }) {
  const kept = useKeptAtHand(hand);
  return (
    <>
      <PageHead title="At the bench" sub={kept} />
      <div className="at-hand">
        <CodeInHand />
        <Codes
          title="To read"
          none="No coupon waits to be read."
          rows={hand.to_read.map((one) => ({
            to: `/coupons/${one.code}`,
            code: one.code,
            words: `${one.material} on ${one.printer}, ${exposure(one.exposure_s, 0.01)}${THIN}s`,
          }))}
        />
        <Codes
          title="Prints that run"
          none="No print runs."
          rows={hand.running.map((one) => ({
            to: `/log/${one.code}/finish`,
            code: one.code,
            words: `${one.material ?? "a print"} on ${one.printer}, due ${moment(one.due_at)}`,
          }))}
        >
          <Link className="btn btn-quiet w-100" to="/log/new">
            Start a print
          </Link>
        </Codes>
        <section className="panel" aria-label="Today">
          <h2>Today</h2>
          {hand.today.length === 0 && <p className="text-secondary mb-0">Nothing waits.</p>}
          {hand.today.map((task) => (
            <Link key={`${task.kind} ${task.title}`} className="line" to={placeOfTask(task)}>
              <span>
                <b>{task.title}</b>
                <span className="d-block text-secondary small">{task.detail}</span>
              </span>
            </Link>
          ))}
        </section>
        <Codes
          title="Cards"
          none="No set is issued yet."
          rows={hand.cards.map((one) => ({
            to: `/sets/${one.code}`,
            code: `${exposure(one.exposure_s, one.exposure_step_s)}${THIN}s`,
            words: `${one.material} on ${one.printer}, ${one.layer_height_um}${THIN}µm · ${one.code}`,
          }))}
        />
      </div>
    </>
  );
}

/** The code on a coupon, a bottle, a print: typed where no label can be scanned. */
function CodeInHand() {
  const [code, setCode] = useState("");
  const navigate = useNavigate();
  return (
    <Form
      className="panel"
      aria-label="A code in the hand"
      onSubmit={(event) => {
        event.preventDefault();
        if (code.trim()) void navigate(`/at/${encodeURIComponent(code.trim())}`);
      }}
    >
      <Form.Label htmlFor="code-in-hand">Code in your hand</Form.Label>
      <div className="d-flex gap-2">
        <Form.Control
          id="code-in-hand"
          className="num"
          value={code}
          autoCapitalize="characters"
          autoComplete="off"
          onChange={(event) => setCode(event.target.value)}
        />
        <Button type="submit" disabled={!code.trim()}>
          Open
        </Button>
      </div>
      <Form.Text>Or point the phone’s own camera at its label.</Form.Text>
    </Form>
  );
}

type Row = { to: string; code: string; words: string };

function Codes({
  title,
  none,
  rows,
  children,
}: {
  title: string;
  none: string;
  rows: Row[];
  children?: React.ReactNode;
}) {
  const [all, setAll] = useState(false);
  const shown = all ? rows : rows.slice(0, FIRST);
  return (
    <section className="panel" aria-label={title}>
      <h2>{title}</h2>
      {rows.length === 0 && <p className="text-secondary">{none}</p>}
      {shown.map((row) => (
        <Link key={row.to} className="line" to={row.to}>
          <b className="num">{row.code}</b>
          <span>{row.words}</span>
        </Link>
      ))}
      {rows.length > shown.length && (
        <Button variant="quiet" className="w-100" onClick={() => setAll(true)}>
          All {plural(rows.length, "line")}
        </Button>
      )}
      {children}
    </section>
  );
}

const FIRST = 6;
