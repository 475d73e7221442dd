import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { type Schemas } from "../../shared/api/client";
import { plural, THIN, trueMinus } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { useGet } from "../../shared/api/useGet";

/** Two versions line by line; what changed is marked by a sign and stands first in sight. */
export function CompareSets({
  card,
  other,
  onClose,
}: {
  card: Schemas["SetCard"];
  other: string;
  onClose: () => void;
}) {
  const [all, setAll] = useState(false);
  const query = useGet("/api/sets/{id_or_code}/compare", {
    params: { path: { id_or_code: card.code }, query: { other } },
  });
  return (
    <section className="panel mb-3 no-print" aria-label="Two versions">
      <Loaded query={query}>
        {(held) => (
          <>
            <div className="d-flex flex-wrap gap-3 align-items-center mb-2">
              <h2 className="m-0 me-auto">
                {held.this} beside {held.other}:{" "}
                {held.changed ? `${plural(held.changed, "line")} changed` : "no line changed"}
              </h2>
              <Form.Check
                id="all-lines"
                label="All lines"
                checked={all}
                onChange={(event) => setAll(event.target.checked)}
              />
              <Button size="sm" variant="quiet" onClick={onClose}>
                Close
              </Button>
            </div>
            <table className="table table-sm compare-sets mb-0">
              <thead>
                <tr>
                  <th scope="col">Line</th>
                  <th scope="col">{held.this}</th>
                  <th scope="col">{held.other}</th>
                </tr>
              </thead>
              <tbody>
                {held.lines
                  .filter((line) => all || line.changed)
                  .map((line) => (
                    <tr key={`${line.group} ${line.name}`} className={line.changed ? "changed" : ""}>
                      <th scope="row">
                        {line.changed && "≠ "}
                        {line.group === "Finish" ? `Finish ${line.name}` : line.name}
                      </th>
                      <td className="num">
                        {trueMinus(line.this)}
                        {line.unit && line.this !== "—" && `${THIN}${line.unit}`}
                      </td>
                      <td className="num">
                        {trueMinus(line.other)}
                        {line.unit && line.other !== "—" && `${THIN}${line.unit}`}
                      </td>
                    </tr>
                  ))}
              </tbody>
            </table>
          </>
        )}
      </Loaded>
    </section>
  );
}
