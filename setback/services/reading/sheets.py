"""Readings typed into a spreadsheet: columns named by the person, every row checked as at the bench, all or nothing."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from typing import Any

from pydantic import Field

from ...core.contract import Contract, Problem
from ...core.testing.methods import Field as MethodField
from ...core.testing.methods import Method
from ...report.sheets import write_rows
from ...store.calibrate import calibrations as coupon_store
from ...store.database import piece_of_writing
from ...store.reading.readings import current
from ..files.coupon_files import Made
from ..testing.entry import SpecimenReadingInput
from ..testing.entry import keep_reading as keep_specimen
from ..testing.records import held_test
from ..unit_of_work import Conflict, NotFound, UnitOfWork, View, present
from .readings import FeatureInput, ReadingInput
from .readings import keep_reading as keep_coupon

MOST_ROWS = 5000
YES, NO = frozenset({"yes", "true", "1", "y", "x"}), frozenset({"no", "false", "0", "n", ""})


class SheetInput(Contract):
    """A spreadsheet's text, and which column holds what."""

    text: str = Field(max_length=5_000_000, description="The CSV file as it is")
    mapping: dict[str, str] = Field({}, description="Column by what it holds; empty: only look at the file")
    keep: bool = Field(False, description="Take the rows in; otherwise they are only checked")


class SheetField(View):
    """Something a column can hold."""

    key: str
    name: str
    needed: bool


class SheetRow(View):
    """One row as it was understood, or what is wrong with it."""

    line: int
    code: str
    words: str | None = Field(description="Why it cannot be taken in; None when it can")


class SheetTold(View):
    """What a sheet would bring, or has brought."""

    columns: list[str]
    fields: list[SheetField]
    suggested: dict[str, str]
    rows: list[SheetRow]
    good: int
    bad: int
    kept: bool
    names: dict[str, str] = Field({}, description="Features of the coupons by the name a column or row gives them")


class _TakenBack(Exception):
    """The rows were only checked, or some cannot be kept."""


def specimens(work: UnitOfWork, test: str, request: SheetInput) -> SheetTold:
    """Readings of a test's specimens, one row each (one row for each count of cycles in a series)."""
    record = held_test(work, test)
    codes = {s.code for s in record.specimens}
    fields = [SheetField(key="specimen", name="Specimen", needed=True)]
    fields += [
        SheetField(key=f.key, name=f"{f.label}{f', {f.unit}' if f.unit else ''}", needed=not f.optional)
        for f in record.method.reads
    ]
    fields.append(SheetField(key="note", name="Note", needed=False))

    def keep(rows: list[tuple[int, dict[str, str]]]) -> None:
        """Keep the readings of checked rows."""
        _, row = rows[0]
        if row["specimen"] not in codes:
            raise NotFound(f"{record.row.code} has no specimen {row['specimen']!r}.")
        read = _read_off(record.method, row)
        keep_specimen(work, row["specimen"], SpecimenReadingInput(read=read, note=row.get("note", "")))

    return _sheet(
        work, request, fields, lambda row: f"{row['specimen']} {row.get(_against(record.method), '')}".strip(), keep
    )


def coupons(work: UnitOfWork, calibration_id: str, request: SheetInput) -> SheetTold:
    """Readings of coupons: a row for each coupon with a column for each feature, or a row for each feature.

    Which of the two it is, its columns say.
    """
    present(coupon_store.calibration(work.db, calibration_id), "calibration")
    drawn = _drawn(work, calibration_id)
    columns, _ = _table(request.text)
    if _is_wide(columns, request.mapping, drawn):
        return _one_row_a_coupon(work, calibration_id, request, drawn)
    fields = [
        SheetField(key="coupon", name="Coupon", needed=True),
        SheetField(key="feature", name="Feature", needed=True),
        SheetField(key="state", name="State: formed, partial, absent or lost", needed=False),
        SheetField(key="measured", name="Measured, mm", needed=False),
    ]

    def keep(rows: list[tuple[int, dict[str, str]]]) -> None:
        """Keep the readings of one coupon's rows."""
        features = [
            FeatureInput.model_validate(
                {
                    "key": row["feature"],
                    "state": row.get("state") or None,
                    "measured_mm": _number(row.get("measured", "")),
                }
            )
            for _, row in rows
        ]
        coupon = _of_calibration(work, calibration_id, rows[0][1]["coupon"])
        keep_coupon(work, coupon.code, ReadingInput(features=features))

    return _sheet(work, request, fields, lambda row: row["coupon"], keep).model_copy(update={"names": drawn})


