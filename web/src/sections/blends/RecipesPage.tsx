import { Link, useNavigate } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { type Schemas } from "../../shared/api/client";
import { EmptyState } from "../../shared/EmptyState";
import { day, millilitres, decimal } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
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
  off: "given up",
};
const share = (fraction: number) => `${decimal(100 * fraction, fraction < 0.1 ? 1 : 0)} %`;
export const partsOf = (blend: Schemas["BlendView"]) =>
  blend.parts.map((one) => `${share(one.fraction)} ${one.part}`).join(", ");

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
            <section className="panel" aria-label="Recipes">
              <h2>Recipes</h2>
              <ul className="plain-list">
                {held.map((one) => (
                  <li key={one.id}>
                    <Link to={`/blend/recipes/${one.id}`}>{one.name}</Link>{" "}
                    <span className="text-secondary">
                      {partsOf(one)}
                      {one.origin === "vat" && ", named in a vat"}
                    </span>
                    {one.forbidden_reason && <span className="found"> ▲ against a rule: {one.forbidden_reason}</span>}
                  </li>
                ))}
              </ul>
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
        <section className="panel mt-3" aria-label="Batches">
          <h2>Batches</h2>
          <ul className="plain-list">
            {batches.data.map((one) => (
              <li key={one.id}>
                <Link className="num" to={`/blend/batches/${one.code}`}>
                  {one.code}
                </Link>{" "}
                {one.blend}, {millilitres(one.volume_ml)}, {day(one.planned_at)} <b>{NEXT[one.next]}</b>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
