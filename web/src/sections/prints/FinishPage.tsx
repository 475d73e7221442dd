import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { DraftNote } from "../../shared/fields/DraftNote";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { moment } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { asTypedMoment } from "./moments";
import { PrintPhotos } from "./PrintPhotos";
import { type Report, reportBody, ReportFields } from "./ReportFields";
import "./log.scss";

type Page = Schemas["PrintPage"];

/** How did it come out? For a print that runs, and to correct what was said of one. */
export default function FinishPage() {
  const { code = "" } = useParams();
  const query = useGet("/api/prints/{id_or_code}", { params: { path: { id_or_code: code } } });
  return (
    <Loaded query={query} page>
      {(page) => <FinishForm key={page.reports.length} page={page} />}
    </Loaded>
  );
}

function FinishForm({ page }: { page: Page }) {
  const navigate = useNavigate();
  const say = useSay();
  const [search] = useSearchParams();
  const newest = page.reports[0];
  const corrects = newest !== undefined && search.has("correct");
  const entry = useEntry<Report & { reason: string }>(
    () => ({
      parts: page.parts.map((one) => ({
        name: one.name,
        printed: one.printed,
        whole: one.whole === one.printed ? null : one.whole,
        under: one.under || null,
        over: one.over || null,
        x_mm: one.x_mm,
        y_mm: one.y_mm,
      })),
      symptoms: (newest?.symptoms ?? []) as Report["symptoms"],
      seen: newest?.seen ?? "",
      finished_at: newest ? asTypedMoment(new Date(newest.finished_at)) : plannedEnd(page),
      volume_ml: page.volume_ml || null,
      minutes: page.duration_s ? Math.round(page.duration_s / 60) : null,
      temp_end_c: newest?.temp_end_c ?? null,
      dry_min: newest?.dry_min ?? null,
      cure_min: newest?.cure_min ?? null,
      pieces_lost: newest && newest.outcome !== "whole" ? newest.pieces_lost : null,
      reason: "",
    }),
    `log.finish.${page.code}.${page.reports.length}`,
  );
  const printer = useGet(
    "/api/printers/{row_id}",
    { params: { path: { row_id: page.printer_id } } },
    { staleTime: Infinity },
  ).data;
  const send = useSend(
    (_: null, headers) => {
      const path = { print_id: page.id };
      const report = reportBody(entry.values);
      return corrects
        ? body(
            POST("/api/prints/{print_id}/correct", {
              params: { path },
              body: { ...report, reason: entry.values.reason, number: newest.number },
              headers,
            }),
          )
        : body(POST("/api/prints/{print_id}/finish", { params: { path }, body: report, headers }));
    },
    (made) => {
      entry.forget();
      say(corrects ? `${made.code} is corrected.` : `${made.code}: ${made.outcome}.`);
      void navigate(corrects || made.outcome !== "whole" ? `/log/${made.code}` : "/log");
    },
    {
      waits: {
        words: () => (corrects ? `Correction of ${page.code}` : `How ${page.code} came out`),
        onKept() {
          entry.forget();
          say(`How ${page.code} came out waits in this device.`);
          void navigate("/at-hand");
        },
      },
    },
  );
  const { field, errors, elsewhere } = entry.checked(send.error);
  if (!corrects && page.status !== "planned")
    return (
      <>
        <PageHead title={`${page.code} does not run`} />
        <p className="panel">
          {page.initials} said how it came out: {page.outcome ?? "withdrawn"}.{" "}
          <Button onClick={() => void navigate(`/log/${page.code}`)}>Open the print</Button>
        </p>
      </>
    );
  return (
    <>
      <PageHead
        title={corrects ? `Correct ${page.code}` : `How did ${page.code} come out?`}
        sub={[page.printer, page.material, page.started_at && `since ${moment(page.started_at)}`]
          .filter(Boolean)
          .join(", ")}
      />
      <Form
        noValidate
        className="panel log-form"
        onSubmit={(event) => {
          event.preventDefault();
          send.mutate(null);
        }}
      >
        <DraftNote entry={entry} />
        <ReportFields report={entry.values} onChange={entry.set} errors={errors} plate={printer} fixed />
        <div className="wide">
          <PrintPhotos page={page} />
        </div>
        {corrects && (
          <TextField
            className="wide"
            label="Why it is corrected"
            {...field("reason")}
            hint="What was said before is kept beside it"
          />
        )}
        <div className="wide">
          <Trouble error={elsewhere} className="mb-2" />
          <Button type="submit" size="lg" disabled={send.isPending}>
            {corrects ? "Correct it" : "Save"}
          </Button>
        </div>
      </Form>
    </>
  );
}

/** When it should have ended, where that is past; else empty, which means now. */
function plannedEnd(page: Page): string {
  if (!page.started_at || !page.duration_s) return "";
  const end = new Date(Date.parse(page.started_at) + page.duration_s * 1000);
  return end.getTime() < Date.now() ? asTypedMoment(end) : "";
}
