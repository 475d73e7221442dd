import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { EmptyState } from "../../shared/EmptyState";
import { day, plural, THIN, asTyped } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { BriefForm } from "./BriefForm";
import { type Brief, useBriefs } from "./model";
import { TestTabs } from "./TestTabs";
import "./test.scss";
import { useGet } from "../../shared/api/useGet";
import { signOfUnit } from "../../shared/labForm";

/** What applications demand; each requirement leads to the test that answers it. */
export default function BriefsPage() {
  const briefs = useBriefs();
  const properties = useGet("/api/test-properties", {}, { staleTime: Infinity, select: (answer) => answer.items });
  const [search, setSearch] = useSearchParams();
  const [chosen, setChosen] = useState<Brief | "new" | null>(search.get("new") ? "new" : null);
  const editing = chosen ?? briefs.data?.find((one) => one.id === search.get("edit")) ?? null;
  const setEditing = (next: Brief | "new" | null) => {
    setSearch({}, { replace: true });
    setChosen(next);
  };
  usePageKeys([{ keys: "n", does: "write a brief", run: () => setEditing("new") }]);
  return (
    <>
      <PageHead title="Briefs" sub={briefs.data && plural(briefs.data.length, "brief")}>
        <Button onClick={() => setEditing("new")}>Write a brief</Button>
      </PageHead>
      <TestTabs />
      {editing && (
        <Loaded query={properties}>
          {(held) => (
            <BriefForm
              key={editing === "new" ? "new" : editing.id}
              brief={editing === "new" ? null : editing}
              properties={held}
              onClose={() => setEditing(null)}
            />
          )}
        </Loaded>
      )}
      <Loaded query={briefs}>
        {(held) =>
          held.length || editing ? (
            <div className="d-grid gap-3">
              {held
                .filter((one) => editing === "new" || one.id !== editing?.id)
                .map((one) => (
                  <BriefPanel key={one.id} brief={one} onEdit={() => setEditing(one)} />
                ))}
            </div>
          ) : (
            <EmptyState purpose="A brief says what an application requires of a material, property by property: tests are planned for it and results are held against it.">
              <Button onClick={() => setEditing("new")}>Write a brief</Button>
            </EmptyState>
          )
        }
      </Loaded>
    </>
  );
}

function BriefPanel({ brief, onEdit }: { brief: Brief; onEdit: () => void }) {
  const say = useSay();
  const path = { params: { path: { brief_id: brief.id } } };
  const restore = useSend(() => body(POST("/api/briefs/{brief_id}/restore", path)));
  const retire = useSend(
    () => body(POST("/api/briefs/{brief_id}/retire", path)),
    () => say(`${brief.name} is retired.`, () => restore.mutate(undefined)),
  );
  return (
    <section className="panel" aria-label={brief.name}>
      <div className="d-flex flex-wrap gap-2 align-items-baseline">
        <h2 className="me-auto mb-1">{brief.name}</h2>
        <span className="text-secondary small">
          <span className="num">{brief.code}</span>, version {brief.version}, {brief.initials}, {day(brief.created_at)}
        </span>
        <Link className="text-decoration-underline" to={`/qualify/${brief.code}`}>
          Candidates
        </Link>
        <Button variant="link" className="p-0" onClick={onEdit}>
          Change…
        </Button>
        <Button variant="link" className="p-0" onClick={() => retire.mutate(undefined)}>
          Retire
        </Button>
      </div>
      {brief.use && <p className="text-secondary">{brief.use}</p>}
      <ul className="mb-0">
        {brief.requirements.map((one) => (
          <li key={`${one.property}${one.at}`}>
            <b>{one.kind}</b>: {one.name} at {one.at}{" "}
            <span className="num">
              {asTyped(one.limit, one.unit)}
              {THIN}
              {signOfUnit(one.unit)}
            </span>{" "}
            {one.note && <span className="text-secondary">({one.note})</span>}{" "}
            <Link
              className="text-decoration-underline"
              to={
                one.property.startsWith("set.")
                  ? `/qualify/${brief.code}`
                  : `/test/new?method=${one.property.split(".")[0]}&brief=${brief.id}`
              }
            >
              {one.property.startsWith("set.") ? "sets that meet it" : "plan the test"}
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
