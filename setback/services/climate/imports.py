"""A logger's file: laid beside the database, looked into, then taken in as a job, whole or not at all."""

from __future__ import annotations

import csv
import io
import pickle
from collections.abc import Callable, Iterator
from datetime import timedelta
from pathlib import Path
from typing import IO, Any, TypeVar

from pydantic import Field

from ...core.climate.logger import LoggerFile, LoggerMapping, Reading, gaps, look_into, samples
from ...core.contract import Contract, Problem
from ...store.climate import probes as store
from ...store.database import files_beside
from ...store.rows import delete, insert, update
from .. import apart
from ..unit_of_work import Conflict, UnitOfWork, View, iso, present
from .probes import moment

Progress = Callable[[float, str], None]

LARGEST_BYTES = 200_000_000
HEAD_BYTES = 64_000
CHUNK_BYTES = 1 << 20
CHUNK_ROWS = 20_000
KEPT_DAYS = 2
MOST_GAPS = 20
LONGEST_LINE = 100_000
LONGEST_READING_S = 900.0
Text = TypeVar("Text", str, bytes)


class FileView(View):
    """A file that waits, with what was seen in it."""

    id: str
    name: str
    bytes: int
    seen: LoggerFile
    imported_at: str | None


class ImportInput(Contract):
    """How the columns of a received file are to be read."""

    file_id: str = Field(max_length=40)
    mapping: LoggerMapping


class ImportOrder(ImportInput):
    """An import as it waits in the queue."""

    probe_id: str
    initials: str | None = None


def receive(work: UnitOfWork, name: str, stream: IO[bytes], length: int | None) -> FileView:
    """Lay a file beside the database and look into it; nothing is imported yet.

    Raises
    ------
    Problem
        When it is empty, too large, or no table of text.
    """
    if length is not None and length > LARGEST_BYTES:
        raise _too_large()
    _forget_old(work)
    file_id = work.new_id()
    path = files_beside(work.db) / f"{file_id}.csv"
    try:
        size = _write(path, stream)
        with path.open("rb") as stream_file:
            head = stream_file.read(HEAD_BYTES)
            stream_file.seek(max(size - HEAD_BYTES, 0))
            contents = look_into(head, stream_file.read())
        with work.write() as answer:
            insert(
                work.db,
                "probe_file",
                id=file_id,
                name=Path(name).name[:200] or "log.csv",
                path=path.name,
                bytes=size,
                seen=contents.model_dump(),
                technician_id=work.technician_id(),
                at=work.now(),
            )
            return answer(file(work, file_id))
    except BaseException:
        path.unlink(missing_ok=True)
        raise


def file(work: UnitOfWork, file_id: str) -> FileView:
    """A file that was received."""
    return FileView.model_validate(present(store.file(work.db, file_id), "file"))


def check(work: UnitOfWork, probe_id: str, request: ImportInput) -> None:
    """Refuse what cannot be imported before it is queued: the first rows are read for it."""
    present(store.probe(work.db, probe_id), "probe")
    stored = present(store.file(work.db, request.file_id), "file")
    if stored.imported_at is not None:
        raise Conflict(f"{stored.name} was imported already.")
    contents = LoggerFile.model_validate(stored.seen)
    numbered = [(i + contents.header_line + 1, row) for i, row in enumerate(contents.rows)]
    first = request.mapping.model_copy(update={"date_order": request.mapping.date_order or contents.date_order})
    read = Reading()
    if not list(samples(numbered, contents.columns, first, read)):
        message = f"None of the first rows can be read: {read.examples[0]}." if read.examples else "There are no rows."
        raise Problem(message, {"temp_column": message})


def run(work: UnitOfWork, progress: Progress, request: dict[str, Any]) -> dict[str, Any]:
    """Read every row, then keep all of them at once; a job that is stopped or fails leaves nothing behind.

    Raises
    ------
    Conflict
        When rows cannot be read or readings jump, and nobody said to leave them out.
    """
    order = ImportOrder.model_validate(request)
    check(work, order.probe_id, order)
    stored = present(store.file(work.db, order.file_id), "file")
    probe = present(store.probe(work.db, order.probe_id), "probe")
    contents, path = LoggerFile.model_validate(stored.seen), _path(work, stored.path)
    mapping = order.mapping.model_copy(update={"date_order": order.mapping.date_order or contents.date_order})
    samples_read = 0
    read_file = path.with_suffix(".samples")
    store.stage(work.db)
    try:
        read = apart.run(
            read_all,
            path,
            read_file,
            contents,
            mapping,
            field="file",
            seconds=LONGEST_READING_S,
            meanwhile=lambda share: progress(0.6 * share, "Reading the rows"),
        )
        _refuse(read, mapping)
        for chunk in _chunks(read_file):
            samples_read += store.add_staged(work.db, chunk)
            progress(0.6 + 0.3 * samples_read / max(read.rows, 1), f"{samples_read:,} rows".replace(",", "\u2009"))
        progress(0.92, "Looking for gaps")
        silent = gaps(store.staged_seconds(work.db))
        progress(0.95, "Keeping them and summing them up")
        with work.write():
            new = store.keep_staged(work.db, probe.number)
            update(work.db, "probe_file", stored.id, imported_at=work.now())
    finally:
        store.forget_staged(work.db)
        read_file.unlink(missing_ok=True)
    path.unlink(missing_ok=True)
    return {
        "probe_id": probe.id,
        "rows": read.rows,
        "new": new,
        "known": samples_read - new,
        "double": read.rows - read.unreadable - samples_read,
        "left_out": read.unreadable + (read.jumps if mapping.leave_out_jumps else 0),
        "examples": read.examples + read.jump_examples,
        "gaps": [[moment(a), moment(b)] for a, b in sorted(silent, key=lambda g: g[0] - g[1])[:MOST_GAPS]],
        "gap_count": len(silent),
    }


