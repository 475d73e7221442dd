"""Where a range can start from, with how far each source may be trusted; and what a new calibration starts with."""

from __future__ import annotations

from pydantic import Field

from ...core.calibrate.sources import (
    BORROWED_RATIO,
    SOURCES,
    Range,
    SourceKey,
    around,
    from_curve,
    measured_since,
    on_steps,
)
from ...core.calibrate.transfer import Transfer
from ...core.calibrate.ways import WAYS
from ...core.contract import Contract, Problem, Seconds
from ...core.printing.plausible import check_range
from ...store import borrowed as borrowed_store
from ...store import shelf
from ...store.calibrate import calibrations as store
from ...store.rows import update
from ..both_versions import same_version
from ..unit_of_work import Conflict, UnitOfWork, View, present
from . import assessment
from .calibrations import CalibrationView, calibration
from .depth import curve_of, depth
from .transfer import transfers


class SourceView(View):
    """A source of a range: what it says here, or why it says nothing yet."""

    key: SourceKey
    name: str
    trust: str
    low_s: float | None
    high_s: float | None
    number_s: float | None = Field(description="The one exposure it would start with")
    basis: str
    missing: str | None = Field(description="What it would take to have it")


class WayView(View):
    """A way of printing the ladder on this printer."""

    key: str
    name: str
    gives: str
    limit: str
    missing: str | None = Field(description="Why this printer cannot do it")


class SourcesView(View):
    """Ranges to begin from, by how far each is trusted."""

    ways: list[WayView]
    chosen: SourceKey
    measured: SourceKey | None = Field(description="Measured here since, and to be trusted more than what was chosen")
    low_s: float
    high_s: float
    exposure_step_s: float
    sources: list[SourceView] = Field(description="In order of rising trust")


class RangeInput(Contract):
    """The chosen range and where it comes from, s."""

    version: int
    source: SourceKey
    low_s: Seconds
    high_s: Seconds


class BorrowedQuery(Contract):
    """A number that was borrowed, s."""

    number_s: Seconds


class BorrowedRange(View):
    """The range round a borrowed number, s."""

    low_s: float
    high_s: float


def sources(work: UnitOfWork, calibration_id: str, arm_number: int | None) -> SourcesView:
    """Every source of a range for this calibration."""
    row = present(store.calibration(work.db, calibration_id), "calibration")
    printer = present(shelf.printer(work.db, row.printer_id), "printer")
    step = printer.exposure_step_s
    values = {
        "maker": _maker(work, row),
        "working curve": _curve(work, row, step),
        "dose strip": _strip(work, row, arm_number),
    }
    values["borrowed"] = _borrowed(work, row, step)
    values["prediction"] = _prediction(row, step)
    carried = transfers(work, row.material_id, row.printer_id, row.layer_height_um).transfers
    for method in ("light meter", "reference resin"):
        values[method] = _carried([t for t in carried if t.method == method], method, step)
    views = []
    for source in SOURCES.values():
        start_s, number, basis, missing = values.get(source.key, (None, None, "", None))
        views.append(
            SourceView(
                key=source.key,
                name=source.name,
                trust=source.trust,
                low_s=start_s.low_s if start_s else None,
                high_s=start_s.high_s if start_s else None,
                number_s=number,
                basis=basis,
                missing=missing,
            )
        )
    ways = [
        WayView(key=w.key, name=w.name, gives=w.gives, limit=w.limit, missing=_cannot(w.key, w.needs, printer))
        for w in WAYS.values()
    ]
    at_hand = {view.key for view in views if view.low_s is not None}
    return SourcesView(
        ways=ways,
        chosen=row.source,
        measured=measured_since(row.source, at_hand),
        low_s=row.low_s,
        high_s=row.high_s,
        exposure_step_s=step,
        sources=views,
    )


def _cannot(verb: str, needs: str, printer: shelf.Printer) -> str | None:
    able = {"separate": True, "plate": printer.several_exposures, "strip": printer.suppresses_lift}[verb]
    return None if able else f"{printer.name} is not known to do this: {needs}."


Said = tuple[Range | None, float | None, str, str | None]


