import { useQuery } from "@tanstack/react-query";
import Button from "react-bootstrap/Button";
import { Link, Navigate, useParams, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { EmptyState } from "../../shared/EmptyState";
import { EntryForm } from "../../shared/fields/EntryForm";
import { plural } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { DataTable } from "../../shared/table/DataTable";
import { useSay } from "../../app/toasts";
import { ShelfTabs } from "./ShelfTabs";
import { BATHS, BOTTLES, PRINTERS, RESINS, ROUTES, type ShelfKind } from "./kinds";

// The rows differ per kind; the page only uses what all of them have.
type Entry = { id: string; code: string; retired_at: string | null; version: number };
const KINDS = [RESINS, BOTTLES, PRINTERS, ROUTES, BATHS] as unknown as ShelfKind<Entry>[];

export default function ShelfPage() {
  const { kind: path } = useParams();
  const kind = KINDS.find((one) => one.path === path);
  if (!kind) return <Navigate to="/shelf/resins" replace />;
  return <ShelfOf key={kind.path} kind={kind} />;
}

type Go = (changes: Record<string, string | null>) => void;

function ShelfOf({ kind }: { kind: ShelfKind<Entry> }) {
  const [search, setSearch] = useSearchParams();
  const retired = search.get("retired") === "1";
  const list = useQuery({ queryKey: ["shelf", kind.path, retired], queryFn: () => kind.list(retired) });
  const materials = useQuery({
    queryKey: ["shelf", "resins", false],
    queryFn: () => RESINS.list(false),
    enabled: kind.path === "bottles",
  });
  const go: Go = (changes) => {
    const next = new URLSearchParams(search);
    for (const [name, value] of Object.entries(changes)) {
      if (value === null) next.delete(name);
      else next.set(name, value);
    }
    setSearch(next, { replace: true });
  };
  usePageKeys([{ keys: "n", does: `add a ${kind.one}`, run: () => go({ new: "1", edit: null }) }]);
  const needsResin = kind.path === "bottles" && materials.data?.length === 0;
  // Here and not with the rows: the last row that leaves takes them along, and its note must still be said.
  const say = useSay();
  const move = useSend(({ row, back }: { row: Entry; back: boolean }) => {
    const path = { kind: kind.path as "resins", row_id: row.id };
    return body(
      back
        ? POST("/api/{kind}/{row_id}/restore", { params: { path } })
        : POST("/api/{kind}/{row_id}/retire", { params: { path } }),
    );
  });
  function retire(row: Entry, back: boolean) {
    move.mutate(
      { row, back },
      {
        onSuccess: () =>
          say(`${kind.title(row)} is ${back ? "back on the shelf" : "retired"}.`, () =>
            move.mutate({ row, back: !back }),
          ),
        onError: (error) => say(error.message),
      },
    );
  }
  return (
    <>
      <PageHead
        title="Shelf"
        sub={list.data ? `${plural(list.data.length, retired ? `retired ${kind.one}` : kind.one)}` : undefined}
      >
        {!needsResin && <Button onClick={() => go({ new: "1" })}>Add a {kind.one}</Button>}
      </PageHead>
      <div className="d-flex flex-wrap gap-2 align-items-center mb-3">
        <ShelfTabs here={kind.path} />
        <Button variant="link" className="ms-auto" onClick={() => go({ retired: retired ? null : "1" })}>
          {retired ? "Show what is on the shelf" : "Show retired"}
        </Button>
      </div>
      <Loaded query={list}>
        {(rows) =>
          rows.length ? (
            <Rows kind={kind} rows={rows} go={go} retire={retire} />
          ) : (
            <NoRows kind={kind} retired={retired} needsResin={needsResin} go={go} />
          )
        }
      </Loaded>
      {(kind.path !== "bottles" || materials.data) && (
        <Forms kind={kind} rows={list.data} retired={retired} fields={kind.fields(materials.data ?? [])} go={go} />
      )}
    </>
  );
}

type RowsProps = { kind: ShelfKind<Entry>; rows: Entry[]; go: Go; retire: (row: Entry, back: boolean) => void };

function Rows({ kind, rows, go, retire }: RowsProps) {
  return (
    <DataTable
      name={kind.name}
      rows={rows}
      id={(row) => row.id}
      columns={[
        {
          name: "Name",
          value: (row) => kind.title(row),
          cell: (row) =>
            kind.page ? (
              <Link className="row-link d-inline-flex align-items-center" to={kind.page(row)}>
                <Name kind={kind} row={row} />
              </Link>
            ) : (
              <button type="button" className="row-link" onClick={() => go({ edit: row.id })}>
                <Name kind={kind} row={row} />
              </button>
            ),
        },
        ...kind.columns,
      ]}
      actions={(row) => (
        <span className="d-inline-flex gap-2">
          <Button variant="quiet" size="sm" aria-label={`Edit ${kind.title(row)}`} onClick={() => go({ edit: row.id })}>
            Edit
          </Button>
          {"name" in kind.fresh && !row.retired_at && (
            <Button
              variant="quiet"
              size="sm"
              aria-label={`Duplicate ${kind.title(row)}`}
              onClick={() => go({ new: "1", like: row.id })}
            >
              Duplicate
            </Button>
          )}
          <Button
            variant="quiet"
            size="sm"
            aria-label={`${row.retired_at ? "Bring back" : "Retire"} ${kind.title(row)}`}
            onClick={() => retire(row, Boolean(row.retired_at))}
          >
            {row.retired_at ? "Bring back" : "Retire"}
          </Button>
        </span>
      )}
    />
  );
}

function Name({ kind, row }: { kind: ShelfKind<Entry>; row: Entry }) {
  return (
    <>
      {kind.title(row)}
      {kind.title(row) !== row.code && <span className="num text-secondary fw-normal ms-2 small">{row.code}</span>}
    </>
  );
}

function NoRows({
  kind,
  retired,
  needsResin,
  go,
}: {
  kind: ShelfKind<Entry>;
  retired: boolean;
  needsResin: boolean;
  go: Go;
}) {
  if (retired)
    return <EmptyState purpose={`No ${kind.one} is retired. What is retired keeps all that was measured with it.`} />;
  if (needsResin)
    return (
      <EmptyState purpose={`${kind.purpose} Add its resin first.`}>
        <Link className="btn btn-primary" to="/shelf/resins?new=1">
          Add a resin
        </Link>
      </EmptyState>
    );
  return (
    <EmptyState purpose={kind.purpose}>
      <Button onClick={() => go({ new: "1" })}>Add a {kind.one}</Button>
    </EmptyState>
  );
}

type FormsProps = {
  kind: ShelfKind<Entry>;
  rows: Entry[] | undefined;
  retired: boolean;
  fields: ReturnType<ShelfKind<Entry>["fields"]>;
  go: Go;
};

/** The dialog that adds, or the one that changes, as the address asks. */
function Forms({ kind, rows, retired, fields, go }: FormsProps) {
  const [search] = useSearchParams();
  const say = useSay();
  const editing = search.get("edit");
  const everything = useQuery({
    queryKey: ["shelf", kind.path, true],
    queryFn: () => kind.list(true),
    enabled: Boolean(editing) && !retired,
  });
  const edited = editing
    ? (rows?.find((row) => row.id === editing) ?? everything.data?.find((row) => row.id === editing))
    : undefined;
  const like = rows?.find((row) => row.id === search.get("like"));
  const close = () => go({ edit: null, new: null, like: null });
  const add = useSend(kind.add, (made) => {
    say(`${kind.title(made)} is on the shelf.`);
    close();
  });
  const change = useSend(
    ({ id, values }: { id: string; values: Record<string, unknown> }) => kind.change(id, values),
    (made) => {
      say(`${kind.title(made)} is saved.`);
      close();
    },
  );
  return (
    <>
      {search.has("new") && (
        <EntryForm
          key={like?.id ?? "new"}
          title={like ? `Another ${kind.one} like ${kind.title(like)}` : `Add a ${kind.one}`}
          fields={fields}
          values={like ? { ...pick(like, kind.fresh), name: `${kind.title(like)} copy` } : kind.fresh}
          saving={add.isPending}
          error={add.error}
          caution={kind.caution}
          onClose={close}
          onSave={(values) => add.mutate(values)}
        />
      )}
      {edited && (
        <EntryForm
          key={edited.id}
          title={`${kind.title(edited)}`}
          fields={fields.filter((field) => field.type === "heading" || field.only !== "new")}
          values={pick(edited, kind.fresh)}
          version={edited.version}
          saving={change.isPending}
          error={change.error}
          caution={
            kind.path === "finish-routes"
              ? "A change makes a new version; what was finished by the old one keeps it."
              : undefined
          }
          onClose={close}
          onSave={(values) => change.mutate({ id: edited.id, values })}
        />
      )}
    </>
  );
}

/** The editable part of a row, as the form holds it. */
function pick(row: Entry, fresh: Record<string, unknown>): Record<string, unknown> {
  const held = row as unknown as Record<string, unknown>;
  return Object.fromEntries(
    Object.keys(fresh).map((name) => [name, held[name] ?? (typeof fresh[name] === "string" ? "" : null)]),
  );
}
