import Button from "react-bootstrap/Button";
import Table from "react-bootstrap/Table";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { decimal, plural, THIN, inUnit } from "../../shared/format";
import { csv, save } from "../../shared/table/csv";
import { signOfUnit } from "../../shared/labForm";

/** The newest result of every property of every material that was tested. */
export function PropertiesByMaterial({ table }: { table: Schemas["PropertyTable"] }) {
  // A file keeps the units of its column and the decimal point.
  const inFile = (cell: Schemas["PropertyCell"] | undefined) =>
    cell ? (cell.value === null ? cell.words : cell.value.toFixed(cell.decimals)) : "";
  return (
    <section className="panel p-0" aria-label="Properties by material">
      <div className="d-flex p-2 no-print">
        <Button
          variant="quiet"
          size="sm"
          className="ms-auto"
          onClick={() =>
            save(
              "properties.csv",
              csv(
                ["Property", "Unit", ...table.materials.map((one) => one.material)],
                table.columns.map((column) => [
                  `${column.name}, ${column.method_name}`,
                  column.unit,
                  ...table.materials.map((one) => inFile(one.cells[column.key])),
                ]),
              ),
            )
          }
        >
          Export CSV
        </Button>
      </div>
      <div className="px-2" style={{ overflowX: "auto" }}>
        <Table aria-label="Properties by material">
          <thead>
            <tr>
              <th className="property">Property</th>
              {table.materials.map((one) => (
                <th key={one.material_id} className="text-end">
                  {one.kind === "reference" ? (
                    one.material
                  ) : (
                    <Link to={`/materials/${one.material_id}`}>{one.material}</Link>
                  )}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {table.columns.map((column) => (
              <tr key={column.key}>
                <th scope="row" className="property">
                  {column.name}{" "}
                  <span className="text-secondary small fw-normal d-block">
                    {[column.method_name.toLowerCase(), signOfUnit(column.unit), `${column.better} is better`].join(
                      ", ",
                    )}
                  </span>
                  {column.mixed && <span className="small named fw-normal d-block">{column.mixed}</span>}
                </th>
                {table.materials.map((one) => (
                  <td key={one.material_id} className="text-end">
                    <CellOf cell={one.cells[column.key]} column={column} />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
    </section>
  );
}

function CellOf({ cell, column }: { cell: Schemas["PropertyCell"] | undefined; column: Schemas["Column"] }) {
  if (!cell) return <span className="text-secondary">–</span>;
  return (
    <>
      <Link className="num" to={`/test/${cell.test_code}`} title={cell.words}>
        {cell.value === null ? "none broke" : inUnit(cell.value, column.unit, cell.decimals)}
      </Link>
      <span className="small text-secondary d-block num">
        {cell.ci &&
          `${inUnit(cell.ci[0], column.unit, cell.decimals)}…${inUnit(cell.ci[1], column.unit, cell.decimals)}, `}
        n{THIN}={THIN}
        {cell.n}
      </span>
      {cell.prints !== null && (
        <span className={`small d-block ${cell.prints === 1 ? "named" : "text-secondary"}`}>
          {cell.prints === 1 ? "one print: of this print only" : plural(cell.prints, "print")}
        </span>
      )}
      {cell.bound !== null && (
        <span className="small text-secondary d-block num">
          9 in 10 {column.better === "higher" ? "≥" : "≤"} {decimal(cell.bound, cell.decimals)}
        </span>
      )}
      {cell.tried && <span className="small text-secondary d-block">at {cell.tried}</span>}
      {cell.named && (
        <span className="small named d-block" title={cell.named}>
          not a fair comparison
        </span>
      )}
    </>
  );
}
