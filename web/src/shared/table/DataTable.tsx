import { useMemo, useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Table from "react-bootstrap/Table";
import { useSearchParams } from "react-router";
import { trueMinus } from "../format";
import { csv, save, type Cell } from "./csv";
import "./table.scss";
import { inMark } from "../labForm";

export type Column<Row> = {
  name: string;
  /** What is sorted, filtered and exported. */
  value: (row: Row) => Cell;
  cell?: (row: Row) => ReactNode;
  number?: boolean;
  /** A cell of its own line on a phone. */
  wide?: boolean;
};

type Props<Row> = {
  name: string;
  rows: Row[];
  columns: Column<Row>[];
  id: (row: Row) => string;
  actions?: (row: Row) => ReactNode;
  /** Its name in the address, where a page has several tables. */
  part?: string;
};

/** A table that sorts, filters and exports what it shows. */
export function DataTable<Row>({ name, rows, columns, id, actions, part }: Props<Row>) {
  // What was filtered and sorted stays in the address: a reload, a link and the way back show the same.
  const [search, setSearch] = useSearchParams();
  const [filter, type] = useState(() => search.get(part ? `${part}-filter` : "filter") ?? "");
  const sort = sortIn(search.get(part ? `${part}-sort` : "sort"), columns);
  const remember = (what: "filter" | "sort", text: string) =>
    setSearch(
      (before) => {
        const name = part ? `${part}-${what}` : what;
        if (text) before.set(name, text);
        else before.delete(name);
        return before;
      },
      { replace: true },
    );
  function setFilter(text: string) {
    type(text);
    remember("filter", text);
  }
  const shown = useMemo(() => {
    const wanted = filter.trim().toLowerCase();
    const kept = wanted
      ? rows.filter((row) =>
          columns.some((c) =>
            String(c.value(row) ?? "")
              .toLowerCase()
              .includes(wanted),
          ),
        )
      : [...rows];
    const by = sort && columns[sort.column];
    if (by) kept.sort((a, b) => compare(by.value(a), by.value(b)) * (sort.down ? -1 : 1));
    return kept;
    // eslint-disable-next-line react-hooks/exhaustive-deps -- sort is new whenever its address is read
  }, [rows, columns, filter, search]);
  function turn(column: number) {
    const name = columns[column]?.name ?? "";
    const turned = sort?.column === column ? (sort.down ? "" : `-${name}`) : name;
    remember("sort", turned);
  }
  return (
    <div className="panel p-0">
      <div className="d-flex flex-wrap gap-2 p-2 no-print">
        <Form.Control
          type="search"
          size="sm"
          aria-label={`Filter ${name}`}
          placeholder="Filter"
          value={filter}
          onChange={(e) => setFilter(e.target.value)}
          style={{ flex: "1 1 8rem", maxWidth: "16rem", minHeight: 40 }}
        />
        <Button
          variant="quiet"
          size="sm"
          className="ms-auto"
          onClick={() =>
            save(
              `${name}.csv`,
              csv(
                columns.map((c) => c.name),
                shown.map((row) => columns.map((c) => c.value(row))),
              ),
            )
          }
        >
          Export CSV
        </Button>
      </div>
      <div className="data-table px-2">
        <Table hover aria-label={name}>
          <thead>
            <tr>
              {columns.map((column, index) => (
                <th
                  key={column.name}
                  className={column.number ? "number" : ""}
                  aria-sort={sort?.column === index ? (sort.down ? "descending" : "ascending") : undefined}
                >
                  <button type="button" onClick={() => turn(index)}>
                    {column.name}
                    {sort?.column === index && <span aria-hidden="true">{sort.down ? " ↓" : " ↑"}</span>}
                  </button>
                </th>
              ))}
              {actions && <th aria-label="Actions" />}
            </tr>
          </thead>
          <tbody>
            {shown.map((row) => (
              <tr key={id(row)}>
                {columns.map((column) => (
                  <td
                    key={column.name}
                    data-name={column.name}
                    className={`${column.number ? "number num" : ""} ${column.wide ? "wide" : ""}`}
                  >
                    {column.cell ? column.cell(row) : readable(column.value(row))}
                  </td>
                ))}
                {actions && <td className="text-end wide">{actions(row)}</td>}
              </tr>
            ))}
          </tbody>
        </Table>
        {!shown.length && <p className="text-secondary p-3 m-0">Nothing matches “{filter}”.</p>}
      </div>
    </div>
  );
}

/** A number without a form of its own has four digits at most: a table claims no more than its evidence. */
const readable = (value: Cell) =>
  typeof value === "number" ? inMark(trueMinus(String(Number(value.toPrecision(4))))) : value;

/** The column a table is sorted by; a dash before its name turns it round. */
function sortIn<Row>(text: string | null, columns: Column<Row>[]): { column: number; down: boolean } | null {
  const down = text?.startsWith("-") ?? false;
  const column = columns.findIndex((one) => one.name === (down ? text?.slice(1) : text));
  return column < 0 ? null : { column, down };
}

function compare(a: Cell, b: Cell): number {
  if (a === null || b === null) return a === b ? 0 : a === null ? 1 : -1;
  return typeof a === "number" && typeof b === "number"
    ? a - b
    : String(a).localeCompare(String(b), "en", { numeric: true });
}
