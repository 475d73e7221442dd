import { useState } from "react";
import Button from "react-bootstrap/Button";
import Table from "react-bootstrap/Table";
import { Link, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { NumberField } from "../../shared/fields/NumberField";
import { millilitres, moment, plural, THIN, decimal } from "../../shared/format";
import { LabelsDialog } from "../../shared/labels/LabelsDialog";
import { Loaded } from "../../shared/Loading";
import { ReasonDialog } from "../../shared/ReasonDialog";
import { Trouble } from "../../shared/Trouble";
import { NEXT } from "./RecipesPage";
import "../../shared/table/table.scss";
import "./blend.scss";
import { useGet } from "../../shared/api/useGet";
import { wordsOf } from "../../shared/words";

type Batch = Schemas["BatchView"];

/** One mixing: cup trial, pours on a scale, stir; then it is a bottle. */
export default function BatchPage() {
  const { code = "" } = useParams();
  const batch = useGet("/api/batches/{batch_id}", { params: { path: { batch_id: code } } });
  return (
    <Loaded page query={batch}>
      {(held) => <Page key={held.next} batch={held} />}
    </Loaded>
  );
}

function Page({ batch }: { batch: Batch }) {
  const say = useSay();
  const [giving, setGiving] = useState(false);
  const [labels, setLabels] = useState(false);
  const path = { params: { path: { batch_id: batch.id } } };
  const reinstate = useSend(() => body(POST("/api/batches/{batch_id}/reinstate", path)));
  const cancel = useSend(
    (reason: string) => body(POST("/api/batches/{batch_id}/cancel", { ...path, body: { reason } })),
    () => {
      setGiving(false);
      say(`${batch.code} is abandoned.`, () => reinstate.mutate(undefined));
    },
  );
  const pouring = batch.next === "pour" || batch.next === "cup" || batch.next === "look";
  return (
    <>
      <PageHead
        title={`Batch ${batch.code}`}
        sub={`${batch.blend}, ${millilitres(batch.volume_ml)} · ${NEXT[batch.next]}`}
      >
        <Link className="btn btn-quiet d-inline-flex align-items-center" to={`/blend/recipes/${batch.blend_id}`}>
          The recipe
        </Link>
        <Button variant="quiet" onClick={() => setLabels(true)}>
          Label
        </Button>
        {pouring && (
          <Button variant="quiet" onClick={() => setGiving(true)}>
            Abandon batch…
          </Button>
        )}
        {batch.cancelled_at && (
          <Button variant="quiet" onClick={() => reinstate.mutate(undefined)}>
            Resume the batch
          </Button>
        )}
      </PageHead>
      <p className="caution">
        Gloves, eye protection, ventilation; no heater near open solvent. Makers rarely approve of mixtures: their word
        on safety no longer holds.
      </p>
      {batch.cancelled_reason && <p className="trouble">Abandoned: {batch.cancelled_reason}</p>}
      <div className="d-grid gap-3 one-column">
        <CupTrial batch={batch} />
        <Pours batch={batch} />
        <Stir batch={batch} />
      </div>
      {labels && (
        <LabelsDialog
          title={`Label of ${batch.code}`}
          href={(paper) => `/api/batches/${batch.code}/label?${paper}`}
          onClose={() => setLabels(false)}
        />
      )}
      {giving && (
        <ReasonDialog
          title={`Abandon ${batch.code}`}
          label="Why"
          action="Abandon it"
          saving={cancel.isPending}
          error={cancel.error}
          onClose={() => setGiving(false)}
          onSave={(reason) => cancel.mutate(reason)}
        />
      )}
    </>
  );
}

/** A timer of this batch, in the top bar. */
function useTimer(batch: Batch) {
  return useSend(({ name, minutes }: { name: string; minutes: number }) =>
    body(POST("/api/timers", { body: { name, seconds: 60 * minutes, place: `/blend/batches/${batch.code}` } })),
  );
}

type Finding = Schemas["CupInput"]["finding"];
const FINDINGS = wordsOf<Finding>({ fine: "fine", separated: "separated", gelled: "gelled" });

function CupTrial({ batch }: { batch: Batch }) {
  const say = useSay();
  const timer = useTimer(batch);
  const path = { params: { path: { batch_id: batch.id } } };
  const cup = useSend(
    () => body(POST("/api/batches/{batch_id}/cup", path)),
    () => {
      say("The cup is standing; the timer says when to look.");
      timer.mutate({ name: `Look at the cup of ${batch.code}`, minutes: 60 * batch.cup_hours });
    },
  );
  const look = useSend((finding: Finding) =>
    body(POST("/api/batches/{batch_id}/cup-finding", { ...path, body: { finding } })),
  );
  return (
    <section className="panel" aria-label="Cup trial">
      <h2>1. Cup trial</h2>
      {batch.next === "cup" ? (
        <>
          <p>
            Mix a spoonful in the same shares in a clear cup, cover it from light and let it stand {batch.cup_hours}{" "}
            hours.
          </p>
          <Button onClick={() => cup.mutate(undefined)}>Trial started</Button>
        </>
      ) : batch.next === "look" ? (
        <>
          <p>Standing since {batch.cup_at && moment(batch.cup_at)}. What does it look like?</p>
          <div className="d-flex flex-wrap gap-2">
            {FINDINGS.map(([one, word]) => (
              <Button key={one} variant={one === "fine" ? "primary" : "quiet"} onClick={() => look.mutate(one)}>
                {word}
              </Button>
            ))}
          </div>
        </>
      ) : (
        <p className="mb-0">
          {batch.cup_finding
            ? `It looked ${batch.cup_finding}${batch.cup_looked_at ? `, ${moment(batch.cup_looked_at)}` : ""}.`
            : "None was made."}
        </p>
      )}
      {batch.cup_stood_h !== null && batch.cup_stood_h < batch.cup_hours && (
        <p className="caution mt-2 mb-0">
          It was looked at after{" "}
          {batch.cup_stood_h < 1 ? "less than an hour" : plural(Math.floor(batch.cup_stood_h), "hour")};{" "}
          {batch.cup_hours} are asked for. What separates slowly was not seen.
        </p>
      )}
      <Trouble error={cup.error ?? look.error} className="mt-2" />
    </section>
  );
}

function Pours({ batch }: { batch: Batch }) {
  const say = useSay();
  const timer = useTimer(batch);
  // What the scale shows is what is typed, where every part has a density.
  const weighed = batch.pours.every((one) => one.planned_g !== null);
  const [poured, setPoured] = useState<(number | null)[]>(
    batch.pours.map((one) => Math.round(10 * (weighed ? (one.planned_g ?? 0) : one.planned_ml)) / 10),
  );
  const pour = useSend(
    () =>
      body(
        POST("/api/batches/{batch_id}/poured", {
          params: { path: { batch_id: batch.id } },
          body: {
            poured_ml: weighed ? null : poured.map((one) => one ?? 0),
            poured_g: weighed ? poured.map((one) => one ?? 0) : null,
          },
        }),
      ),
    (made) => {
      say(`Poured: bottle ${made.bottle_code}.`);
      timer.mutate({ name: `Stir ${batch.code}`, minutes: batch.stir_min });
    },
  );
  const errors = pour.error?.fields ?? {};
  return (
    <section className="panel" aria-label="Pours">
      <h2>2. Pour, in this order</h2>
      <div className="data-table" style={{ overflowX: "auto" }}>
        <Table aria-label="Pours">
          <thead>
            <tr>
              <th>Part</th>
              <th>From</th>
              <th className="text-end">Volume</th>
              <th className="text-end">Mass</th>
              <th className="text-end">Scale shows</th>
              <th className="text-end">Really poured</th>
            </tr>
          </thead>
          <tbody>
            {batch.pours.map((one, index) => (
              <tr key={one.number}>
                <td className="wide">
                  {one.number}. {one.part}
                </td>
                <td data-name="From">{one.bottle_code ? `${one.bottle_code}, lot ${one.lot}` : "as it stands"}</td>
                <td data-name="Volume" className="num text-end">
                  {millilitres(one.planned_ml)}
                </td>
                <td data-name="Mass" className="num text-end">
                  {one.planned_g === null ? "–" : `${decimal(one.planned_g, 1)}${THIN}g`}
                </td>
                <td data-name="Scale shows" className="num text-end">
                  {one.total_g === null ? "–" : `${decimal(one.total_g, 1)}${THIN}g`}
                </td>
                <td className="text-end" style={{ minWidth: 150 }}>
                  {batch.next === "pour" ? (
                    <NumberField
                      hideLabel
                      label={`Really poured, ${one.part}`}
                      unit={weighed ? "g" : "ml"}
                      value={poured[index] ?? null}
                      onChange={(value) => setPoured(poured.map((held, at) => (at === index ? value : held)))}
                      error={errors[`poured_ml.${index}`] ?? errors[`poured_g.${index}`]}
                      small
                    />
                  ) : (
                    one.poured_ml !== null &&
                    one.real_fraction !== null && (
                      <span className="num">
                        {millilitres(one.poured_ml)}, {decimal(100 * one.real_fraction, 1)} %
                        {one.off && <span className="found"> ▲ off by more than {batch.tolerance_pct} %</span>}
                      </span>
                    )
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
      {batch.next === "pour" && <Button onClick={() => pour.mutate(undefined)}>Poured</Button>}
      {(batch.next === "cup" || batch.next === "look") && (
        <p className="text-secondary mb-0">The cup trial comes first.</p>
      )}
      <Trouble
        error={pour.error && !Object.keys(errors).some((name) => /^poured_(ml|g)\./.test(name)) ? pour.error : null}
        className="mt-2"
      />
      {batch.pours.some((one) => one.off) && (
        <p className="caution mt-2 mb-0">
          The real shares differ from the recipe by more than was allowed: the vat will carry the real ones. Calibrate
          it as its own material where it matters.
        </p>
      )}
    </section>
  );
}

function Stir({ batch }: { batch: Batch }) {
  const stirred = useSend(() =>
    body(POST("/api/batches/{batch_id}/stirred", { params: { path: { batch_id: batch.id } } })),
  );
  return (
    <section className="panel" aria-label="Stir">
      <h2>3. Stir</h2>
      {batch.next === "stir" ? (
        <>
          <p>Stir for {batch.stir_min} minutes, and again when it was left standing. The timer runs.</p>
          <Button onClick={() => stirred.mutate(undefined)}>Stirred</Button>
        </>
      ) : batch.next === "done" ? (
        <p className="mb-0">
          Stirred {batch.stirred_at && moment(batch.stirred_at)}. It is in bottle{" "}
          <b className="num">{batch.bottle_code}</b> now:{" "}
          <Link className="text-decoration-underline" to="/blend">
            fill a vat
          </Link>
          , or{" "}
          <Link className="text-decoration-underline" to={`/calibrate/new?material=${batch.blend_id}`}>
            calibrate it
          </Link>
          .
        </p>
      ) : (
        <p className="text-secondary mb-0">After it is poured.</p>
      )}
      <Trouble error={stirred.error} className="mt-2" />
    </section>
  );
}
