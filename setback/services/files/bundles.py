"""A lab that leaves and comes back: export as a bundle, preview, and import, whole or not at all."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO, Any, Literal

from pydantic import Field

from ... import __version__
from ...core.contract import Contract, Problem
from ...report.bundle import BadBundle, Bundle, Part, part_json, schema_of, write_bundle
from ...store.database import files_beside, reading
from ...store.lab import bundles as store
from ...store.lab.older import brought_up_to_date
from .. import apart
from ..lab import records
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .coupon_files import Made

Progress = Callable[[float, str], None]
CHUNK_BYTES = 1 << 20
LARGEST_FILE_BYTES = 1_000_000_000
READING_SECONDS = 600.0


class BundleFile(View):
    """A bundle that was received and waits for its preview."""

    id: str
    tables: int
    rows: int
    made_at: str
    setback: str


class BundleOrder(Contract):
    """The received bundle that is meant."""

    id: str = Field(max_length=40, pattern=r"^[0-9a-f-]{36}$")


def export(work: UnitOfWork, progress: Progress, request: dict[str, Any]) -> dict[str, Any]:
    """Write the whole lab beside its database, as of one moment; the job's result names the file."""
    name = f"export-{work.new_id()}.zip"
    path = files_beside(work.db) / name
    try:
        manifest = write_to(work, path, progress)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return {"file": name, "rows": sum(t["rows"] for t in manifest["tables"].values()), "bytes": path.stat().st_size}


def write_to(work: UnitOfWork, path: Path, progress: Progress) -> dict[str, Any]:
    """Write a bundle to a path."""
    with reading(work.db) as db:
        names = store.tables(db)
        done = iter(range(len(names)))
        return write_bundle(
            path,
            store.schema_version(db),
            __version__,
            work.now(),
            (_table(db, name) for name in names),
            lambda name: progress(next(done) / len(names), name.replace("_", " ")),
        )


def _table(db: sqlite3.Connection, name: str) -> tuple[str, dict[str, Any], Callable[[], Iterable[dict[str, Any]]]]:
    columns = [(c.name, c.kind, c.needed, c.key) for c in store.columns(db, name)]
    return name, schema_of(name, columns, store.references(db, name)), lambda: store.rows(db, name)


def exported(work: UnitOfWork, name: str) -> Path:
    """Where a finished export lies."""
    path = files_beside(work.db) / name
    return present(
        path if name.startswith("export-") and path.parent == files_beside(work.db) and path.is_file() else None,
        "export",
    )


def part(work: UnitOfWork, kind: Literal["material", "parameter_set"], row_id: str) -> Made:
    """One material or set as a JSON file that another lab can take in."""
    own_id, code = present(store.id_and_code(work.db, kind, row_id), kind.replace("_", " "))
    tables = store.part(work.db, kind, own_id)
    content = part_json(store.schema_version(work.db), __version__, work.now(), tables)
    return Made(content, "application/json", f"{code}.json", "", 0.0)


def opened(path: Path) -> Bundle | Part:
    """A whole lab or one part of it, by what the file is."""
    with path.open("rb") as file:
        is_json = file.read(64).lstrip()[:1] == b"{"
    return Part(path.read_bytes()) if is_json else Bundle(path)


def read_through(path: str) -> int:
    """Unpack and read every row of a bundle, and keep none: what it costs is paid in a child, before the server does it.

    Raises
    ------
    Problem
        When the file is no bundle, or a row of it cannot be read.
    """
    try:
        bundle = opened(Path(path))
        try:
            return sum(1 for table in bundle.tables for _ in bundle.rows(table))
        finally:
            bundle.close()
    except BadBundle as error:
        raise Problem(str(error), {"file": str(error)}) from None


def _read_apart(path: Path, progress: Progress) -> None:
    """Have a child read it first; one that takes too much memory or time ends there."""
    present(path if path.is_file() else None, "bundle")
    apart.run(
        read_through,
        str(path),
        field="file",
        seconds=READING_SECONDS,
        meanwhile=lambda _: progress(0.01, "Checking the file"),
    )


