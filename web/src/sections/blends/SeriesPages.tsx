import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link, useNavigate } from "react-router";
import { PageHead } from "../../app/PageHead";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { EmptyState } from "../../shared/EmptyState";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { BlendTabs } from "./BlendTabs";
import { useIngredients } from "./targets";
import "./blend.scss";
import { useGet } from "../../shared/api/useGet";

/** Series of fractions: find the one that meets the brief, do not guess it. */
export default function SeriesListPage() {
  const series = useGet("/api/blend-series", {}, { select: (answer) => answer.items });
  const [adding, setAdding] = useState(false);
  return (
    <>
      <PageHead title="Series">
        <Button onClick={() => setAdding(true)}>Start a series</Button>
      </PageHead>
      <BlendTabs />
      {adding && <NewSeries onClose={() => setAdding(false)} />}
      <Loaded query={series}>
        {(held) =>
          held.length ? (
            <section className="panel" aria-label="Series">
              <ul className="plain-list">
                {held.map((one) => (
                  <li key={one.id}>
                    <Link to={`/blend/series/${one.code}`}>{one.name}</Link>
                    <span className="text-secondary">
                      {" · "}
                      {one.additive} in {one.base}
                      {one.brief && `, for ${one.brief}`}
                    </span>
                  </li>
                ))}
              </ul>
            </section>
          ) : (
            !adding && (
              <EmptyState purpose="A series tries fractions of one additive, each calibrated and tested as a material of its own, and says which fraction meets the brief.">
                <Button onClick={() => setAdding(true)}>Start a series</Button>
              </EmptyState>
            )
          )
        }
      </Loaded>
    </>
  );
}

function NewSeries({ onClose }: { onClose: () => void }) {
  const navigate = useNavigate();
  const ingredients = useIngredients();
  const briefs = useGet(
    "/api/briefs",
    { params: { query: { retired: false, limit: 200, after: "" } } },
    { select: (answer) => answer.items },
  );
  const entry = useEntry({
    name: "",
    base_id: "",
    additive_id: "",
    brief_id: "",
    max_fraction: 30 as number | null,
  });
  const { values } = entry;
  const send = useSend(
    (_: null, headers) =>
      body(
        POST("/api/blend-series", {
          body: { ...values, brief_id: values.brief_id || null, max_fraction: (values.max_fraction ?? 0) / 100 },
          headers,
        }),
      ),
    (made) => void navigate(`/blend/series/${made.code}`),
  );
  const { field, elsewhere } = entry.checked(send.error);
  const options = (ingredients.data ?? []).map((one) => [one.id, one.name] as [string, string]);
  return (
    <Form
      noValidate
      className="panel mb-3 d-grid gap-3"
      aria-label="Start a series"
      onSubmit={(event) => {
        event.preventDefault();
        send.mutate(null);
      }}
    >
      <div className="three">
        <TextField label="Name" {...field("name")} placeholder="Tough sensor clip" />
        <Choice label="Base" {...field("base_id")} options={options} />
        <Choice label="Additive" {...field("additive_id")} options={options} />
        <NumberField label="Up to" unit="%" {...field("max_fraction")} />
        <Choice
          label="Brief"
          {...field("brief_id")}
          none="none yet"
          options={(briefs.data ?? []).map((one) => [one.id, one.name])}
        />
      </div>
      <Trouble error={elsewhere} />
      <div className="d-flex gap-2">
        <Button
          type="submit"
          disabled={send.isPending || !values.base_id || !values.additive_id || !values.name.trim()}
        >
          Start it
        </Button>
        <Button variant="quiet" onClick={onClose}>
          Cancel
        </Button>
      </div>
    </Form>
  );
}