def _maker(work: UnitOfWork, row: store.Calibration) -> Said:
    resin = shelf.resin(work.db, row.material_id)
    if resin is None or resin.maker_low_s is None or resin.maker_high_s is None:
        return None, None, "", "The shelf knows no maker’s range of this material."
    low, high = resin.maker_low_s, resin.maker_high_s
    return Range(low, high), (low * high) ** 0.5, f"{resin.maker}: {low:g} to {high:g} s", None


def _curve(work: UnitOfWork, row: store.Calibration, step_s: float) -> Said:
    curve, _ = curve_of(work, row, depth(work, row.id).squares)
    of_height = (
        next((x for x in curve.layer_exposures if x.layer_height_um == row.layer_height_um), None) if curve else None
    )
    if curve is None or of_height is None:
        return None, None, "", "Measure depth squares at two times or more (step Depth)."
    basis = f"{curve.n} squares, penetration depth {1000 * curve.penetration_depth_mm:.0f} µm"
    return from_curve(of_height.exposure_s, of_height.exposure_ci_s, step_s), of_height.exposure_s, basis, None


def _borrowed(work: UnitOfWork, row: store.Calibration, step_s: float) -> Said:
    """The newest set of another workshop for this pair and layer height, carried to the printer here."""
    theirs = borrowed_store.borrowed_of(work.db, row.material_id, row.printer_id, row.layer_height_um)
    if not theirs:
        return None, None, "", None
    basis = (
        f"{theirs[0].code}, {theirs[0].theirs.code} of {theirs[0].workshop}: carried by {'; '.join(theirs[0].carried)}"
    )
    return on_steps(theirs[0].low_s, theirs[0].high_s, step_s), theirs[0].exposure_s, basis, None


NEEDS = {
    "light meter": "It needs this material calibrated elsewhere, and light-meter maps of both printers.",
    "reference resin": "It needs this material calibrated elsewhere, and another resin calibrated on both printers.",
}


def _carried(transfers: list[Transfer], method: str, step_s: float) -> Said:
    """The narrowest value carried over from another printer."""
    if not transfers:
        return None, None, "", NEEDS[method]
    best = min(transfers, key=lambda t: t.interval_s[1] / t.interval_s[0])
    return on_steps(*best.interval_s, step_s), best.exposure_s, best.explained, None


def _prediction(row: store.Calibration, step_s: float) -> Said:
    if row.guess is None:
        return None, None, "", "This calibration began before estimates were kept."
    guess = row.guess
    return on_steps(guess["low_s"], guess["high_s"], step_s), guess["exposure_s"], guess["basis"], None


def _strip(work: UnitOfWork, row: store.Calibration, arm_number: int | None) -> Said:
    arms = assessment.arms(work, row, False)
    arm = next((a for a in arms if a.number == arm_number), arms[0])
    areas = [c for c in arm.coupons if c.way == "strip" and c.verdict]
    if arm.seed is None:
        return None, None, "", "Print a dose strip and read its areas; the lift is suppressed for it."
    low, high = arm.seed
    return Range(low, high), (low * high) ** 0.5, f"{len(areas)} areas read", None


def borrowed(work: UnitOfWork, calibration_id: str, query: BorrowedQuery) -> BorrowedRange:
    """The range around another workshop's number."""
    row = present(store.calibration(work.db, calibration_id), "calibration")
    printer = present(shelf.printer(work.db, row.printer_id), "printer")
    span = around(query.number_s, BORROWED_RATIO, printer.exposure_step_s)
    return BorrowedRange(low_s=span.low_s, high_s=span.high_s)


def choose(work: UnitOfWork, calibration_id: str, request: RangeInput) -> CalibrationView:
    """Start from another source; the coupons printed so far stay what they are."""
    check_range(request.low_s, request.high_s)
    with work.write() as answer:
        row = present(store.calibration(work.db, calibration_id), "calibration")
        same_version(row, request.version, row.code, request)
        if row.closed_at is not None:
            raise Conflict(f"{row.code} is closed.")
        printer = present(shelf.printer(work.db, row.printer_id), "printer")
        if request.low_s < printer.exposure_step_s - 1e-9:
            message = f"{printer.name} sets {printer.exposure_step_s:g} s at least."
            raise Problem(message, {"low_s": message})
        update(
            work.db,
            "calibration",
            calibration_id,
            source=request.source,
            low_s=request.low_s,
            high_s=request.high_s,
            version=row.version + 1,
        )
        return answer(calibration(work, calibration_id))