def receive(work: UnitOfWork, stream: IO[bytes]) -> BundleFile:
    """Lay a bundle beside the database and check it from outside; nothing is taken in yet.

    Raises
    ------
    Problem
        When it is no bundle, too large, cut short, or would climb out of its place.
    """
    bundle_id = work.new_id()
    path = _path(work, bundle_id)
    try:
        size = 0
        with path.open("wb") as out:
            while piece := stream.read(CHUNK_BYTES):
                size += len(piece)
                if size > LARGEST_FILE_BYTES:
                    raise Problem(
                        "It is too large.", {"file": f"Bundles of up to {LARGEST_FILE_BYTES // 10**6} MB are taken."}
                    )
                out.write(piece)
        with _opened(path) as bundle:
            _fits(work, bundle)
            tables = bundle.tables
            return BundleFile(
                id=bundle_id,
                tables=len(tables),
                rows=sum(t.rows for t in tables.values()),
                made_at=bundle.manifest.made_at,
                setback=bundle.manifest.setback,
            )
    except BaseException:
        path.unlink(missing_ok=True)
        raise


def preview(work: UnitOfWork, progress: Progress, request: dict[str, Any]) -> dict[str, Any]:
    """What an import would do, table by table; nothing is kept."""
    path = _path(work, BundleOrder.model_validate(request).id)
    _read_apart(path, progress)
    with _opened(path) as bundle:
        return looked_at(work, bundle, progress)


def looked_at(work: UnitOfWork, bundle: Bundle | Part, progress: Progress) -> dict[str, Any]:
    """The preview itself, from an open bundle."""
    _fits(work, bundle)
    with _of_today(work, bundle) as rows:
        try:
            return _told(read_in(work, rows, progress))
        finally:
            _forget(work, rows)


def take_in(work: UnitOfWork, progress: Progress, request: dict[str, Any]) -> dict[str, Any]:
    """Take a bundle in, whole or not at all.

    Raises
    ------
    Conflict
        When rows conflict, refer to nothing, or break the chain of signed records.
    """
    path = _path(work, BundleOrder.model_validate(request).id)
    _read_apart(path, progress)
    with _opened(path) as bundle:
        summary = import_from(work, bundle, progress)
    path.unlink(missing_ok=True)
    return summary


def import_from(work: UnitOfWork, bundle: Bundle | Part, progress: Progress) -> dict[str, Any]:
    """The import itself, from an open bundle."""
    _fits(work, bundle)
    with _of_today(work, bundle) as rows:
        return _told(_keep(work, rows, progress))


def _keep(work: UnitOfWork, bundle: Rows, progress: Progress) -> list[store.TableStanding]:
    try:
        compared = read_in(work, bundle, progress)
        bad = [t for t in compared if t.conflicting]
        if bad:
            conflicts = "; ".join(f"{t.conflicting} in {t.table} ({', '.join(t.examples)})" for t in bad[:5])
            raise Conflict(f"Some records are here already and say something else: {conflicts}. Nothing was kept.")
        progress(0.9, "Keeping them")
        with work.write():
            try:
                store.keep_all(work.db, bundle.tables)
            except store.DoesNotFit as error:
                raise Conflict(f"A record does not fit: {error}. Nothing was kept.") from None
            lost = store.astray(work.db)
            if lost is not None:
                raise Conflict(f"A row of {lost} refers to something that is not in the bundle. Nothing was kept.")
            if fault := records.signed_records_fault(work.db):
                raise Conflict(f"{fault} The chain of signed records would be broken. Nothing was kept.")
    finally:
        _forget(work, bundle)
    return compared


