import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Table from "react-bootstrap/Table";
import { Link } from "react-router";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { TextField } from "../../shared/fields/TextField";
import { plural } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { AddToShelf } from "../shelf/AddToShelf";
import { PRINTERS, RESINS } from "../shelf/kinds";

type Opened = Schemas["TableView"];
type Kind = Opened["kinds"][number];
type Field = Kind["fields"][number];
type Match = Schemas["ColumnMatch"];
type Request = Schemas["TakeInput"];
type Checked = Schemas["CheckedTable"];
type Order = NonNullable<Request["date_order"]>;
const ORDERS: [Order, string][] = [
  ["ymd", "year first"],
  ["dmy", "day first"],
  ["mdy", "month first"],
];
/** What a name of the table means, by field and name. */
type Names = Record<string, Record<string, string>>;
const LEAVE_OUT = "leave out";
/** Where what was taken in is seen. */
const SEEN: Record<string, [path: string, words: string]> = {
  settings: ["/shelf/in-use", "Show the settings in use"],
  results: ["/test/properties", "Compare properties"],
  prints: ["/log", "Open the log"],
  pours: ["/shelf/bottles", "Show the bottles"],
  temperatures: ["/climate", "Show the temperatures"],
};

/** What the rows are, which column tells what, and what its names mean. */
export function Matching({ table, first, onOther }: { table: Opened; first: string | null; onOther: () => void }) {
  const say = useSay();
  const [kindKey, setKindKey] = useState(first ?? table.likeliest);
  const kind = kindOf(table, kindKey);
  const [matches, setMatches] = useState<Match[]>(kind.matches);
  const [names, setNames] = useState<Names>({});
  const [fill, setFill] = useState<Record<string, string>>({});
  const [order, setOrder] = useState<Order | "">("");
  const [zone, setZone] = useState(Intl.DateTimeFormat().resolvedOptions().timeZone);
  const [leaveOut, setLeaveOut] = useState(false);
  const request = {
    kind: kind.key as Request["kind"],
    matches,
    names,
    fill,
    date_order: order || null,
    time_zone: zone,
  };
  const path = { params: { path: { code: table.code } } };
  const check = useSend((meant: Names) =>
    body(POST("/api/earlier-tables/{code}/check", { ...path, body: { ...request, names: meant } })),
  );
  const take = useSend(
    (_: null, headers) =>
      body(
        POST("/api/earlier-tables/{code}/take", { ...path, body: { ...request, leave_out_bad: leaveOut }, headers }),
      ),
    (taken) => say(`${plural(taken.rows_taken ?? 0, "row")} of ${taken.name} taken in as ${taken.code}.`),
  );
  const checked = check.data;
  const problem = check.error?.fields;
  const asksOrder = Boolean(problem?.date_order) || order !== "";
  const change = (does: () => void) => {
    does();
    check.reset();
    take.reset();
  };
  if (take.data) {
    const [to, words] = SEEN[kind.key] ?? ["/board", "To the Board"];
    return (
      <section className="panel" aria-label="Taken in">
        <h2>{plural(take.data.rows_taken ?? 0, "row")} taken in</h2>
        <p>
          They are marked as imported and name their row of {take.data.code}; the file is kept as it came.
          {(take.data.rows_left ?? 0) > 0 && ` ${plural(take.data.rows_left ?? 0, "row")} left out.`}
        </p>
        <Link className="btn btn-primary me-2" to={to}>
          {words}
        </Link>
        <Button variant="quiet" onClick={onOther}>
          Another table
        </Button>
      </section>
    );
  }
  const isFirst = (field: Field) => field.needed || kind.matches.some((match) => match.field === field.key);
  const [shown, rest] = [kind.fields.filter(isFirst), kind.fields.filter((field) => !isFirst(field))];
  const row = (field: Field) => (
    <MatchRow
      key={field.key}
      field={field}
      columns={table.columns}
      match={matches.find((one) => one.field === field.key)}
      fill={fill[field.key] ?? ""}
      error={errorOf(field, matches, problem)}
      onMatch={(match) =>
        change(() => setMatches([...matches.filter((one) => one.field !== field.key), ...(match ? [match] : [])]))
      }
      onFill={(text) => change(() => setFill({ ...fill, [field.key]: text }))}
    />
  );
  return (
    <div className="matching">
      <section className="panel" aria-label="What its columns tell">
        <h2>
          {table.name}, {plural(table.row_count, "row")}
        </h2>
        {table.taken_before && <p className="caution">The same table was taken in as {table.taken_before} already.</p>}
        <Choice
          label="What its rows are"
          value={kind.key}
          onChange={(key) =>
            change(() => {
              setKindKey(key);
              setMatches(table.kinds.find((one) => one.key === key)?.matches ?? []);
              setFill({});
            })
          }
          options={table.kinds.map((one) => [one.key, one.title] as const)}
        />
        <MatchTable fields={shown}>{row}</MatchTable>
        {rest.length > 0 && (
          <details className="mb-3">
            <summary className="form-label">What else it may tell</summary>
            <MatchTable fields={rest}>{row}</MatchTable>
          </details>
        )}
        {kind.fields.some((field) => field.is_date && field.needed) && (
          <TextField
            className="mb-3"
            label="Time zone of its times"
            value={zone}
            onChange={(text) => change(() => setZone(text))}
            error={problem?.time_zone}
          />
        )}
        {asksOrder && (
          <Choice
            label="Dates are written"
            value={order}
            onChange={(chosen) => change(() => setOrder(chosen))}
            options={ORDERS}
            error={problem?.date_order}
          />
        )}
        <Trouble error={check.error && (problem?.matches || !Object.keys(problem ?? {}).length) ? check.error : null} />
        <div className="mt-3">
          <Button disabled={check.isPending} onClick={() => check.mutate(names)}>
            {check.isPending ? "Checking…" : "Check every row"}
          </Button>{" "}
          <Button variant="quiet" onClick={onOther}>
            Another table
          </Button>
        </div>
      </section>
      <div className="d-grid gap-3" style={{ minWidth: 0 }}>
        {checked ? (
          <CheckedPanel
            checked={checked}
            names={names}
            onName={(field, name, id) => {
              setNames({ ...names, [field]: { ...names[field], [name]: id } });
              take.reset();
            }}
            onCheck={() => check.mutate(names)}
            onAdded={(field, name, id) => {
              const meant = { ...names, [field]: { ...names[field], [name]: id } };
              setNames(meant);
              take.reset();
              check.mutate(meant);
            }}
            checking={check.isPending}
          >
            {checked.bad > 0 && (
              <Form.Check
                id="leave-out-bad"
                className="d-flex align-items-center gap-2 mb-3"
                label={`Leave out the ${plural(checked.bad, "row")} that cannot be read`}
                checked={leaveOut}
                onChange={(event) => setLeaveOut(event.target.checked)}
              />
            )}
            <Trouble error={take.error} className="mb-2" />
            <Button
              disabled={take.isPending || checked.good === 0 || (checked.bad > 0 && !leaveOut)}
              onClick={() => take.mutate(null)}
            >
              {take.isPending ? "Taking in…" : `Take in ${plural(checked.good, "row")}`}
            </Button>
          </CheckedPanel>
        ) : (
          <FirstRows table={table} />
        )}
      </div>
    </div>
  );
}

