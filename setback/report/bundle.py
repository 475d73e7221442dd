"""The bundle of a whole lab: a ZIP of JSON lines and CSV, with a manifest that says what must be in it.

``data/TABLE.jsonl`` holds one JSON object a line, by column name; binary columns are ``{"base64": "..."}``.
``schema/TABLE.json`` is the JSON Schema of such a line. ``csv/TABLE.csv`` is the same for people, and is never read back.
"""

from __future__ import annotations

import base64
import hashlib
import io
import json
import re
import zipfile
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from .sheets import write_rows

FORMAT, PART_FORMAT = "setback-lab", "setback-part"
FORMAT_VERSION = 1
# A lab of ten years is some 300 MB; nothing honest is larger than this, or shrinks more.
LARGEST_BYTES = 4_000_000_000
MOST_SHRUNK = 400
SMALL_BYTES = 1_000_000
LARGEST_MANIFEST_BYTES = 1_000_000
_NAME = re.compile(r"(manifest\.json|README\.txt|(data/[a-z_]+\.jsonl|csv/[a-z_]+\.csv|schema/[a-z_]+\.json))")

README = """A Setback lab. data/ holds every table as JSON lines and is what an import reads; schema/ says what a line looks like;
csv/ is the same for spreadsheets (text that a spreadsheet would take for a formula is marked with '). manifest.json
carries the number of rows and the SHA-256 of every data file.
"""

Row = Mapping[str, Any]


class Listed(BaseModel):
    """How many rows a file of a bundle holds, and the SHA-256 of all of it."""

    model_config = ConfigDict(strict=True)
    rows: int = Field(ge=0)
    sha256: str = Field(pattern=r"^[0-9a-f]{64}$")


class _Made(BaseModel):
    model_config = ConfigDict(strict=True, populate_by_name=True)
    format_version: int = Field(ge=1)
    schema_version: int = Field(ge=1, alias="schema")
    setback: str = Field(max_length=40)
    made_at: str = Field(max_length=40)


class Manifest(_Made):
    """What a bundle says of itself, each value of its type."""

    format: Literal["setback-lab"]
    tables: dict[Annotated[str, Field(pattern=r"^[a-z_]+$", max_length=60)], Listed]


class PartManifest(_Made):
    """What a material or set in a file of its own says of itself."""

    format: Literal["setback-part"]
    sha256: str = Field(pattern=r"^[0-9a-f]{64}$")


class BadBundle(ValueError):
    """The file is not a bundle that can be taken in; the message says why and what to do."""


def write_bundle(
    path: Path,
    schema_version: int,
    app_version: str,
    made_at: str,
    tables: Iterable[tuple[str, Mapping[str, Any], Callable[[], Iterable[Row]]]],
    progress: Callable[[str], None],
) -> dict[str, Any]:
    """Write a bundle; what was in it comes back as its manifest.

    Parameters
    ----------
    tables : iterable of (name, JSON Schema of a row, rows)
        Rows are read twice, once for each form.
    progress : callable
        Told the name of each table before it is written.
    """
    manifest: dict[str, Any] = {
        "format": FORMAT,
        "format_version": FORMAT_VERSION,
        "schema": schema_version,
        "setback": app_version,
        "made_at": made_at,
        "tables": {},
    }
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as bundle:
        bundle.writestr("README.txt", README)
        for name, schema, rows in tables:
            progress(name)
            bundle.writestr(f"schema/{name}.json", json.dumps(schema, indent=1, ensure_ascii=False))
            seal, count = hashlib.sha256(), 0
            with bundle.open(f"data/{name}.jsonl", "w", force_zip64=True) as out:
                for row in rows():
                    line = (json.dumps(_packed(row), ensure_ascii=False, separators=(",", ":")) + "\n").encode()
                    seal.update(line)
                    out.write(line)
                    count += 1
            with (
                bundle.open(f"csv/{name}.csv", "w", force_zip64=True) as out,
                io.TextIOWrapper(out, encoding="utf-8", newline="") as text,
            ):
                columns = list(schema["properties"])
                write_rows(text, [columns])
                write_rows(text, ([row[c] for c in columns] for row in rows()))
            manifest["tables"][name] = {"rows": count, "sha256": seal.hexdigest()}
        bundle.writestr("manifest.json", json.dumps(manifest, indent=1))
    return manifest


