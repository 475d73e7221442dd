import { useState } from "react";
import Button from "react-bootstrap/Button";
import { FileField } from "../../shared/fields/FileField";
import Table from "react-bootstrap/Table";
import { PageHead } from "../../app/PageHead";
import { type ApiError, asApiError, body, POST, send, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { plural } from "../../shared/format";
import { JobBar } from "../../shared/job/JobBar";
import { useJob } from "../../shared/job/useJob";
import { Trouble } from "../../shared/Trouble";
import { QualifyTabs } from "./QualifyTabs";
import "./qualify.scss";

type Told = {
  new: number;
  same: number;
  conflicting: number;
  tables: { table: string; new: number; same: number; conflicting: number; examples: string[] }[];
};

/** The whole lab out as open files, and in again with a preview. */
export default function BundlesPage() {
  return (
    <>
      <PageHead title="Export and import" sub="Data that can leave and come back" />
      <QualifyTabs />
      <div className="two-columns">
        <Export />
        <Import />
      </div>
    </>
  );
}

type Exported = { file: string; rows: number; bytes: number };

function Export() {
  const start = useSend((_: null, headers) => body(POST("/api/jobs", { body: { kind: "export-lab" }, headers })));
  const { job, result: made, running, stop } = useJob<Exported>(start.data?.id);
  return (
    <section className="panel" aria-label="Export">
      <h2>Export the whole lab</h2>
      <p>
        Every record of this lab as JSON with its schema, and the same as CSV, in one ZIP. Nothing in it needs Setback
        to be read.
      </p>
      {running && job ? (
        <JobBar job={job} stop={stop} of="the export" />
      ) : (
        <Button disabled={start.isPending} onClick={() => start.mutate(null)}>
          Export the lab
        </Button>
      )}
      {job?.state === "failed" && <Trouble error={job} className="mt-2" />}
      {made && (
        <p className="mt-3 mb-0">
          <a className="btn btn-primary" href={`/api/exports/${made.file}`} download>
            Save setback-lab.zip
          </a>{" "}
          {plural(made.rows, "record")}, {(made.bytes / 1e6).toFixed(1)} MB
        </p>
      )}
      <Trouble error={start.error} className="mt-2" />
    </section>
  );
}

function Import() {
  const [file, setFile] = useState<Schemas["BundleFile"] | null>(null);
  const [trouble, setTrouble] = useState<ApiError | null>(null);
  const [sending, setSending] = useState(false);
  const look = useSend((id: string, headers) => body(POST("/api/bundles/preview", { body: { id }, headers })));
  const take = useSend((id: string, headers) => body(POST("/api/bundles/import", { body: { id }, headers })));
  const looked = useJob<Told>(look.data?.id);
  const taken = useJob<Told>(take.data?.id);
  async function choose(chosen: File | undefined) {
    if (!chosen) return;
    setTrouble(null);
    setFile(null);
    look.reset();
    take.reset();
    setSending(true);
    try {
      const made = await send<Schemas["BundleFile"]>("/api/bundles", chosen);
      setFile(made);
      look.mutate(made.id);
    } catch (error) {
      setTrouble(asApiError(error));
    } finally {
      setSending(false);
    }
  }
  const { result: told } = looked;
  const { result: done } = taken;
  const failed = [looked.job, taken.job].find((one) => one?.state === "failed");
  return (
    <section className="panel" aria-label="Import">
      <h2>Import</h2>
      <FileField
        label="A lab as ZIP, or a material or set as JSON"
        accept=".zip,.json,application/zip,application/json"
        disabled={sending}
        hint="The file is checked first; nothing is imported until you confirm."
        onChoose={(file) => void choose(file)}
      />
      {sending && <p className="mt-2 mb-0">Checking file…</p>}
      <Trouble error={trouble ?? look.error ?? take.error ?? failed} className="mt-2" />
      {looked.running && looked.job && <JobBar job={looked.job} stop={looked.stop} of="the preview" />}
      {taken.running && taken.job && <JobBar job={taken.job} stop={taken.stop} of="the import" />}
      {file && told && !done && (
        <div className="mt-3">
          <p>
            {plural(told.new, "record")} new, {told.same} here already,{" "}
            <b className={told.conflicting ? "found" : ""}>{told.conflicting} in conflict</b>.
          </p>
          <Preview told={told} />
          {told.conflicting > 0 && (
            <p className="caution">
              Records that are here already and say something else stop the import: it is taken in whole or not at all.
            </p>
          )}
          {!taken.running && (
            <Button
              disabled={told.conflicting > 0 || told.new === 0 || take.isPending}
              onClick={() => take.mutate(file.id)}
            >
              {told.new === 0 ? "Nothing is new" : `Take in ${plural(told.new, "record")}`}
            </Button>
          )}
        </div>
      )}
      {done && <p className="passed mt-3 mb-0">■ {plural(done.new, "record")} taken in.</p>}
    </section>
  );
}

function Preview({ told }: { told: Told }) {
  const shown = told.tables.filter((one) => one.new || one.conflicting);
  if (!shown.length) return null;
  return (
    <div className="table-responsive bundle-preview">
      <Table size="sm" aria-label="What it would do">
        <thead>
          <tr>
            <th>Records</th>
            <th className="text-end">New</th>
            <th className="text-end">Same</th>
            <th className="text-end">In conflict</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((one) => (
            <tr key={one.table}>
              <td>{one.table.replaceAll("_", " ")}</td>
              <td className="num text-end">{one.new}</td>
              <td className="num text-end">{one.same}</td>
              <td className="text-end">
                {one.conflicting || ""} {one.examples.length > 0 && <small>{one.examples.join(", ")}</small>}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </div>
  );
}