def _of_calibration(work: UnitOfWork, calibration_id: str, code: str) -> coupon_store.CouponRow:
    """A coupon by its code, where it belongs to the calibration."""
    coupon = present(coupon_store.coupon(work.db, code), f"coupon {code!r}")
    arm = present(coupon_store.arm(work.db, coupon.arm_id), "arm")
    if arm.calibration_id != calibration_id:
        raise Conflict(f"{coupon.code} belongs to another calibration.")
    return coupon


def _drawn(work: UnitOfWork, calibration_id: str) -> dict[str, str]:
    """Every feature of the calibration's coupons by its key, with its name."""
    arms = [arm.id for arm in coupon_store.arms(work.db, calibration_id)]
    design_ids = sorted({coupon.design_id for coupon in coupon_store.coupons(work.db, arms)})
    return {
        feature[
            "key"
        ]: f"{feature['kind']}, {feature['size_mm']:g} mm{f', {side}' if (side := feature['side']) else ''}"
        for design in coupon_store.designs(work.db, design_ids)
        for feature in design.plan["features"]
    }


def _is_wide(columns: list[str], mapping: dict[str, str], drawn: dict[str, str]) -> bool:
    """Whether features stand in columns of their own: some are named, and none holds features."""
    if mapping:
        return "feature" not in mapping and any(key in drawn for key in mapping)
    names = {_plain(column) for column in columns}
    return "feature" not in names and bool(names & set(drawn))


def _one_row_a_coupon(work: UnitOfWork, calibration_id: str, request: SheetInput, drawn: dict[str, str]) -> SheetTold:
    """Each cell is a state, or a caliper value in mm; an empty one was not read."""
    fields = [SheetField(key="coupon", name="Coupon", needed=True)]
    fields += [SheetField(key=key, name=name, needed=False) for key, name in drawn.items()]

    def keep(rows: list[tuple[int, dict[str, str]]]) -> None:
        """Keep the reading of one coupon's row."""
        if len(rows) > 1:
            raise Conflict(f"Two rows for this coupon, lines {rows[0][0]} and {rows[1][0]}: leave one of them out.")
        row = rows[0][1]
        coupon = _of_calibration(work, calibration_id, row["coupon"])
        features = [_cell(key, text) for key, text in row.items() if key != "coupon" and text]
        keep_coupon(work, coupon.code, ReadingInput(features=features))

    return _sheet(work, request, fields, lambda row: row["coupon"], keep).model_copy(update={"names": drawn})


def _cell(key: str, text: str) -> FeatureInput:
    """A state in words, or a value in mm."""
    if text[0].isdigit() or text[0] in "+-.,":
        return FeatureInput(key=key, state=None, measured_mm=_number(text))
    return FeatureInput.model_validate({"key": key, "state": text.lower(), "measured_mm": None})


def template(work: UnitOfWork, calibration_id: str) -> Made:
    """A table to fill in: a row for each printed coupon that waits for a reading, a column for each feature."""
    row = present(coupon_store.calibration(work.db, calibration_id), "calibration")
    arms = [arm.id for arm in coupon_store.arms(work.db, row.id)]
    coupons = coupon_store.coupons(work.db, arms)
    read = {one.coupon_id for one in current(work.db, [coupon.id for coupon in coupons])}
    waiting = [c for c in coupons if c.status == "printed" and c.gone_at is None and c.id not in read]
    designs = {d.id: d for d in coupon_store.designs(work.db, sorted({c.design_id for c in waiting}))}
    keys = list(dict.fromkeys(f["key"] for design in designs.values() for f in design.plan["features"]))
    sizes = {f["key"]: f["size_mm"] for design in designs.values() for f in design.plan["features"]}
    out = io.StringIO()
    write_rows(out, [["coupon", "exposure (s)", *(f"{key} ({sizes[key]:g} mm)" for key in keys)]])
    write_rows(out, ([c.code, f"{c.exposure_s:g}", *([""] * len(keys))] for c in waiting))
    return Made(out.getvalue().encode(), "text/csv", f"{row.code}-readings.csv", row.code, 0.0)


def _sheet(
    work: UnitOfWork,
    request: SheetInput,
    fields: list[SheetField],
    piece: Callable[[dict[str, str]], str],
    keep: Callable[[list[tuple[int, dict[str, str]]]], None],
) -> SheetTold:
    """Check every piece as if it were kept; keep them only when all can be and that is asked for."""
    columns, lines = _table(request.text)
    outcome = SheetTold(
        columns=columns, fields=fields, suggested=_suggested(columns, fields), rows=[], good=0, bad=0, kept=False
    )
    if not request.mapping:
        return outcome
    _check_mapping(request.mapping, columns, fields)
    pieces: dict[str, list[tuple[int, dict[str, str]]]] = {}
    for number, line in lines:
        row = {key: line.get(column, "").strip() for key, column in request.mapping.items()}
        if any(row.values()):
            pieces.setdefault(piece(row), []).append((number, row))
    try:
        with work.write():
            for code, rows in pieces.items():
                outcome.rows.append(SheetRow(line=rows[0][0], code=code, words=_tried(work, rows, keep)))
            outcome.bad = sum(row.words is not None for row in outcome.rows)
            outcome.good = len(outcome.rows) - outcome.bad
            outcome.kept = request.keep and outcome.bad == 0 and outcome.good > 0
            if not outcome.kept:
                raise _TakenBack
    except _TakenBack:
        pass
    return outcome


