import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Table from "react-bootstrap/Table";
import { Link, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { ApiError, asApiError, body, POST, send, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { FileField } from "../../shared/fields/FileField";
import { Choice } from "../../shared/fields/Choice";
import { TextField } from "../../shared/fields/TextField";
import { type Entry, useEntry } from "../../shared/fields/useEntry";
import { megabytes, moment, plural } from "../../shared/format";
import { JobBar } from "../../shared/job/JobBar";
import { useJob } from "../../shared/job/useJob";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { ClimateTabs } from "./ClimateTabs";
import "./climate.scss";
import { useGet } from "../../shared/api/useGet";

type FileView = Schemas["FileView"];
type Mapping = Schemas["LoggerMapping"];
const ORDERS: [NonNullable<Mapping["date_order"]>, string][] = [
  ["ymd", "year first"],
  ["dmy", "day first"],
  ["mdy", "month first"],
];
/** What the columns are, and the probe whose log they become. */
type MappingDraft = Mapping & { probe_id: string };
type Result = {
  rows: number;
  new: number;
  known: number;
  double: number;
  left_out: number;
  examples: string[];
  gaps: [string, string][];
  gap_count: number;
  probe_id: string;
};

/** A logger's file: choose it, say what its columns are, and take it in, whole or not at all. */
export default function ImportPage() {
  const [search, setSearch] = useSearchParams();
  const [trouble, setTrouble] = useState<ApiError | null>(null);
  const [sending, setSending] = useState(false);
  const limits = useGet("/api/file-limits", {}, { staleTime: Infinity });
  const most = limits.data?.log_bytes;
  const id = search.get("file");
  const file = useGet("/api/probe-files/{file_id}", id ? { params: { path: { file_id: id } } } : null, {
    staleTime: Infinity,
  });
  async function choose(chosen: File | undefined) {
    if (!chosen) return;
    setTrouble(null);
    if (most && chosen.size > most) {
      setTrouble(
        new ApiError(
          0,
          `${chosen.name} has ${megabytes(chosen.size)}. Files of up to ${megabytes(most)} are taken: split it by year.`,
        ),
      );
      return;
    }
    setSending(true);
    try {
      const made = await send<FileView>(`/api/probe-files?name=${encodeURIComponent(chosen.name)}`, chosen);
      setSearch({ ...Object.fromEntries(search), file: made.id });
    } catch (error) {
      setTrouble(asApiError(error));
    } finally {
      setSending(false);
    }
  }
  return (
    <>
      <PageHead title="Import a log" sub="A CSV file from a temperature logger" />
      <ClimateTabs here="/climate" />
      <section className="panel" aria-label="File">
        <FileField
          label="File of the logger"
          accept=".csv,.txt,.tsv,text/csv"
          disabled={sending || limits.isPending}
          hint={id ? undefined : "Its columns are shown first; nothing is imported until you confirm."}
          onChoose={(file) => void choose(file)}
        />
        {sending && <p className="mt-2 mb-0">Checking file…</p>}
        <Trouble error={trouble} className="mt-2" />
      </section>
      {id && (
        <Loaded query={file}>
          {(held) => <MappingForm key={held.id} file={held} probe={search.get("probe") ?? ""} />}
        </Loaded>
      )}
    </>
  );
}

function MappingForm({ file, probe }: { file: FileView; probe: string }) {
  const { seen } = file;
  const [started, setStarted] = useState<string>();
  const entry = useEntry<MappingDraft>({
    probe_id: probe,
    time_column: seen.time_column ?? "",
    date_column: seen.date_column,
    temp_column: (seen.temp_columns.length === 1 && seen.temp_columns[0]) || "",
    humidity_column: seen.humidity_column,
    fahrenheit: seen.fahrenheit,
    time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
    date_order: seen.date_order,
    leave_out_unreadable: false,
    leave_out_jumps: false,
  });
  const { probe_id, ...mapping } = entry.values;
  const probes = useGet("/api/probes", {}, { select: (answer) => answer.items });
  const start = useSend(
    (_: null, headers) =>
      body(
        POST("/api/probes/{probe_id}/imports", {
          params: { path: { probe_id } },
          body: { file_id: file.id, mapping },
          headers,
        }),
      ),
    (made) => setStarted(made.id),
  );
  const { job, result, running, stop } = useJob<Result>(started);
  const refused = job?.state === "failed" ? job : null;
  const { elsewhere } = entry.checked(start.error);
  const errors = { ...refused?.fields, ...start.error?.fields };
  const columns = seen.columns.map((one) => [one, one] as [string, string]);
  if (result) return <Done file={file} result={result} />;
  return (
    <section className="panel mt-3" aria-label="Columns">
      <h2>What its columns are</h2>
      {seen.notices.map((one) => (
        <p key={one} className="caution">
          {one}
        </p>
      ))}
      <Columns columns={columns} probes={probes.data ?? []} entry={entry} errors={errors} />
      <FirstRows file={file} />
      {refused && (
        <div className="trouble mb-3" role="alert">
          <p className="mb-1">{refused.message}</p>
          {refused.fields?.leave_out_unreadable && (
            <Form.Check
              id="leave-unreadable"
              label="Leave out rows that cannot be read"
              checked={mapping.leave_out_unreadable}
              onChange={(event) => entry.set({ leave_out_unreadable: event.target.checked })}
            />
          )}
          {refused.fields?.leave_out_jumps && (
            <Form.Check
              id="leave-jumps"
              label="Leave out implausibly fast jumps"
              checked={mapping.leave_out_jumps}
              onChange={(event) => entry.set({ leave_out_jumps: event.target.checked })}
            />
          )}
        </div>
      )}
      {job?.state === "cancelled" && <p className="caution">Stopped as asked. Nothing was kept.</p>}
      <Trouble error={elsewhere} className="mb-2" />
      {running && job ? (
        <JobBar job={job} stop={stop} of="the import" />
      ) : (
        <Button
          disabled={!probe_id || !mapping.temp_column || !mapping.time_column || start.isPending}
          onClick={() => start.mutate(null)}
        >
          Import {file.name}
        </Button>
      )}
    </section>
  );
}

type ColumnsProps = {
  columns: [string, string][];
  probes: Schemas["ProbeView"][];
  entry: Entry<MappingDraft>;
  errors: Record<string, string>;
};

/** What each column is, and whose log it becomes. */
function Columns({ columns, probes, entry: { values: mapping, set, checked }, errors }: ColumnsProps) {
  const { field } = checked();
  return (
    <div className="mapping">
      <Choice
        label="Into the log of"
        {...field("probe_id")}
        options={probes.map((one) => [one.id, `${one.name}, ${one.place}`])}
      />
      <Choice label="Temperature" {...field("temp_column")} options={columns} error={errors.temp_column} />
      <Choice
        label="In"
        value={mapping.fahrenheit ? "F" : "C"}
        onChange={(unit) => set({ fahrenheit: unit === "F" })}
        options={[
          ["C", "°C"],
          ["F", "°F"],
        ]}
      />
      <Choice
        label="Humidity"
        value={mapping.humidity_column ?? ""}
        none="none"
        onChange={(name) => set({ humidity_column: name || null })}
        options={columns}
        error={errors.humidity_column}
      />
      <Choice label="Time" {...field("time_column")} options={columns} error={errors.time_column} />
      <Choice
        label="Separate date column"
        value={mapping.date_column ?? ""}
        none="in the same column"
        onChange={(name) => set({ date_column: name || null })}
        options={columns}
        error={errors.date_column}
      />
      <Choice
        label="Order of the date"
        value={mapping.date_order ?? ""}
        none="Choose…"
        onChange={(order) => set({ date_order: order || null })}
        options={ORDERS}
        error={errors.date_order}
      />
      <TextField label="Time zone of the logger" {...field("time_zone")} error={errors.time_zone} />
    </div>
  );
}

function FirstRows({ file: { seen } }: { file: FileView }) {
  return (
    <div className="table-responsive">
      <Table size="sm" aria-label="First rows">
        <thead>
          <tr>
            {seen.columns.map((one) => (
              <th key={one}>{one}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {seen.rows.slice(0, 4).map((row, index) => (
            <tr key={index}>
              {row.map((cell, at) => (
                <td key={at} className="num">
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </Table>
    </div>
  );
}

function Done({ file, result }: { file: FileView; result: Result }) {
  const [longest] = result.gaps;
  return (
    <section className="panel mt-3" aria-label="Imported">
      <p className="passed mb-2">
        ■ {plural(result.new, "sample")} of {file.name} {result.new === 1 ? "is" : "are"} in the log.
      </p>
      <ul className="plain-list">
        <li>{plural(result.rows, "row")} read.</li>
        {result.known > 0 && <li>{plural(result.known, "sample")} were in the log already and stay as they are.</li>}
        {result.double > 0 && (
          <li>{plural(result.double, "row")} gave a second value for one second; the first counts.</li>
        )}
        {result.left_out > 0 && (
          <li>
            {plural(result.left_out, "row")} left out: {result.examples.join("; ")}.
          </li>
        )}
        <li>
          {longest
            ? `${plural(result.gap_count, "gap")}; the longest from ${moment(longest[0])} to ${moment(longest[1])}.`
            : "No gaps."}
        </li>
      </ul>
      <Link className="btn btn-primary" to={`/climate?probe=${result.probe_id}&span=month`}>
        Look at the log
      </Link>
    </section>
  );
}
