import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { plural } from "../../shared/format";
import { LabelsDialog } from "../../shared/labels/LabelsDialog";
import { Loaded } from "../../shared/Loading";
import { ReasonDialog } from "../../shared/ReasonDialog";
import { SheetDialog } from "../../shared/table/SheetDialog";
import { Trouble } from "../../shared/Trouble";
import { GroupLine } from "./GroupLine";
import { type TestView, useTest } from "./model";
import { OrderSheet } from "./OrderSheet";
import { TestResults } from "./TestResults";
import "./test.scss";
import { useGet } from "../../shared/api/useGet";

/** A test: what is next, the order sheet, and what it says so far. */
export default function TestPage() {
  const { code = "" } = useParams();
  const test = useTest(code);
  return (
    <Loaded page query={test}>
      {(held) => <Page test={held} />}
    </Loaded>
  );
}

type Dialog = "sheet" | "labels" | "close";

function Page({ test }: { test: TestView }) {
  const navigate = useNavigate();
  const say = useSay();
  const [open, setOpen] = useState<Dialog | null>(null);
  const shut = () => setOpen(null);
  const result = useGet("/api/tests/{id_or_code}/result", { params: { path: { id_or_code: test.id } } });
  const path = { params: { path: { test_id: test.id } } };
  const reopen = useSend(() => body(POST("/api/tests/{test_id}/reopen", path)));
  const close = useSend(
    (reason: string) => body(POST("/api/tests/{test_id}/close", { ...path, body: { reason } })),
    () => {
      shut();
      say(`${test.code} is closed.`, () => reopen.mutate(undefined));
    },
  );
  const next = test.next_code ? `/test/${test.code}/${test.next_code}` : null;
  usePageKeys(next ? [{ keys: "r", does: "read the next specimen", run: () => void navigate(next) }] : []);
  const read = test.specimens.filter((one) => one.reads.length).length;
  const waiting = test.groups.filter((one) => !one.ready);
  return (
    <>
      <PageHead
        title={`${test.method.name}, ${test.code}`}
        sub={[test.brief && `for ${test.brief.name}`, `${read} of ${plural(test.specimens.length, "specimen")} read`]
          .filter(Boolean)
          .join(" · ")}
      >
        <Actions test={test} onOpen={setOpen} onReopen={() => reopen.mutate(undefined)} />
      </PageHead>
      <Trouble error={reopen.error} className="mb-3" />
      {test.closed_at && <p className="caution">Closed: {test.closed_reason}</p>}
      {test.concerns.length > 0 && (
        <div className="caution mb-3">
          {test.concerns.map((one) => one.message).join(" ")} <b>Compared all the same:</b> {test.concerns_reason}
        </div>
      )}
      <div className="test-page">
        <div className="d-grid gap-3">
          {waiting.length > 0 && !test.closed_at && (
            <section className="panel" aria-label="To print">
              <h2>{read ? "Still to print" : "First print and cure"}</h2>
              {waiting.map((one) => (
                <GroupLine key={one.id} group={one} specimen={test.method.specimen} />
              ))}
            </section>
          )}
          <Loaded query={result}>{(held) => <TestResults test={test} result={held} />}</Loaded>
        </div>
        <aside className="test-side d-grid gap-3">
          <OrderSheet test={test} />
        </aside>
      </div>
      {open === "sheet" && (
        <SheetDialog
          title={`Readings of ${test.code}`}
          what="one row for each specimen"
          send={(body_, headers) =>
            body(
              POST("/api/tests/{id_or_code}/sheet", {
                params: { path: { id_or_code: test.code } },
                body: body_,
                headers,
              }),
            )
          }
          onClose={shut}
        />
      )}
      {open === "labels" && (
        <LabelsDialog
          title={`Labels of ${test.code}`}
          href={(paper) => `/api/tests/${test.code}/labels?${paper}`}
          onClose={shut}
        />
      )}
      {open === "close" && (
        <ReasonDialog
          title={`Close ${test.code}`}
          label="Why"
          action="Close it"
          saving={close.isPending}
          error={close.error}
          onClose={shut}
          onSave={(reason) => close.mutate(reason)}
        >
          <p>Nothing more is read after it; prints not made yet are cancelled. It can be opened again.</p>
        </ReasonDialog>
      )}
    </>
  );
}

/** What can be done with a test, the next specimen first. */
function Actions({
  test,
  onOpen,
  onReopen,
}: {
  test: TestView;
  onOpen: (dialog: Dialog) => void;
  onReopen: () => void;
}) {
  return (
    <>
      {!test.closed_at && test.next_code && (
        <Link className="btn btn-primary d-inline-flex align-items-center" to={`/test/${test.code}/${test.next_code}`}>
          Read {test.next_code}
        </Link>
      )}
      {test.groups.some((one) => one.set_code) && (
        <Link className="btn btn-quiet d-inline-flex align-items-center" to={`/log/new?from=${test.code}`}>
          Print parts like it
        </Link>
      )}
      <Button variant="quiet" onClick={() => onOpen("labels")}>
        Labels
      </Button>
      <a
        className="btn btn-quiet d-inline-flex align-items-center"
        href={`/api/tests/${test.code}/readings.csv`}
        download
      >
        CSV
      </a>
      {!test.closed_at && (
        <Button variant="quiet" onClick={() => onOpen("sheet")}>
          From CSV…
        </Button>
      )}
      {test.closed_at ? (
        <Button variant="quiet" onClick={onReopen}>
          Open again
        </Button>
      ) : (
        <Button variant="quiet" onClick={() => onOpen("close")}>
          Close…
        </Button>
      )}
    </>
  );
}