def _tried(work: UnitOfWork, rows: list[tuple[int, dict[str, str]]], keep: Callable[..., None]) -> str | None:
    try:
        with piece_of_writing(work.db):
            keep(rows)
    except Problem as problem:
        return next(iter(problem.fields.values()), problem.message)
    except (Conflict, NotFound) as refused:
        return str(refused)
    except ValueError:
        return "A state is formed, partial, absent or lost; a measured value is a number."
    return None


def _table(text: str) -> tuple[list[str], list[tuple[int, dict[str, str]]]]:
    # Lines end as the program that wrote them ends them.
    text = text.lstrip("\ufeff").replace("\r\n", "\n").replace("\r", "\n")
    head = text.split("\n", 1)[0]
    delimiter = max((",", ";", "\t"), key=head.count)
    reader = csv.DictReader(io.StringIO(text), delimiter=delimiter)
    try:
        columns = [name.strip() for name in reader.fieldnames or []]
        if len(columns) < 2:
            message = "The first line names the columns: a specimen, and what was read."
            raise Problem(message, {"text": message})
        twice = next((name for name in columns if columns.count(name) > 1), None)
        if twice is not None:
            message = f"Two columns are called {twice!r}: rename one, so that it is clear which is meant."
            raise Problem(message, {"text": message})
        reader.fieldnames = columns
        rows = [(reader.line_num, {k: v or "" for k, v in row.items() if isinstance(k, str)}) for row in reader]
    except csv.Error as error:
        raise Problem("This is no table.", {"text": f"Line {reader.line_num} cannot be read: {error}."}) from None
    if len(rows) > MOST_ROWS:
        message = f"At most {MOST_ROWS} rows at once."
        raise Problem(message, {"text": message})
    return columns, rows


def _plain(column: str) -> str:
    """A column's name without what stands in brackets behind it."""
    return column.lower().split("(")[0].strip()


def _suggested(columns: list[str], fields: list[SheetField]) -> dict[str, str]:
    """Columns whose names say what they hold, such as those of the test's own export."""
    mapping: dict[str, str] = {}
    for field in fields:
        plain = field.name.lower()
        for column in columns:
            name = _plain(column)
            if column not in mapping.values() and name in (field.key, plain, plain.split(",")[0]):
                mapping[field.key] = column
                break
    return mapping


def _check_mapping(mapping: dict[str, str], columns: list[str], fields: list[SheetField]) -> None:
    field_keys = {f.key for f in fields}
    problems = {f"mapping.{key}": "This is nothing a column can hold." for key in mapping if key not in field_keys}
    problems |= {
        f"mapping.{key}": f"There is no column {name!r}." for key, name in mapping.items() if name not in columns
    }
    problems |= {
        f"mapping.{f.key}": f"Say which column holds {f.name.lower()}."
        for f in fields
        if f.needed and f.key not in mapping
    }
    if problems:
        raise Problem("Some columns are not named.", problems)


def _against(method: Method) -> str:
    return method.against.key if method.against else ""


def _read_off(method: Method, row: dict[str, str]) -> dict[str, Any]:
    return {f.key: _value(f, row[f.key]) for f in method.reads if row.get(f.key, "") != ""}


def _value(field: MethodField, text: str) -> Any:
    if field.kind == "yes":
        if text.lower() not in YES | NO:
            raise Problem("Yes or no.", {field.key: f"{field.label}: {text!r} is neither yes nor no."})
        return text.lower() in YES
    if field.kind == "choice":
        return text
    parts = text.replace(";", " ").split()
    numbers = [_number(part) for part in parts]
    if None in numbers or (field.kind != "numbers" and len(numbers) != 1):
        raise Problem("No number.", {field.key: f"{field.label}: {text!r} is no number."})
    return numbers if field.kind == "numbers" else numbers[0]


def _number(text: str) -> float | None:
    if not text.strip():
        return None
    if "," in text and "." in text:
        message = f"{text.strip()!r} has a point and a comma: write it with one of them, for the decimals."
        raise Problem(message, {"measured": message})
    try:
        return float(text.strip().replace(",", "."))
    except ValueError:
        raise Problem("No number.", {"measured": f"{text!r} is no number."}) from None
