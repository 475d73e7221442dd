import { useState } from "react";
import Button from "react-bootstrap/Button";
import Table from "react-bootstrap/Table";
import { useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { type ApiError, asApiError, body, POST, send, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { FileField } from "../../shared/fields/FileField";
import { TextField } from "../../shared/fields/TextField";
import { plural } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { Matching } from "./Matching";
import "./earlier.scss";

type Opened = Schemas["TableView"];

/** A table from before: paste it or open its file, match its columns, and take it in with the file kept. */
export default function TablePage() {
  const [search, setSearch] = useSearchParams();
  const code = search.get("table");
  const table = useGet("/api/earlier-tables/{code}", code ? { params: { path: { code } } } : null, {
    staleTime: Infinity,
  });
  const open = (opened: Opened) => setSearch({ ...Object.fromEntries(search), table: opened.code });
  return (
    <>
      <PageHead title="From a table" sub="Old settings, results, prints, pours or temperatures" />
      {code ? (
        <Loaded query={table}>
          {(opened) => (
            <Matching key={opened.code} table={opened} first={search.get("kind")} onOther={() => setSearch({})} />
          )}
        </Loaded>
      ) : (
        <OpenTable onOpened={open} />
      )}
    </>
  );
}

function OpenTable({ onOpened }: { onOpened: (table: Opened) => void }) {
  const [text, setText] = useState("");
  const [sending, setSending] = useState(false);
  const [trouble, setTrouble] = useState<ApiError | null>(null);
  const taken = useGet("/api/earlier-tables", {}, { select: (answer) => answer.items });
  const paste = useSend(
    (_: null, headers) => body(POST("/api/earlier-tables/pasted", { body: { name: "pasted table", text }, headers })),
    onOpened,
  );
  async function choose(file: File) {
    setTrouble(null);
    setSending(true);
    try {
      onOpened(await send<Opened>(`/api/earlier-tables?name=${encodeURIComponent(file.name)}`, file));
    } catch (error) {
      setTrouble(asApiError(error));
    } finally {
      setSending(false);
    }
  }
  return (
    <>
      <section className="panel d-grid gap-3" aria-label="The table">
        <FileField
          label="A spreadsheet or text file"
          accept=".xlsx,.csv,.tsv,.txt"
          disabled={sending}
          hint="XLSX or CSV; its first sheet. Its columns are shown first; nothing is imported until you confirm."
          onChoose={(file) => void choose(file)}
        />
        <TextField
          label="Or paste the cells"
          value={text}
          onChange={setText}
          lines={6}
          placeholder={"Resin\tPrinter\tLayer\tExposure\nSlate 2\tCormorant\t0.05\t2.4"}
          hint="With the row that names the columns."
        />
        <div>
          <Button disabled={!text.trim() || paste.isPending} onClick={() => paste.mutate(null)}>
            Show its columns
          </Button>
        </div>
        {sending && <p className="mb-0">Checking file…</p>}
        <Trouble error={trouble ?? paste.error} />
      </section>
      {taken.data && taken.data.length > 0 && (
        <section className="panel mt-3" aria-label="Taken in before">
          <h2>Taken in before</h2>
          <Table size="sm" className="mb-0">
            <tbody>
              {taken.data.map((one) => (
                <tr key={one.code}>
                  <td className="num">{one.code}</td>
                  <td>{one.name}</td>
                  <td>{one.kind}</td>
                  <td className="num text-end">{plural(one.rows_taken ?? 0, "row")}</td>
                  <td>
                    <a href={`/api/earlier-tables/${one.code}/file`}>The file</a>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </section>
      )}
    </>
  );
}
