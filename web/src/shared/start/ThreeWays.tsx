/** An empty lab: three ways in. */
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { body, POST } from "../api/client";
import { useGet } from "../api/useGet";
import { useSend } from "../api/useSend";
import { Trouble } from "../Trouble";
import "./start.scss";

export function ThreeWays() {
  return (
    <div className="three-ways">
      <section className="panel" aria-label="Set up my bench">
        <BenchDrawing />
        <h2>Set up my bench</h2>
        <p>One printer, one resin, one bottle, one way to wash: ten fields, and the first coupons can be planned.</p>
        <Link className="btn btn-primary" to="/start/bench">
          Set up my bench
        </Link>
      </section>
      <section className="panel" aria-label="Look around the demo">
        <DemoDrawing />
        <h2>Look around the demo</h2>
        <p>
          The workshop of Skerry Point with ten materials on four printers. It opens beside your lab: nothing you try
          there reaches your own records, and it is gone when you close it.
        </p>
        <DemoButton />
      </section>
      <section className="panel" aria-label="Bring my records">
        <RecordsDrawing />
        <h2>Bring my records</h2>
        <p>
          Settings, prints or readings from a spreadsheet, another workshop’s set, a bundle of another Setback, a
          temperature logger’s file.
        </p>
        <Link className="btn btn-quiet" to="/start/records">
          Bring my records
        </Link>
      </section>
    </div>
  );
}

/** Builds the demo, says how it stands, and leads there. */
function DemoButton() {
  const demo = useGet(
    "/api/demo",
    {},
    { refetchInterval: ({ state }) => (state.data?.state === "building" ? 1_000 : false) },
  );
  const open = useSend(
    (_: null) => body(POST("/api/demo/open")),
    () => void demo.refetch(),
  );
  const { state, address } = demo.data ?? { state: "none", address: null };
  if (state === "ready" && address)
    return (
      <a className="btn btn-primary" href={`${address}/board`}>
        Go to the demo
      </a>
    );
  const building = state === "building" || open.isPending;
  return (
    <>
      <Button variant="quiet" disabled={building} onClick={() => open.mutate(null)}>
        {building ? "Building the demo: about twenty seconds…" : "Open the demo"}
      </Button>
      {state === "failed" && <p className="trouble mt-2 mb-0">The demo could not be built. Try once more.</p>}
      <Trouble error={open.error} className="mt-2" />
    </>
  );
}

const line = { fill: "none", stroke: "var(--ink)", strokeWidth: 2 } as const;

const BenchDrawing = () => (
  <svg viewBox="0 0 160 90" aria-hidden="true">
    <path d="M8 80h144" {...line} />
    <path d="M24 80V20h44v60M24 60h44M34 20v18h24V20" {...line} />
    <rect x="30" y="62" width="32" height="8" fill="var(--violet-mid)" />
    <path d="M92 80V44l8-8V24h12v12l8 8v36z" {...line} />
    <path d="M93 56h26v23H93z" fill="var(--violet-mid)" opacity="0.75" />
    <path d="M134 66h16v14h-16z" {...line} />
  </svg>
);
const DemoDrawing = () => (
  <svg viewBox="0 0 160 90" aria-hidden="true">
    <rect x="14" y="14" width="92" height="62" rx="4" {...line} />
    <rect x="52" y="26" width="94" height="58" rx="4" fill="var(--panel)" stroke="var(--violet)" strokeWidth="2" />
    <path d="M52 40h94M76 40v44M100 40v44M124 40v44M52 54h94M52 68h94" stroke="var(--rule)" strokeWidth="1.5" />
    <circle cx="88" cy="47" r="4" fill="var(--violet)" />
    <circle cx="112" cy="61" r="4" fill="none" stroke="var(--violet)" strokeWidth="2" />
    <circle cx="136" cy="76" r="4" fill="var(--violet-mid)" />
  </svg>
);
const RecordsDrawing = () => (
  <svg viewBox="0 0 160 90" aria-hidden="true">
    <path d="M24 14h44l12 12v50H24z" {...line} />
    <path d="M32 36h38M32 46h38M32 56h38M46 30v34M58 30v34" stroke="var(--edge)" strokeWidth="1.5" />
    <path d="M90 48h24m-8-8 8 8-8 8" {...line} />
    <path d="M122 26h24v50h-24z" {...line} />
    <path d="M122 40h24M122 54h24" stroke="var(--violet)" strokeWidth="2" />
  </svg>
);