function MatchTable({ fields, children }: { fields: Field[]; children: (field: Field) => React.ReactNode }) {
  return (
    <Table size="sm" className="mt-3 matches">
      <thead>
        <tr>
          <th>Tells</th>
          <th>Column</th>
          <th>In</th>
        </tr>
      </thead>
      <tbody>{fields.map(children)}</tbody>
    </Table>
  );
}

function MatchRow({
  field,
  columns,
  match,
  fill,
  error,
  onMatch,
  onFill,
}: {
  field: Field;
  columns: string[];
  match: Match | undefined;
  fill: string;
  error: string | undefined;
  onMatch: (match: Match | null) => void;
  onFill: (text: string) => void;
}) {
  return (
    <tr>
      <th scope="row" className="fw-normal">
        {field.label}
        {field.needed && <span className="text-secondary"> (needed)</span>}
      </th>
      <td>
        <Form.Select
          size="sm"
          aria-label={`Column of ${field.label}`}
          isInvalid={Boolean(error)}
          value={match?.column ?? ""}
          onChange={(event) =>
            onMatch(
              event.target.value
                ? { field: field.key, column: event.target.value, unit: match?.unit ?? field.units[0] ?? "" }
                : null,
            )
          }
        >
          <option value="">no column</option>
          {columns.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </Form.Select>
        {error && <div className="text-danger small">{error}</div>}
      </td>
      <td>
        {match && field.units.length > 1 && (
          <Form.Select
            size="sm"
            aria-label={`Unit of ${field.label}`}
            value={match.unit}
            onChange={(event) => onMatch({ ...match, unit: event.target.value })}
          >
            {field.units.map((unit) => (
              <option key={unit}>{unit}</option>
            ))}
          </Form.Select>
        )}
        {!match && (
          <Form.Control
            size="sm"
            aria-label={`${field.label} for all rows`}
            placeholder={field.needed ? "same for all rows" : ""}
            value={fill}
            onChange={(event) => onFill(event.target.value)}
          />
        )}
      </td>
    </tr>
  );
}

/** A material or printer the Shelf does not know is added under the table's own name; other things are matched alone. */
function AddTold(props: { field: string; name: string; onAdded: (added: { id: string }) => void }) {
  const shared = { label: `Add ${props.name} to the shelf…`, values: { name: props.name }, onAdded: props.onAdded };
  if (props.field === "material") return <AddToShelf kind={RESINS} {...shared} />;
  return props.field === "printer" ? <AddToShelf kind={PRINTERS} {...shared} /> : null;
}

function CheckedPanel({
  checked,
  names,
  onName,
  onCheck,
  onAdded,
  checking,
  children,
}: {
  checked: Checked;
  names: Record<string, Record<string, string>>;
  onName: (field: string, name: string, id: string) => void;
  onCheck: () => void;
  onAdded: (field: string, name: string, id: string) => void;
  checking: boolean;
  children: React.ReactNode;
}) {
  const left = checked.left_out > 0 ? `, ${checked.left_out} left out` : "";
  return (
    <>
      {checked.unknown_names.length > 0 && (
        <section className="panel" aria-label="Names to match">
          <h2>Which are these?</h2>
          {checked.unknown_names.map(({ field, name, rows }) => (
            <div key={`${field} ${name}`} className="mb-2">
              <Choice
                label={`${field[0]?.toUpperCase()}${field.slice(1)} “${name}”, ${plural(rows, "row")}`}
                value={chosen(names[field]?.[name])}
                onChange={(id) => onName(field, name, id === LEAVE_OUT ? "" : id)}
                options={[
                  ...(checked.choices[field] ?? []).map((one) => [one.id, one.name] as const),
                  [LEAVE_OUT, "leave its rows out"] as const,
                ]}
              />
              <AddTold field={field} name={name} onAdded={({ id }) => onAdded(field, name, id)} />
            </div>
          ))}
          <Button variant="quiet" disabled={checking} onClick={onCheck}>
            Check again
          </Button>
        </section>
      )}
      <section className="panel" aria-label="What would be kept">
        <h2>
          {checked.good} good, {checked.bad} bad{left}
        </h2>
        {checked.problems.length > 0 && (
          <Table size="sm" className="problems">
            <thead>
              <tr>
                <th>Row</th>
                <th>Column</th>
                <th>What is wrong</th>
              </tr>
            </thead>
            <tbody>
              {checked.problems.map((one, at) => (
                <tr key={at}>
                  <td className="num">{one.row}</td>
                  <td>{one.column}</td>
                  <td>{one.message}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        )}
        {checked.preview.length > 0 && (
          <ul className="list-unstyled">
            {checked.preview.map((one) => (
              <li key={one.row}>
                <span className="num text-secondary">{one.row}</span> {one.words}
              </li>
            ))}
            {checked.good > checked.preview.length && <li>and {checked.good - checked.preview.length} more</li>}
          </ul>
        )}
        {children}
      </section>
    </>
  );
}

function FirstRows({ table }: { table: Opened }) {
  return (
    <section className="panel first-rows" aria-label="Its first rows">
      <h2>Its first rows</h2>
      <Table size="sm" className="mb-0">
        <thead>
          <tr>
            {table.columns.map((name) => (
              <th key={name}>{name}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.rows.map((cells, at) => (
            <tr key={at}>
              {cells.map((cell, column) => (
                <td key={column}>{cell}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </Table>
    </section>
  );
}

const chosen = (id: string | undefined): string => (id === undefined ? "" : id || LEAVE_OUT);

function kindOf(table: Opened, key: string): Kind {
  const kind = table.kinds.find((one) => one.key === key) ?? table.kinds[0];
  if (!kind) throw new Error("A table is of some kind.");
  return kind;
}

function errorOf(field: Field, matches: Match[], errors: Record<string, string> | undefined): string | undefined {
  if (!errors) return undefined;
  const at = matches.findIndex((one) => one.field === field.key);
  return (
    errors[`fill.${field.key}`] ??
    ["column", "unit", "field"].map((part) => errors[`matches.${at}.${part}`]).find(Boolean)
  );
}