def read_all(path: Path, target: Path, contents: LoggerFile, mapping: LoggerMapping) -> Reading:
    """Read every row of a file, and write its samples to another one in chunks; in a child process."""
    read, chunk = Reading(), []
    size = max(path.stat().st_size, 1)
    with path.open("rb") as raw, target.open("wb") as out:
        for sample in samples(_rows(raw, contents), contents.columns, mapping, read):
            chunk.append(sample)
            if len(chunk) == CHUNK_ROWS:
                pickle.dump(chunk, out)
                chunk = []
                apart.report(raw.tell() / size)
        pickle.dump(chunk, out)
    return read


def _chunks(read_file: Path) -> Iterator[list[store.Sample]]:
    """What the child wrote: its own file, which nobody else has had in hand."""
    with read_file.open("rb") as file:
        while True:
            try:
                yield pickle.load(file)
            except EOFError:
                return


def _refuse(read: Reading, mapping: LoggerMapping) -> None:
    if read.unreadable and not mapping.leave_out_unreadable:
        rows_text = "1 row" if read.unreadable == 1 else f"{read.unreadable} rows"
        message = f"{rows_text} cannot be read ({'; '.join(read.examples)}). Nothing was kept. Leave them out, or mend the file."
        raise Conflict(message, {"leave_out_unreadable": message})
    if read.jumps and not mapping.leave_out_jumps:
        rows_text = "1 reading jumps" if read.jumps == 1 else f"{read.jumps} readings jump"
        message = f"{rows_text} implausibly fast ({'; '.join(read.jump_examples)}). Nothing was kept. Leave them out, or mend the file."
        raise Conflict(message, {"leave_out_jumps": message})


def _rows(raw: IO[bytes], contents: LoggerFile) -> Iterator[tuple[int, list[str]]]:
    """Numbered rows after the line of names; bytes that are no letters become a mark, and the cell unreadable."""
    encoding = contents.encoding if contents.encoding != "utf-8-sig" else "utf-8"
    lines = (line.decode(encoding, errors="replace") for line in _lines(raw)) if encoding != "utf-16" else _wide(raw)
    reader = csv.reader((line.replace("\0", "") for line in lines), delimiter=contents.delimiter)
    try:
        for number, row in enumerate(reader, 1):
            if number > contents.header_line:
                yield number, row
    except csv.Error as error:
        message = f"Line {reader.line_num} cannot be read as a table: {error}. Nothing was kept."
        raise Problem(message, {"file": message}) from None


def _lines(raw: IO[Text]) -> Iterator[Text]:
    """Lines of a file, none of them longer than a line of a logger can be."""
    while line := raw.readline(LONGEST_LINE):
        if len(line) == LONGEST_LINE:
            message = f"A line is longer than {LONGEST_LINE} letters: this is no logger's table. Nothing was kept."
            raise Problem(message, {"file": message})
        yield line


def _wide(raw: IO[bytes]) -> Iterator[str]:
    return _lines(io.TextIOWrapper(raw, encoding="utf-16", errors="replace"))


def _write(path: Path, stream: IO[bytes]) -> int:
    size = 0
    with path.open("wb") as out:
        while piece := stream.read(CHUNK_BYTES):
            size += len(piece)
            if size > LARGEST_BYTES:
                raise _too_large()
            out.write(piece)
    if size == 0:
        raise Problem("The file is empty.", {"file": "Choose the CSV file that the logger's program writes."})
    return size


def _too_large() -> Problem:
    message = f"Files of up to {LARGEST_BYTES // 1_000_000} MB are taken: split it by year."
    return Problem(message, {"file": message})


def _path(work: UnitOfWork, name: str) -> Path:
    """Where a received file lies: beside the database, whatever its row says."""
    return files_beside(work.db) / Path(name).name


def _forget_old(work: UnitOfWork) -> None:
    """Files nobody imported within days go away."""
    before = iso(work.clock() - timedelta(days=KEPT_DAYS))
    for stored in store.old_files(work.db, before):
        _path(work, stored.path).unlink(missing_ok=True)
        with work.keeping():
            delete(work.db, "probe_file", stored.id)
