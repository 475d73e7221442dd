import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link, useNavigate, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { day, millilitres } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { Findings } from "./Findings";
import { RecipeExpects } from "./RecipeExpects";
import { NEXT, partsOf } from "./RecipesPage";
import "./blend.scss";
import { useGet } from "../../shared/api/useGet";

/** One recipe: what to expect of it, its batches, and the way to its calibration. */
export default function BlendPage() {
  const { id = "" } = useParams();
  const blend = useGet("/api/blends/{blend_id}", { params: { path: { blend_id: id } } });
  return (
    <Loaded page query={blend}>
      {(held) => <Page blend={held} />}
    </Loaded>
  );
}

function Page({ blend }: { blend: Schemas["BlendView"] }) {
  const say = useSay();
  const navigate = useNavigate();
  const [volume, setVolume] = useState<number | null>(400);
  const asked = {
    parts: blend.parts.map((one) => ({ material_id: one.part_id, fraction: one.fraction })),
    by: "volume" as const,
    batch_ml: volume,
    part_ml: null,
  };
  const quote = useQuery({
    queryKey: ["recipe-quote", asked],
    queryFn: () => body(POST("/api/blends/quote", { body: asked })),
  });
  const batches = useGet(
    "/api/batches",
    { params: { query: { blend_id: blend.id } } },
    { select: (answer) => answer.items },
  );
  const path = { params: { path: { blend_id: blend.id } } };
  const restore = useSend(() => body(POST("/api/blends/{blend_id}/restore", path)));
  const retire = useSend(
    () => body(POST("/api/blends/{blend_id}/retire", path)),
    () => {
      say(`${blend.name} is retired.`, () => restore.mutate(undefined));
      void navigate("/blend/recipes");
    },
  );
  return (
    <>
      <PageHead title={blend.name} sub={`${partsOf(blend)} · ${blend.initials}, ${day(blend.created_at)}`}>
        <Link className="btn btn-quiet d-inline-flex align-items-center" to={`/calibrate/new?material=${blend.id}`}>
          Calibrate
        </Link>
        <Link className="btn btn-quiet d-inline-flex align-items-center" to={`/materials/${blend.id}`}>
          All that is known
        </Link>
        <Button variant="quiet" onClick={() => retire.mutate(undefined)}>
          Retire
        </Button>
      </PageHead>
      {blend.forbidden_reason && <p className="trouble">Mixed against a rule: {blend.forbidden_reason}</p>}
      <Findings findings={blend.findings} />
      <div className="two-columns">
        <section className="panel" aria-label="Batches">
          <h2>Batches</h2>
          {batches.data?.length ? (
            <ul className="plain-list">
              {batches.data.map((one) => (
                <li key={one.id}>
                  <Link className="num" to={`/blend/batches/${one.code}`}>
                    {one.code}
                  </Link>{" "}
                  {millilitres(one.volume_ml)}, {day(one.planned_at)} <b>{NEXT[one.next]}</b>
                </li>
              ))}
            </ul>
          ) : (
            <p className="text-secondary">None was mixed yet.</p>
          )}
          <PlanBatch blend={blend} volume={volume} onVolume={setVolume} />
        </section>
        <RecipeExpects quote={quote.data} batch={volume} />
      </div>
    </>
  );
}

function PlanBatch({
  blend,
  volume,
  onVolume,
}: {
  blend: Schemas["BlendView"];
  volume: number | null;
  onVolume: (volume: number | null) => void;
}) {
  const navigate = useNavigate();
  const [tolerance, setTolerance] = useState<number | null>(1);
  const [chosen, setChosen] = useState<Record<string, string>>({});
  const bottles = useGet(
    "/api/bottles",
    { params: { query: { retired: false, limit: 200, after: "" } } },
    { select: (answer) => answer.items },
  );
  const plan = useSend(
    (_: null, headers) =>
      body(
        POST("/api/blends/{blend_id}/batches", {
          params: { path: { blend_id: blend.id } },
          body: {
            volume_ml: volume ?? 0,
            tolerance_pct: tolerance ?? 1,
            bottles: Object.fromEntries(Object.entries(chosen).filter(([, id]) => id)),
            note: "",
          },
          headers,
        }),
      ),
    (made) => void navigate(`/blend/batches/${made.code}`),
  );
  const errors = plan.error?.fields ?? {};
  return (
    <Form
      noValidate
      className="d-grid gap-2"
      aria-label="Plan a batch"
      onSubmit={(event) => {
        event.preventDefault();
        plan.mutate(null);
      }}
    >
      <div className="two">
        <NumberField label="A new batch of" unit="ml" value={volume} onChange={onVolume} error={errors.volume_ml} />
        <NumberField
          label="Shares may be off by"
          unit="%"
          value={tolerance}
          onChange={setTolerance}
          error={errors.tolerance_pct}
        />
      </div>
      {blend.parts.map((one) => (
        <Choice
          key={one.part_id}
          label={`${one.part} from`}
          value={chosen[one.part_id] ?? ""}
          none="the first bottle that holds enough"
          onChange={(id) => setChosen({ ...chosen, [one.part_id]: id })}
          error={errors[`bottles.${one.part_id}`]}
          options={(bottles.data ?? [])
            .filter((held) => held.material_id === one.part_id)
            .map((held) => [held.id, `${held.code}, lot ${held.lot}, ${millilitres(held.left_ml)} left`])}
        />
      ))}
      <Trouble error={plan.error && !Object.keys(errors).length ? plan.error : null} />
      <Button type="submit" disabled={!volume || plan.isPending}>
        Plan the batch
      </Button>
    </Form>
  );
}
