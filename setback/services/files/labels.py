"""Labels for coupons and specimens: what they carry comes from the records."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BeforeValidator, Field

from ...core.contract import Contract, Problem, Seconds
from ...coupon import KINDS
from ...report.labels import SHEETS, Label, labels
from ...store import blends, shelf
from ...store import testing as tests
from ...store.calibrate import calibrations as store
from ..lab_settings import SheetName, base_address
from ..unit_of_work import UnitOfWork, View, present
from .coupon_files import Made

MOST = 400


def _split(request: Any) -> Any:
    return [part.strip() for part in request.split(",") if part.strip()] if isinstance(request, str) else request


class OnPaper(Contract):
    """The sheet labels are printed on, and the first free place."""

    sheet: SheetName = "24"
    skip: int = Field(0, ge=0, le=64, description="Labels already taken off the first sheet")
    outlines: bool = Field(False, description="Hairlines, for plain paper and scissors")


class CouponLabels(OnPaper):
    """The coupons that want labels."""

    coupons: Annotated[list[str], BeforeValidator(_split), Field(min_length=1, max_length=MOST)]


class SpecimenLabels(OnPaper):
    """The specimens that want labels."""

    kind: str
    material_id: str = Field(max_length=40)
    printer_id: str | None = Field(None, max_length=40)
    exposure_s: Seconds | None = None
    prefix: str = Field("S", pattern=r"^[A-Za-z0-9-]{1,8}$")
    first: int = Field(1, ge=1, le=9999)
    count: int = Field(12, ge=1, le=MOST)


class SheetView(View):
    """A sheet of labels with its measures, mm."""

    name: str
    words: str
    count: int


def sheets() -> list[SheetView]:
    """Sheets of labels."""
    return [SheetView(name=name, words=sheet.name, count=sheet.count) for name, sheet in SHEETS.items()]


def of_coupons(work: UnitOfWork, request: CouponLabels) -> Made:
    """A label per coupon: code, exposure, material, printer, and a link to its reading."""
    rows = store.labelled(work.db, request.coupons)
    codes = {row.code for row in rows}
    missing = [code for code in request.coupons if code not in codes]
    if missing:
        message = f"There is no coupon {', '.join(missing[:5])}."
        raise Problem(message, {"coupons": message})
    address = base_address(work)
    order = {code: i for i, code in enumerate(request.coupons)}
    texts = [
        Label(
            row.code,
            f"{row.exposure_s:g} s {row.kind}",
            (row.material, f"{row.printer}, {row.layer_height_um:g} µm", f"{row.calibration_code}, {row.arm}"),
            f"{address}/coupons/{row.code}",
        )
        for row in sorted(rows, key=lambda row: order[row.code])
    ]
    return _pdf(texts, request, f"labels-{request.coupons[0]}")


def of_specimens(work: UnitOfWork, request: SpecimenLabels) -> Made:
    """Numbered labels for specimens of one kind and material."""
    if request.kind not in KINDS:
        message = f"There is no specimen called {request.kind}."
        raise Problem(message, {"kind": message})
    material = present(shelf.material(work.db, request.material_id), "material")
    printer = present(shelf.printer(work.db, request.printer_id), "printer") if request.printer_id else None
    exposure = f"{request.exposure_s:g} s" if request.exposure_s is not None else ""
    made_on = ", ".join(part for part in (printer.name if printer else "", exposure) if part)
    title = KINDS[request.kind](0.05, 0.4).title
    address = base_address(work)
    texts = [
        Label(
            f"{request.prefix}{number}",
            title,
            (material.name, made_on),
            f"{address}/at/{request.prefix}{number}",
        )
        for number in range(request.first, request.first + request.count)
    ]
    return _pdf(texts, request, f"labels-{request.prefix}{request.first}")


def of_test(work: UnitOfWork, id_or_code: str, paper: OnPaper) -> Made:
    """A label per specimen of a test, in the order of their numbers."""
    row = present(tests.test(work.db, id_or_code), "test")
    groups = {g.id: g for g in tests.groups(work.db, [row.id])}
    texts = []
    address = base_address(work)
    for specimen in sorted(tests.specimens(work.db, [row.id]), key=lambda s: s.code):
        group = groups[specimen.group_id]
        made_on = ", ".join(part for part in (group.printer or "", group.set_code or "") if part)
        texts.append(
            Label(
                specimen.code,
                row.method,
                (group.material, made_on),
                f"{address}/test/{row.code}/{specimen.code}",
            )
        )
    return _pdf(texts, paper, f"labels-{row.code}")


def of_batch(work: UnitOfWork, id_or_code: str, paper: OnPaper) -> Made:
    """A label for the bottle a batch is in: its shares, lots and what it asks for."""
    row = present(blends.batch(work.db, id_or_code), "batch")
    pours = blends.pours(work.db, [row.id])
    total = sum(p.poured_ml if p.poured_ml is not None else p.planned_ml for p in pours)
    shares = [
        f"{100 * (p.poured_ml if p.poured_ml is not None else p.planned_ml) / total:.1f} % {p.part} {p.lot or ''}".strip()
        for p in pours
    ]
    date = (row.poured_at or row.planned_at)[:10]
    lines = (", ".join(shares), f"{row.volume_ml:.0f} ml, {date}, stir before use")
    return _pdf(
        [Label(row.code, row.bottle_code or "", (row.blend, *lines), f"{base_address(work)}/blend/batches/{row.code}")],
        paper,
        f"label-{row.code}",
    )


def _pdf(texts: list[Label], paper: OnPaper, name: str) -> Made:
    content = labels(texts, SHEETS[paper.sheet], paper.skip, paper.outlines)
    return Made(content, "application/pdf", f"{name}.pdf", f"{len(texts)} labels", 0.0)