def read_in(work: UnitOfWork, bundle: Rows, progress: Progress) -> list[store.TableStanding]:
    """Stage every table and hold it against what is there.

    Raises
    ------
    Conflict
        When a table is not what was exported, or its rows have other columns.
    """
    compared = []
    for number, table in enumerate(bundle.tables):
        progress(0.85 * number / len(bundle.tables), table.replace("_", " "))
        try:
            store.stage(work.db, table, bundle.rows(table))
        except BadBundle as error:
            raise Conflict(str(error)) from None
        except (store.DoesNotFit, OverflowError) as error:
            raise Conflict(f"A record does not fit: {error}. Nothing was kept.") from None
        except KeyError as error:
            raise Conflict(
                f"Rows of {table} have other columns than here: {error.args[0]}. Nothing was kept."
            ) from None
        compared.append(store.compare(work.db, table))
    return compared


def _told(compared: list[store.TableStanding]) -> dict[str, Any]:
    tables = [t.model_dump() for t in compared if t.new or t.same or t.conflicting]
    totals = {k: sum(getattr(t, k) for t in compared) for k in ("new", "same", "conflicting")}
    return {"tables": tables, **totals}


def _fits(work: UnitOfWork, bundle: Bundle | Part) -> None:
    own_version, bundle_version = store.schema_version(work.db), bundle.manifest.schema_version
    if bundle_version > own_version:
        raise Problem("Too new.", {"file": "It was made by a newer Setback. Update Setback first."})
    if bundle_version < own_version:
        return  # Brought up to date before it is looked at; what stays on its machine is left behind.
    brought = sorted(store.STAYS.intersection(bundle.tables))
    if brought:
        message = (
            f"It brings rows of {brought[0]}: work and files of the machine it was made on, which no lab takes from another. "
            "Nothing was kept. Export that lab again with this version of Setback."
        )
        raise Problem("Rows of another machine.", {"file": message})
    tables = set(store.tables(work.db))
    odd = [name for name in bundle.tables if name not in tables]
    if odd:
        raise Problem("Unknown table.", {"file": f"{odd[0]} is no table of a lab."})


@contextmanager
def _opened(path: Path) -> Iterator[Bundle | Part]:
    present(path if path.is_file() else None, "bundle")
    try:
        bundle = opened(path)
    except BadBundle as error:
        raise Problem(str(error), {"file": str(error)}) from None
    try:
        yield bundle
    finally:
        bundle.close()


@contextmanager
def _of_today(work: UnitOfWork, bundle: Bundle | Part) -> Iterator[Rows]:
    """A bundle as it is, or one of an older schema brought up to date."""
    version = bundle.manifest.schema_version
    if version == store.schema_version(work.db):
        yield bundle
        return
    try:
        with brought_up_to_date(version, bundle.tables, bundle.rows) as db:
            yield _Updated(db)
    except (BadBundle, store.DoesNotFit) as error:
        raise Conflict(
            f"It was made by an older Setback and cannot be brought up to date: {error}. Nothing was kept."
        ) from None
    except KeyError as error:
        raise Conflict(f"Its rows have other columns than they should: {error.args[0]}. Nothing was kept.") from None


class _Updated:
    """A bundle of an older schema, as rows of today's."""

    def __init__(self, db: sqlite3.Connection) -> None:
        self._db = db
        self.tables = [name for name in store.tables(db) if store.count(db, name)]

    def rows(self, name: str) -> Iterator[dict[str, Any]]:
        """Rows of a table."""
        return store.rows(self._db, name)


Rows = Bundle | Part | _Updated


def _forget(work: UnitOfWork, bundle: Rows) -> None:
    for table in bundle.tables:
        store.forget(work.db, table)


def path_of(work: UnitOfWork, bundle_id: str) -> Path:
    """Where a received bundle lies."""
    path = _path(work, bundle_id)
    return present(path if path.is_file() else None, "bundle")


def _path(work: UnitOfWork, bundle_id: str) -> Path:
    return files_beside(work.db) / f"import-{bundle_id}.zip"
