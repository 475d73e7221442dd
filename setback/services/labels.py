"""Labels for coupons and specimens: what they carry comes from the records."""

from __future__ import annotations

import os
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field

from ..core.contract import Contract, Problem, Seconds
from ..coupon import KINDS
from ..report.labels import SHEETS, Label, labels
from ..store import blends, shelf, tests
from ..store import calibrations as store
from .bench import Bench, View, present
from .coupon_files import Made

BASE_ADDRESS = "http://127.0.0.1:8350"
MOST = 400

SheetName = Literal["24", "40", "65"]


def _split(given: Any) -> Any:
    return [part.strip() for part in given.split(",") if part.strip()] if isinstance(given, str) else given


class OnPaper(Contract):
    sheet: SheetName = "24"
    skip: int = Field(0, ge=0, le=64, description="Labels already taken off the first sheet")
    outlines: bool = Field(False, description="Hairlines, for plain paper and scissors")


class CouponLabels(OnPaper):
    coupons: Annotated[list[str], BeforeValidator(_split), Field(min_length=1, max_length=MOST)]


class SpecimenLabels(OnPaper):
    kind: str
    material_id: str = Field(max_length=40)
    printer_id: str | None = Field(None, max_length=40)
    exposure_s: Seconds | None = None
    prefix: str = Field("S", pattern=r"^[A-Za-z0-9-]{1,8}$")
    first: int = Field(1, ge=1, le=9999)
    count: int = Field(12, ge=1, le=MOST)


class SheetView(View):
    name: str
    words: str
    count: int


def sheets() -> list[SheetView]:
    return [SheetView(name=name, words=sheet.name, count=sheet.count) for name, sheet in SHEETS.items()]


def of_coupons(bench: Bench, given: CouponLabels) -> Made:
    """A label per coupon: code, exposure, material, printer, and a link to its reading."""
    rows = store.labelled(bench.db, given.coupons)
    known = {row.code for row in rows}
    missing = [code for code in given.coupons if code not in known]
    if missing:
        said = f"There is no coupon {', '.join(missing[:5])}."
        raise Problem(said, {"coupons": said})
    order = {code: i for i, code in enumerate(given.coupons)}
    wanted = [
        Label(
            row.code, f"{row.exposure_s:g} s {row.kind}",
            (row.material, f"{row.printer}, {row.layer_height_um:g} µm", f"{row.calibration_code}, {row.arm}"),
            f"{base_address()}/coupons/{row.code}",
        )
        for row in sorted(rows, key=lambda row: order[row.code])
    ]  # fmt: skip
    return _pdf(wanted, given, f"labels-{given.coupons[0]}")


def of_specimens(bench: Bench, given: SpecimenLabels) -> Made:
    """Numbered labels for specimens of one kind and material."""
    if given.kind not in KINDS:
        said = f"There is no specimen called {given.kind}."
        raise Problem(said, {"kind": said})
    material = present(shelf.material(bench.db, given.material_id), "material")
    printer = present(shelf.printer(bench.db, given.printer_id), "printer") if given.printer_id else None
    exposure = f"{given.exposure_s:g} s" if given.exposure_s is not None else ""
    made_on = ", ".join(part for part in (printer.name if printer else "", exposure) if part)
    title = KINDS[given.kind](0.05, 0.4).title
    wanted = [
        Label(
            f"{given.prefix}{number}",
            title,
            (material.name, made_on),
            f"{base_address()}/board?find={given.prefix}{number}",
        )
        for number in range(given.first, given.first + given.count)
    ]
    return _pdf(wanted, given, f"labels-{given.prefix}{given.first}")


def of_test(bench: Bench, id_or_code: str, given: OnPaper) -> Made:
    """A label per specimen of a test, in the order of their numbers."""
    row = present(tests.test(bench.db, id_or_code), "test")
    groups = {g.id: g for g in tests.groups(bench.db, [row.id])}
    wanted = []
    for one in sorted(tests.specimens(bench.db, [row.id]), key=lambda s: s.code):
        group = groups[one.group_id]
        made_on = ", ".join(part for part in (group.printer or "", group.set_code or "") if part)
        wanted.append(
            Label(one.code, row.method, (group.material, made_on), f"{base_address()}/test/{row.code}/{one.code}")
        )
    return _pdf(wanted, given, f"labels-{row.code}")


def of_batch(bench: Bench, id_or_code: str, given: OnPaper) -> Made:
    """A label for the bottle a batch is in: its shares, lots and what it asks for."""
    row = present(blends.batch(bench.db, id_or_code), "batch")
    pours = blends.pours(bench.db, [row.id])
    total = sum(p.poured_ml if p.poured_ml is not None else p.planned_ml for p in pours)
    shares = [
        f"{100 * (p.poured_ml if p.poured_ml is not None else p.planned_ml) / total:.1f} % {p.part} {p.lot or ''}".strip()
        for p in pours
    ]
    made = (row.poured_at or row.planned_at)[:10]
    lines = (", ".join(shares), f"{row.volume_ml:.0f} ml, {made}, stir before use")
    return _pdf(
        [Label(row.code, row.bottle_code or "", (row.blend, *lines), f"{base_address()}/blend/batches/{row.code}")],
        given,
        f"label-{row.code}",
    )


def _pdf(wanted: list[Label], given: OnPaper, name: str) -> Made:
    content = labels(wanted, SHEETS[given.sheet], given.skip, given.outlines)
    return Made(content, "application/pdf", f"{name}.pdf", f"{len(wanted)} labels", 0.0)


def base_address() -> str:
    """Where links on paper lead: set SETBACK_ADDRESS when the app is reached by another address."""
    return os.environ.get("SETBACK_ADDRESS", BASE_ADDRESS).rstrip("/")
