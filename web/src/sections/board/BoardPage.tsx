import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import Button from "react-bootstrap/Button";
import ButtonGroup from "react-bootstrap/ButtonGroup";
import Form from "react-bootstrap/Form";
import { Link, useNavigate, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { type Schemas } from "../../shared/api/client";
import { EmptyState } from "../../shared/EmptyState";
import { placeOfTask } from "../../shared/places";
import { plural, screenHours, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { StateMark } from "../../shared/StateMark";
import { Cell, MANY_PRINTERS } from "./Cell";
import { ThreeWays } from "../../shared/start/ThreeWays";
import { PutOffDialog, PutOffList } from "./PutOff";
import "./board.scss";
import { useGet } from "../../shared/api/useGet";

type Board = Schemas["Board"];

export default function BoardPage() {
  const [search] = useSearchParams();
  const asked = askedOf(search);
  const query = useGet(
    "/api/board",
    { params: { query: asked } },
    { placeholderData: (held) => held, refetchInterval: 60_000 },
  );
  const navigate = useNavigate();
  const first = query.data?.today.find((task) => task.coupon_code && !task.blind_id);
  usePageKeys([
    { keys: "↑ ↓ ← →", does: "move" },
    { keys: "Enter", does: "open" },
    { keys: "c", does: "calibrate this pair" },
    {
      keys: "r",
      does: "read the next coupon",
      run: first ? () => void navigate(`/coupons/${first.coupon_code}`) : undefined,
    },
  ]);
  return (
    <Loaded page query={query}>
      {(board) => (
        <>
          <PageHead title="What can I print with?" sub={counts(board)}>
            {board.layer_heights_um.length > 0 && <Heights board={board} />}
          </PageHead>
          {(board.materials.length && board.printers.length) || filtered(search) ? (
            <div className={`board-layout ${board.printers.length > MANY_PRINTERS ? "wide" : ""}`}>
              <div>
                <Filters board={board} />
                {board.materials.length ? (
                  <Grid board={board} />
                ) : (
                  <EmptyState purpose="No material is due or lapsed, or none of this family is on the shelf.">
                    <Link className="btn btn-primary" to="/board">
                      Show all
                    </Link>
                  </EmptyState>
                )}
                <div className="d-flex flex-wrap gap-3 align-items-center mt-2 no-print">
                  {board.materials.length > 0 && <Legend />}
                  {board.more_after && <More />}
                </div>
              </div>
              <Today board={board} />
            </div>
          ) : (
            <Start board={board} />
          )}
        </>
      )}
    </Loaded>
  );
}

/** What the address asks of the Board: height, filters, how many rows. */
function askedOf(search: URLSearchParams) {
  const height = search.get("height");
  return {
    layer_height_um: height ? Number(height) : undefined,
    family: search.get("family") ?? undefined,
    printer_id: search.get("printer") ?? undefined,
    attention: search.get("attention") === "1",
    limit: Number(search.get("rows") ?? ROWS),
    after: "",
  };
}

const ROWS = 40;
const filtered = (search: URLSearchParams) => ["family", "printer", "attention"].some((name) => search.has(name));

function Filters({ board }: { board: Board }) {
  const [search, setSearch] = useSearchParams();
  const set = (name: string, value: string | null) => {
    const next = new URLSearchParams(search);
    if (value) next.set(name, value);
    else next.delete(name);
    setSearch(next, { replace: true });
  };
  // All printers stay on offer although only one is shown.
  const [printers, setPrinters] = useState(board.printers);
  useEffect(() => {
    if (!search.has("printer")) setPrinters(board.printers);
  }, [board.printers, search]);
  if (board.families.length < 2 && printers.length < 2) return null;
  return (
    <div className="board-filters no-print" role="group" aria-label="Filter">
      <Form.Select
        aria-label="Family"
        value={search.get("family") ?? ""}
        onChange={(event) => set("family", event.target.value)}
      >
        <option value="">all families</option>
        {board.families.map((family) => (
          <option key={family} value={family}>
            {family}
          </option>
        ))}
      </Form.Select>
      <Form.Select
        aria-label="Printer"
        value={search.get("printer") ?? ""}
        onChange={(event) => set("printer", event.target.value)}
      >
        <option value="">all printers</option>
        {printers.map((printer) => (
          <option key={printer.id} value={printer.id}>
            {printer.name}
          </option>
        ))}
      </Form.Select>
      <Form.Check
        id="attention"
        label="needs attention"
        checked={search.get("attention") === "1"}
        onChange={(event) => set("attention", event.target.checked ? "1" : null)}
      />
    </div>
  );
}

function More() {
  const [search, setSearch] = useSearchParams();
  const rows = Number(search.get("rows") ?? ROWS);
  return (
    <Button
      variant="quiet"
      onClick={() => {
        const next = new URLSearchParams(search);
        next.set("rows", String(Math.min(rows + ROWS, 200)));
        setSearch(next, { replace: true });
      }}
    >
      Show more materials
    </Button>
  );
}

function counts(board: Board): string {
  const of = (state: string) => board.cells.filter((cell) => cell.state === state).length;
  const under = board.cells.filter((cell) => cell.calibration_id).length;
  return [
    plural(board.materials.length, "material"),
    plural(board.printers.length, "printer"),
    `${of("issued")} issued`,
    of("due") > 0 && `${of("due")} due`,
    of("lapsed") > 0 && `${of("lapsed")} lapsed`,
    `${under} calibrating`,
    of("in use") > 0 && `${of("in use")} in use, not shown`,
  ]
    .filter(Boolean)
    .join(" · ");
}

function withHeight(search: URLSearchParams, height: number): string {
  const next = new URLSearchParams(search);
  next.set("height", String(height));
  return next.toString();
}

function Heights({ board }: { board: Board }) {
  const [search] = useSearchParams();
  return (
    <ButtonGroup className="heights" aria-label="Layer height">
      {board.layer_heights_um.map((height) => (
        <Link
          key={height}
          to={`/board?${withHeight(search, height)}`}
          className={`btn num ${height === board.layer_height_um ? "btn-primary" : "btn-quiet"}`}
          aria-current={height === board.layer_height_um ? "true" : undefined}
        >
          {height}
          {height === board.layer_height_um && `${THIN}µm`}
        </Link>
      ))}
    </ButtonGroup>
  );
}

function Grid({ board }: { board: Board }) {
  const table = useRef<HTMLTableElement>(null);
  const navigate = useNavigate();
  const cells = new Map(board.cells.map((cell) => [`${cell.material_id} ${cell.printer_id}`, cell]));

  function onKeyDown(event: KeyboardEvent) {
    const here = (event.target as HTMLElement).closest("td");
    const row = here?.parentElement as HTMLTableRowElement | undefined;
    if (!here || !row || !table.current) return;
    if (event.key === "c") {
      const link = here.querySelector("a");
      if (link?.dataset.start) void navigate(link.dataset.start);
      return;
    }
    const moves: Record<string, [number, number]> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    const rows = [...table.current.querySelectorAll("tbody tr")];
    const column = [...row.children].indexOf(here) + move[1];
    const next = rows[rows.indexOf(row) + move[0]]?.children[column];
    next?.querySelector("a")?.focus();
  }
  return (
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions -- the arrow keys move between its links
    <table
      ref={table}
      className={`board ${board.printers.length > MANY_PRINTERS ? "many" : ""}`}
      onKeyDown={onKeyDown}
      aria-label="Materials by printers"
    >
      <thead>
        <tr>
          <th scope="col" style={{ width: "19%" }}>
            <span className="visually-hidden">Material</span>
          </th>
          {board.printers.map((printer) => (
            <th key={printer.id} scope="col">
              <Link to={`/printers/${printer.id}`}>{printer.name}</Link>
              <small>
                <span className="text-nowrap">
                  pixel {printer.pixel_um}
                  {THIN}µm ·
                </span>{" "}
                <span className="text-nowrap">
                  screen {screenHours(printer.screen_hours)}
                  {THIN}h
                </span>
              </small>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {board.materials.map((material) => (
          <tr key={material.id}>
            <MaterialHead material={material} base={baseOf(material, board)} />
            {board.printers.map((printer) => (
              <td key={printer.id}>
                <Cell
                  cell={cells.get(`${material.id} ${printer.id}`)}
                  material={material}
                  printer={printer}
                  board={board}
                />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The material a blend begins with, where it stands on this board too. */
const baseOf = (material: Schemas["BoardMaterial"], board: Board) =>
  board.materials.find((one) => material.kind === "blend" && material.name.startsWith(`${one.name} + `));

/** A material by its name; a blend under its base by what is added. */
function MaterialHead({
  material,
  base,
}: {
  material: Schemas["BoardMaterial"];
  base?: Schemas["BoardMaterial"] | undefined;
}) {
  const words = [material.family, material.opacity].filter((word, i, all) => word && all.indexOf(word) === i);
  return (
    <th scope="row" className={base ? "of-base" : undefined}>
      <Link to={`/materials/${material.id}`} title={material.name} aria-label={material.name}>
        {base ? material.name.slice(base.name.length + 1) : material.name}
      </Link>
      <small>{words.join(" · ") || material.kind}</small>
    </th>
  );
}

function Legend() {
  return (
    <div className="legend">
      {["issued", "due", "lapsed", "calibrating", "in use", "predicted"].map((state) => (
        <StateMark key={state} name={state} />
      ))}
    </div>
  );
}

/** What a phone shows of today before it is asked for the rest; the grid must not lie pages below. */
const FIRST_TASKS = 4;

function Today({ board }: { board: Board }) {
  const [all, setAll] = useState(false);
  const [puttingOff, setPuttingOff] = useState<Schemas["Task"] | null>(null);
  return (
    <section className={`panel today ${all ? "all" : ""}`} aria-label="Today">
      <h2>Today</h2>
      {board.today.length ? (
        <ul>
          {board.today.map((task, index) => (
            <li key={`${task.kind} ${task.title}`} className={index >= FIRST_TASKS ? "later" : undefined}>
              <strong>{task.title}</strong>
              <span className="text-secondary small d-block">{task.detail}</span>
              <span className="d-flex gap-3 align-items-baseline">
                <Link to={placeOfTask(task)}>{task.action}</Link>
                <Button
                  variant="link"
                  size="sm"
                  className="later-button no-print"
                  aria-label={`Put off: ${task.title}`}
                  onClick={() => setPuttingOff(task)}
                >
                  Later…
                </Button>
              </span>
            </li>
          ))}
        </ul>
      ) : (
        <p className="text-secondary mb-0">No coupon waits to be printed or read, and no set is due.</p>
      )}
      {board.today.length > FIRST_TASKS && !all && (
        <Button variant="quiet" className="rest" onClick={() => setAll(true)}>
          All {board.today.length}
        </Button>
      )}
      <PutOffList later={board.later} />
      {puttingOff && <PutOffDialog task={puttingOff} on={board.on} onClose={() => setPuttingOff(null)} />}
    </section>
  );
}

/** An empty lab has three ways in; one with half a bench says what is missing. */
function Start({ board }: { board: Board }) {
  if (!board.printers.length && !board.materials.length)
    return (
      <>
        <p className="lead-in">
          The Board shows which material prints on which printer, at what exposure. It starts with one resin and one
          printer on the shelf.
        </p>
        <ThreeWays />
      </>
    );
  const needsPrinter = board.printers.length === 0;
  return (
    <EmptyState purpose="The Board shows which material prints on which printer, at what exposure. It starts with one resin and one printer on the shelf.">
      <Link className="btn btn-primary" to={needsPrinter ? "/shelf/printers?new=1" : "/shelf/resins?new=1"}>
        Add a {needsPrinter ? "printer" : "resin"}
      </Link>
    </EmptyState>
  );
}
