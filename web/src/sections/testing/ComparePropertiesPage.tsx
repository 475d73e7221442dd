import { EmptyState } from "../../shared/EmptyState";
import { useState } from "react";
import Form from "react-bootstrap/Form";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { Choice } from "../../shared/fields/Choice";
import { PageHead } from "../../app/PageHead";
import { plural } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { PropertiesByMaterial } from "./PropertiesByMaterial";
import { PropertyDots } from "./PropertyDots";
import { TestTabs } from "./TestTabs";
import { WeightedIndex } from "./WeightedIndex";
import "./test.scss";
import { useGet } from "../../shared/api/useGet";

/** Drawn, with the limits of a brief where one is chosen; a switch shows the numbers instead. */
function Properties({ table }: { table: Schemas["PropertyTable"] }) {
  const [search, setSearch] = useSearchParams();
  const briefs = useGet("/api/briefs", { params: { query: { limit: 200, after: "" } } }).data?.items ?? [];
  const brief = briefs.find((one) => one.code === search.get("brief"));
  const remember = (name: string, value: string) =>
    setSearch(
      (before) => {
        if (value) before.set(name, value);
        else before.delete(name);
        return before;
      },
      { replace: true },
    );
  const [numbers, setNumbers] = useState(() => search.has("numbers"));
  return (
    <>
      <div className="d-flex flex-wrap gap-3 align-items-end no-print">
        <Choice
          label="Limits of"
          value={brief?.code ?? ""}
          none="no brief"
          options={briefs.map((one) => [one.code, one.name])}
          onChange={(code) => remember("brief", code)}
        />
        <Form.Check
          id="numbers"
          label="Show the numbers"
          className="mb-2"
          checked={numbers}
          onChange={(event) => {
            setNumbers(event.target.checked);
            remember("numbers", event.target.checked ? "1" : "");
          }}
        />
      </div>
      {numbers ? (
        <PropertiesByMaterial table={table} />
      ) : (
        <section className="panel p-0" aria-label="Properties by material">
          <PropertyDots table={table} limits={brief?.requirements ?? []} />
        </section>
      )}
    </>
  );
}

/** All properties of all materials that were tested, and one weighted index that shows what it hangs on. */
export default function ComparePropertiesPage() {
  const table = useGet("/api/properties");
  return (
    <>
      <PageHead title="Compare properties" sub={table.data && plural(table.data.materials.length, "material")} />
      <TestTabs />
      <Loaded query={table}>
        {(held) =>
          held.materials.length ? (
            <div className="side-by-side d-grid gap-3">
              <Properties table={held} />
              <WeightedIndex table={held} />
            </div>
          ) : (
            <EmptyState purpose="Every property of every material stands here once it was tested: no single number stands alone.">
              <Link className="btn btn-primary" to="/test/new">
                Plan a test
              </Link>
            </EmptyState>
          )
        }
      </Loaded>
    </>
  );
}
