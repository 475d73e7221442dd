import { Link, useNavigate } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { type Schemas } from "../../shared/api/client";
import { EmptyState } from "../../shared/EmptyState";
import { day, decimal, shareOf } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { type Column, DataTable } from "../../shared/table/DataTable";
import { BlendTabs } from "./BlendTabs";
import { useBlends } from "./targets";
import "./blend.scss";
import { useGet } from "../../shared/api/useGet";

export const NEXT: Record<string, string> = {
  cup: "cup trial first",
  look: "look at the cup",
  pour: "pour it",
  stir: "stir it",
  done: "ready",
  off: "abandoned",
};
export const partsOf = (blend: Schemas["BlendView"]) =>
  blend.parts.map((one) => `${shareOf(one.fraction)} ${one.part}`).join(", ");

const RECIPES: Column<Schemas["BlendView"]>[] = [
  {
    name: "Recipe",
    value: (row) => row.name,
    cell: (row) => <Link to={`/blend/recipes/${row.id}`}>{row.name}</Link>,
  },
  { name: "Of", value: partsOf },
  {
    name: "Note",
    value: (row) =>
      row.forbidden_reason ? `against a rule: ${row.forbidden_reason}` : row.origin === "vat" ? "named in a vat" : "",
    cell: (row) =>
      row.forbidden_reason ? (
        <span className="found">▲ against a rule: {row.forbidden_reason}</span>
      ) : (
        row.origin === "vat" && "named in a vat"
      ),
  },
];
const BATCHES: Column<Schemas["BatchView"]>[] = [
  {
    name: "Batch",
    value: (row) => row.code,
    cell: (row) => (
      <Link className="num" to={`/blend/batches/${row.code}`}>
        {row.code}
      </Link>
    ),
  },
  { name: "Recipe", value: (row) => row.blend },
  { name: "Amount, ml", value: (row) => row.volume_ml, cell: (row) => decimal(row.volume_ml, 0), number: true },
  { name: "Planned", value: (row) => row.planned_at, cell: (row) => day(row.planned_at) },
  { name: "Next", value: (row) => NEXT[row.next] ?? row.next, cell: (row) => <b>{NEXT[row.next]}</b> },
];

/** Recipes of this shop, and the batches that were mixed of them. */
export default function RecipesPage() {
  const navigate = useNavigate();
  const blends = useBlends();
  const batches = useGet("/api/batches", { params: { query: {} } }, { select: (answer) => answer.items });
  usePageKeys([{ keys: "n", does: "write a recipe", run: () => void navigate("/blend/new") }]);
  return (
    <>
      <PageHead title="Recipes and batches">
        <Link className="btn btn-primary d-inline-flex align-items-center" to="/blend/new">
          Write a recipe
        </Link>
      </PageHead>
      <BlendTabs />
      <Loaded query={blends}>
        {(held) =>
          held.length ? (
            <section aria-label="Recipes">
              <h2>Recipes</h2>
              <DataTable name="Recipes" rows={held} columns={RECIPES} id={(one) => one.id} part="recipes" />
            </section>
          ) : (
            <EmptyState purpose="A recipe turns pouring by eye into fractions: it says what to pour, what it costs, what exposure to expect, and what must not be mixed.">
              <Link className="btn btn-primary" to="/blend/new">
                Write a recipe
              </Link>
            </EmptyState>
          )
        }
      </Loaded>
      {batches.data && batches.data.length > 0 && (
        <section className="mt-3" aria-label="Batches">
          <h2>Batches</h2>
          <DataTable name="Batches" rows={batches.data} columns={BATCHES} id={(one) => one.id} part="batches" />
        </section>
      )}
    </>
  );
}
