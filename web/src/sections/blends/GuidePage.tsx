import Button from "react-bootstrap/Button";
import { Link, useNavigate, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { decimal, moment, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import "./blend.scss";

type Guide = Schemas["GuideView"];
type Step = Schemas["StepView"];

/** A change of resin or a leak, step by step: the next one only, with its caution where it can hurt. */
export default function GuidePage() {
  const { id = "", key = "" } = useParams();
  const query = useGet("/api/printers/{printer_id}/guides/{key}", { params: { path: { printer_id: id, key } } });
  return (
    <Loaded page query={query}>
      {(guide) => <Steps guide={guide} />}
    </Loaded>
  );
}

function Steps({ guide }: { guide: Guide }) {
  const navigate = useNavigate();
  const say = useSay();
  const path = { printer_id: guide.printer_id, key: guide.key };
  const tick = useSend((step_key: string) =>
    body(POST("/api/printers/{printer_id}/guides/{key}/steps/{step_key}", { params: { path: { ...path, step_key } } })),
  );
  const back = useSend((step_key: string) =>
    body(
      POST("/api/printers/{printer_id}/guides/{key}/steps/{step_key}/undo", {
        params: { path: { ...path, step_key } },
      }),
    ),
  );
  const end = useSend(
    (_: null) => body(POST("/api/printers/{printer_id}/guides/{key}/end", { params: { path } })),
    () => {
      say(`${guide.name}: ended.`);
      void navigate(`/blend/vat/${guide.printer_id}`);
    },
  );
  const timer = useSend(
    (step: Step) =>
      body(
        POST("/api/timers", {
          body: {
            name: `${guide.name}: ${guide.printer}`,
            seconds: 60 * (step.minutes ?? 1),
            place: `/printers/${guide.printer_id}/guides/${guide.key}`,
          },
        }),
      ),
    () => say("The timer runs."),
  );
  const done = guide.steps.filter((one) => one.done_at !== null);
  const last = done.at(-1);
  return (
    <>
      <PageHead title={`${guide.name}: ${guide.printer}`} sub={`${done.length} of ${guide.steps.length} done`}>
        <Link className="btn btn-quiet" to={`/blend/vat/${guide.printer_id}`}>
          Vat
        </Link>
      </PageHead>
      <p className="text-secondary">{guide.purpose}</p>
      <Trouble error={tick.error ?? back.error ?? end.error ?? timer.error} className="mb-3" />
      <ol className="guide-steps" aria-label="Steps">
        {guide.steps.map((one) => (
          <li
            key={one.key}
            className={one.done_at ? "panel done" : one.key === guide.next ? "panel now" : "panel ahead"}
            aria-current={one.key === guide.next ? "step" : undefined}
          >
            <p className="mb-1">{one.words}</p>
            {one.caution && <p className="caution mb-2">{one.caution}</p>}
            {one.key === guide.next && (
              <div className="d-flex flex-wrap gap-2">
                <Button size="lg" disabled={tick.isPending} onClick={() => tick.mutate(one.key)}>
                  Done
                </Button>
                {one.minutes && (
                  <Button variant="quiet" size="lg" disabled={timer.isPending} onClick={() => timer.mutate(one)}>
                    Timer, {decimal(one.minutes, 0)}
                    {THIN}min
                  </Button>
                )}
                {one.leads === "vat" && (
                  <Link className="btn btn-quiet btn-lg" to={`/blend/vat/${guide.printer_id}`}>
                    Record it in the vat
                  </Link>
                )}
              </div>
            )}
            {one.done_at && (
              <p className="small text-secondary mb-0">
                {one.initials}, {moment(one.done_at)}. {one.noted}{" "}
                {one.key === last?.key && !one.records && (
                  <Button variant="link" size="sm" className="p-0 align-baseline" onClick={() => back.mutate(one.key)}>
                    Undo
                  </Button>
                )}
              </p>
            )}
          </li>
        ))}
      </ol>
      {done.length > 0 && (
        <Button
          variant={guide.next === null ? "primary" : "quiet"}
          size="lg"
          disabled={end.isPending}
          onClick={() => end.mutate(null)}
        >
          {guide.next === null ? "All done" : "End it here"}
        </Button>
      )}
    </>
  );
}