class Bundle:
    """A bundle that was checked from outside: names, sizes, manifest. Its rows are checked as they are read."""

    def __init__(self, path: Path) -> None:
        try:
            self.zip = zipfile.ZipFile(path)
            entries = self.zip.infolist()
        except (zipfile.BadZipFile, OSError, ValueError):
            raise BadBundle("This is no ZIP file, or it was cut short: fetch it again.") from None
        for entry in entries:
            if not _NAME.fullmatch(entry.filename):
                raise BadBundle(f"{entry.filename!r} does not belong into a bundle. Nothing was read.")
            packed = max(entry.compress_size, 1)
            if entry.file_size > SMALL_BYTES and entry.file_size / packed > MOST_SHRUNK:
                raise BadBundle(f"{entry.filename} would grow {entry.file_size // packed} times. Nothing was read.")
        if sum(entry.file_size for entry in entries) > LARGEST_BYTES:
            raise BadBundle(f"It would unpack to more than {LARGEST_BYTES // 10**9} GB. Nothing was read.")
        self.manifest = self._manifest()
        self.tables = self.manifest.tables
        missing = [name for name in self.tables if f"data/{name}.jsonl" not in self.zip.namelist()]
        if missing:
            raise BadBundle(f"It was cut short: {missing[0]} is missing.")

    def _manifest(self) -> Manifest:
        try:
            with self.zip.open("manifest.json") as file:
                manifest = Manifest.model_validate_json(file.read(LARGEST_MANIFEST_BYTES))
        except (KeyError, ValueError, OSError, EOFError, zipfile.BadZipFile):
            raise BadBundle("It has no manifest of a Setback lab: it is another kind of file, or cut short.") from None
        if manifest.format_version > FORMAT_VERSION:
            raise BadBundle("It was made by a newer Setback. Update Setback first.")
        return manifest

    def rows(self, name: str) -> Iterator[dict[str, Any]]:
        """Rows of a table.

        Raises
        ------
        BadBundle
            At a line that is no row, and at the end when the rows are not those that were sealed.
        """
        seal, count = hashlib.sha256(), 0
        try:
            with self.zip.open(f"data/{name}.jsonl") as file:
                for line in file:
                    seal.update(line)
                    count += 1
                    yield _unpacked(json.loads(line))
        except (zipfile.BadZipFile, ValueError, EOFError, OSError, RecursionError) as error:
            if isinstance(error, BadBundle):
                raise
            raise BadBundle(
                f"{name} cannot be read at row {count + 1}: the file is damaged or was cut short."
            ) from None
        listed = self.tables[name]
        if seal.hexdigest() != listed.sha256 or count != listed.rows:
            raise BadBundle(f"{name} is not what was exported: its seal does not fit. Nothing was kept.")

    def close(self) -> None:
        self.zip.close()


class Part:
    """One material or set as a single JSON file, with the rows it needs; read like a bundle."""

    def __init__(self, text: bytes) -> None:
        try:
            content = json.loads(text)
            tables = content.pop("tables")
            self.manifest = PartManifest.model_validate(content)
            self._rows = {name: [_unpacked(row) for row in rows] for name, rows in tables.items()}
        except (ValueError, KeyError, TypeError, AttributeError, RecursionError):
            raise BadBundle(
                "This is no material or set of Setback: it is another kind of file, or cut short."
            ) from None
        if self.manifest.format_version > FORMAT_VERSION:
            raise BadBundle("It was made by a newer Setback. Update Setback first.")
        if not all(re.fullmatch(r"[a-z_]+", name) for name in self._rows):
            raise BadBundle("A name in it does not belong there. Nothing was read.")
        seal = _seal(self._rows)
        if seal != self.manifest.sha256:
            raise BadBundle("It is not what was exported: its seal does not fit. Nothing was kept.")
        self.tables = {name: Listed(rows=len(rows), sha256=seal) for name, rows in self._rows.items()}

    def rows(self, name: str) -> Iterator[dict[str, Any]]:
        return iter(self._rows[name])

    def close(self) -> None:
        """Nothing is open."""


def part_json(schema_version: int, app_version: str, made_at: str, tables: Mapping[str, list[dict[str, Any]]]) -> bytes:
    """One material or set as a single JSON file."""
    content = {
        "format": PART_FORMAT,
        "format_version": FORMAT_VERSION,
        "schema": schema_version,
        "setback": app_version,
        "made_at": made_at,
        "sha256": _seal(tables),
        "tables": {n: [_packed(r) for r in rows] for n, rows in tables.items()},
    }
    return json.dumps(content, indent=1, ensure_ascii=False).encode()


def _seal(tables: Mapping[str, list[dict[str, Any]]]) -> str:
    packed = {name: [_packed(row) for row in rows] for name, rows in tables.items()}
    return hashlib.sha256(json.dumps(packed, sort_keys=True, separators=(",", ":")).encode()).hexdigest()


def schema_of(name: str, columns: Sequence[tuple[str, str, bool, bool]], refers: Mapping[str, str]) -> dict[str, Any]:
    """JSON Schema of a row, from (column, SQLite type, needed, part of the key)."""
    kinds: dict[str, Any] = {"TEXT": "string", "INTEGER": "integer", "REAL": "number", "BLOB": "object"}
    properties = {
        column: {
            "type": kinds.get(kind, "string") if needed else [kinds.get(kind, "string"), "null"],
            **({"description": f"Refers to {refers[column]}"} if column in refers else {}),
        }
        for column, kind, needed, _ in columns
    }
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": name,
        "type": "object",
        "properties": properties,
        "required": [column for column, *_ in columns],
        "additionalProperties": False,
        "x-key": [column for column, _, _, key in columns if key],
    }


def _packed(row: Row) -> dict[str, Any]:
    return {
        name: {"base64": base64.b64encode(value).decode()} if isinstance(value, bytes) else value
        for name, value in row.items()
    }


def _unpacked(row: Any) -> dict[str, Any]:
    if not isinstance(row, dict):
        raise BadBundle("A line is no row.")
    return {
        name: base64.b64decode(value["base64"], validate=True) if isinstance(value, dict) else value
        for name, value in row.items()
    }
