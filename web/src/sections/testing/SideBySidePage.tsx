import { EmptyState } from "../../shared/EmptyState";
import { Link } from "react-router";
import { PageHead } from "../../app/PageHead";
import { plural } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { PropertiesByMaterial } from "./PropertiesByMaterial";
import { TestTabs } from "./TestTabs";
import { WeightedIndex } from "./WeightedIndex";
import "./test.scss";
import { useGet } from "../../shared/api/useGet";

/** All properties of all materials that were tested, and one weighted index that shows what it hangs on. */
export default function SideBySidePage() {
  const table = useGet("/api/properties");
  return (
    <>
      <PageHead title="Side by side" sub={table.data && plural(table.data.materials.length, "material")} />
      <TestTabs />
      <Loaded query={table}>
        {(held) =>
          held.materials.length ? (
            <div className="side-by-side d-grid gap-3">
              <PropertiesByMaterial table={held} />
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
