import { useQuery } from "@tanstack/react-query";
import { useRef, type KeyboardEvent } from "react";
import ButtonGroup from "react-bootstrap/ButtonGroup";
import { Link, useNavigate, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { body, GET, type Schemas } from "../../shared/api/client";
import { EmptyState } from "../../shared/EmptyState";
import { plural, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { StateMark } from "../../shared/StateMark";
import { Cell, MANY_PRINTERS } from "./Cell";
import "./board.scss";

type Board = Schemas["Board"];

export default function BoardPage() {
  const [search] = useSearchParams();
  const height = search.get("height");
  const query = useQuery({
    queryKey: ["board", height],
    queryFn: () => body(GET("/api/board", { params: { query: height ? { layer_height_um: Number(height) } : {} } })),
    placeholderData: (held) => held,
    refetchInterval: 60_000,
  });
  const navigate = useNavigate();
  const first = query.data?.today.find((task) => task.coupon_code);
  usePageKeys([
    { keys: "↑ ↓ ← →", does: "move" },
    { keys: "Enter", does: "open" },
    { keys: "c", does: "calibrate this pair" },
    { keys: "r", does: "read the next coupon", run: first ? () => void navigate(`/coupons/${first.coupon_code}`) : undefined },
  ]);
  return (
    <Loaded query={query}>
      {(board) => (
        <>
          <PageHead title="What can I print with?" sub={counts(board)}>
            {board.layer_heights_um.length > 0 && <Heights board={board} />}
          </PageHead>
          {board.materials.length && board.printers.length ? (
            <div className={`board-layout ${board.printers.length > MANY_PRINTERS ? "wide" : ""}`}>
              <div>
                <Grid board={board} />
                {board.printers.length > MANY_PRINTERS && <Legend />}
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

function counts(board: Board): string {
  const issued = board.cells.filter((cell) => cell.state === "issued").length;
  const under = board.cells.filter((cell) => cell.calibration_id).length;
  return [plural(board.materials.length, "material"), plural(board.printers.length, "printer"), `${issued} issued`, `${under} calibrating`].join(" · ");
}

function Heights({ board }: { board: Board }) {
  return (
    <ButtonGroup className="heights" aria-label="Layer height">
      {board.layer_heights_um.map((height) => (
        <Link
          key={height}
          to={`/board?height=${height}`}
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
    const moves: Record<string, [number, number]> = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    const rows = [...table.current.tBodies[0]!.rows];
    const next = rows[rows.indexOf(row) + move[0]]?.cells[here.cellIndex + move[1]];
    next?.querySelector("a")?.focus();
  }
  return (
    <table ref={table} className={`board ${board.printers.length > MANY_PRINTERS ? "many" : ""}`} onKeyDown={onKeyDown} aria-label="Materials by printers">
      <thead>
        <tr>
          <th scope="col" style={{ width: "19%" }}>
            <span className="visually-hidden">Material</span>
          </th>
          {board.printers.map((printer) => (
            <th key={printer.id} scope="col">
              {printer.name}
              <small>
                {printer.pixel_um}
                {THIN}µm · {Math.round(printer.screen_hours).toLocaleString("en-GB")}
                {THIN}h
              </small>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {board.materials.map((material) => (
          <tr key={material.id}>
            <th scope="row">
              {material.name}
              <small>{[material.family, material.opacity].filter((word, i, all) => word && all.indexOf(word) === i).join(" · ") || material.kind}</small>
            </th>
            {board.printers.map((printer) => (
              <td key={printer.id}>
                <Cell cell={cells.get(`${material.id} ${printer.id}`)} material={material} printer={printer} board={board} />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Legend() {
  return (
    <div className="legend">
      <StateMark name="issued" /> <StateMark name="calibrating" /> <span>– not calibrated</span>
    </div>
  );
}

function Today({ board }: { board: Board }) {
  return (
    <section className="panel today" aria-label="Today">
      <h2>Today</h2>
      {board.today.length ? (
        <ul>
          {board.today.map((task) => (
            <li key={`${task.kind} ${task.coupon_code ?? task.calibration_id}`}>
              <strong>{task.title}</strong>
              <span className="text-secondary small d-block">{task.detail}</span>
              <Link to={task.coupon_code ? `/coupons/${task.coupon_code}` : `/calibrate/${task.calibration_id}`}>{task.action}</Link>
            </li>
          ))}
        </ul>
      ) : (
        <p className="text-secondary mb-0">No coupon waits to be printed or read.</p>
      )}
    </section>
  );
}

function Start({ board }: { board: Board }) {
  const needsPrinter = board.printers.length === 0;
  return (
    <EmptyState purpose="The Board shows which material prints on which printer, at what exposure. It starts with one resin and one printer on the shelf.">
      <Link className="btn btn-primary" to={needsPrinter ? "/shelf/printers?new=1" : "/shelf/resins?new=1"}>
        Add a {needsPrinter ? "printer" : "resin"}
      </Link>
    </EmptyState>
  );
}
