"""First estimates for pairs never calibrated, and how good such guesses have been."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import Field

from ...core.calibrate.borrowing import with_borrowed
from ...core.calibrate.exposure_effects import Engine, KnownExposure, MakerRange, Pair
from ...core.calibrate.start_exposure import (
    Carried,
    StartExposureInput,
    StartExposureResult,
    basis_of,
    interval_of,
    mixed,
    posteriors,
    start_exposure,
    wide_warnings,
)
from ...core.calibrate.working_curve import DepthPoint, WorkingCurveInput, WorkingCurveResult, working_curve
from ...core.contract import Problem
from ...store import blends, borrowed, shelf
from ...store.calibrate import guesses as store
from ..unit_of_work import UnitOfWork, View, present

ENGINES: dict[str, Engine] = {
    "mono screen": "mono",
    "colour screen": "colour",
    "projector": "projector",
    "laser": "laser",
}
MOST_KEPT = 200
MODEL = 3
"""Of the guesses kept for the Board: another number when the model says something else from the same calibrations."""


@dataclass(frozen=True)
class Parts:
    """What a blend is made of, as far as its exposure goes."""

    resins: list[tuple[str, float]]
    """Id and share by volume of every resin."""
    ln_dye_factor: float


class KeptGuess(store.Kept):
    """A guess made when a campaign began, beside what it came to."""

    off_pct: float
    inside: bool


class TrackRecord(View):
    """How good guesses have been in this shop."""

    guesses: list[KeptGuess]
    inside: int
    total: int
    said: str = Field(description="In words")


def known(work: UnitOfWork) -> list[KnownExposure]:
    """Every pair that was calibrated, as the newest set says."""
    depths = penetration_depths(work)
    return [
        KnownExposure(
            material=row.material_id,
            line=row.line,
            printer=row.printer_id,
            engine=ENGINES[row.light_engine],
            layer_height_um=row.layer_height_um,
            exposure_s=row.exposure_s,
            penetration_depth_mm=depths.get(row.material_id),
            temp_c=_middle(row.temp_low_c, row.temp_high_c),
            label=f"{row.code} {row.material} on {row.printer}"[:40],
        )
        for row in store.known(work.db)
    ]


def _middle(low: float | None, high: float | None) -> float | None:
    return None if low is None or high is None else (low + high) / 2


def penetration_depths(work: UnitOfWork, material_id: str | None = None) -> dict[str, float]:
    """Dp of each material whose squares make a curve, mm; its newest campaign counts."""
    return {material: curve.penetration_depth_mm for (material, _), curve in curves(work, material_id).items()}


def curves(work: UnitOfWork, material_id: str | None = None) -> dict[tuple[str, str], WorkingCurveResult]:
    """Working curve of each material on each printer where its squares make one; its newest campaign counts, and comes last."""
    squares: dict[tuple[str, str], dict[str, list[DepthPoint]]] = {}
    for row in store.depths(work.db, material_id):
        mean = sum(row.thicknesses_mm) / len(row.thicknesses_mm)
        point = DepthPoint(exposure_s=row.exposure_s, depth_mm=mean, square=row.code)
        pair = (row.material_id, row.printer_id)
        of_pair = squares[pair] = squares.pop(pair, {})
        of_pair[row.calibration_id] = [*of_pair.pop(row.calibration_id, []), point]
    curves_found = {}
    for pair, campaigns in squares.items():
        for points in reversed(campaigns.values()):
            try:
                curves_found[pair] = working_curve(WorkingCurveInput(points=points))
                break
            except Problem:
                continue
    return curves_found


def _pair(
    material_id: str, resin: shelf.Resin | None, printer: shelf.Printer, height_um: float, depth_mm: float | None
) -> Pair:
    return Pair(
        material=material_id,
        line=resin.line if resin else None,
        printer=printer.id,
        engine=ENGINES[printer.light_engine],
        layer_height_um=height_um,
        penetration_depth_mm=depth_mm,
    )


def _span(resin: shelf.Resin | None) -> MakerRange | None:
    if resin is None or resin.maker_low_s is None or resin.maker_high_s is None:
        return None
    return MakerRange(low_s=resin.maker_low_s, high_s=resin.maker_high_s)


def guess(work: UnitOfWork, material_id: str, printer_id: str, layer_height_um: float) -> StartExposureResult:
    """The first estimate for one pair, with the calibrations it leans on; of a blend from its parts."""
    printer = present(shelf.printer(work.db, printer_id), "printer")
    known_exposures, depths = known(work), penetration_depths(work)
    parts = _parts_of_blends(work, known_exposures, [material_id]).get(material_id)
    if parts is not None:
        return _of_mixture(work, parts, printer, layer_height_um, known_exposures, depths)
    resin = shelf.resin(work.db, material_id)
    pair = _pair(material_id, resin, printer, layer_height_um, depths.get(material_id))
    own = start_exposure(StartExposureInput(known=known_exposures, target=pair, vendor_range=_span(resin)))
    numbers = borrowed.numbers_at(work.db, layer_height_um).get((material_id, printer_id))
    return own if not numbers else _having_heard(own, numbers)


def _having_heard(own: StartExposureResult, numbers: list[tuple[float, float]]) -> StartExposureResult:
    """An estimate after the numbers of other workshops for the pair are heard."""
    mean, variance = with_borrowed(math.log(own.exposure_s), own.log_sd**2, numbers)
    median, low, high = interval_of(mean, variance, 0.0)
    return own.model_copy(
        update={
            "exposure_s": median,
            "interval_s": (low, high),
            "log_sd": math.sqrt(variance),
            "basis": f"{own.basis} {_HEARD}",
            "warnings": wide_warnings((low, high)),
        }
    )


_HEARD = "Another workshop’s number was heard."


@dataclass(frozen=True)
class Expected:
    """An exposure that is expected somewhere, with its 80 % interval, s."""

    exposure_s: float
    low_s: float
    high_s: float


def elsewhere(work: UnitOfWork, material_id: str, places: Sequence[tuple[shelf.Printer, float]]) -> list[Expected]:
    """A calibrated material on other printers and layer heights, by all that is known: one look at the evidence for all places."""
    if not places:
        return []
    resin, known_exposures = shelf.resin(work.db, material_id), known(work)
    depth_mm = penetration_depths(work, material_id).get(material_id)
    pairs = [_pair(material_id, resin, printer, height, depth_mm) for printer, height in places]
    beliefs = posteriors(known_exposures, pairs, [_span(resin)] * len(pairs))
    return [Expected(*interval_of(belief.mean, belief.variance, belief.residual)) for belief in beliefs]


def of_mixture(work: UnitOfWork, parts: Parts, places: Sequence[tuple[str, float]]) -> list[StartExposureResult]:
    """The estimate of a mixture that may never be kept, on some printers and layer heights: the same as the Board's of a blend."""
    known_exposures, depths = known(work), penetration_depths(work)
    return [
        _of_mixture(
            work, parts, present(shelf.printer(work.db, printer_id), "printer"), height, known_exposures, depths
        )
        for printer_id, height in places
    ]


def _of_mixture(
    work: UnitOfWork,
    parts: Parts,
    printer: shelf.Printer,
    layer_height_um: float,
    known_exposures: Sequence[KnownExposure],
    depths: dict[str, float],
) -> StartExposureResult:
    resins = [shelf.resin(work.db, part_id) for part_id, _ in parts.resins]
    pairs = [
        _pair(part_id, resin, printer, layer_height_um, depths.get(part_id))
        for (part_id, _), resin in zip(parts.resins, resins, strict=True)
    ]
    beliefs = posteriors(known_exposures, pairs, [_span(resin) for resin in resins])
    mean, variance, basis = _mix(parts, known_exposures, pairs, [(b.mean, b.variance) for b in beliefs])
    residual = beliefs[0].residual
    median, low, high = interval_of(mean, variance, residual)
    by_pair = {(k.material, k.printer, k.layer_height_um): k for k in known_exposures}
    total = math.fsum(fraction for _, fraction in parts.resins)
    carried = [
        Carried(label=same.label or part_id, exposure_s=same.exposure_s, share=fraction / total)
        for pair, (part_id, fraction) in zip(pairs, parts.resins, strict=True)
        if (same := by_pair.get((pair.material, pair.printer, pair.layer_height_um))) is not None
    ]
    return StartExposureResult(
        exposure_s=median,
        interval_s=(low, high),
        log_sd=math.hypot(math.sqrt(variance), residual),
        carried_by=carried,
        basis=basis,
        warnings=wide_warnings((low, high)),
    )


def _parts_of_blends(
    work: UnitOfWork, known_exposures: Sequence[KnownExposure], material_ids: Sequence[str]
) -> dict[str, Parts]:
    """Blends among some materials that were never calibrated themselves and whose dyes' effect is known."""
    calibrated = {exposure.material for exposure in known_exposures}
    rows: dict[str, list[blends.BlendPart]] = {}
    for row in blends.parts(work.db, [m for m in material_ids if m not in calibrated]):
        rows.setdefault(row.blend_id, []).append(row)
    about = {
        exposure.id: exposure
        for exposure in blends.ingredients(work.db, sorted({r.part_id for rs in rows.values() for r in rs}))
    }
    by_blend = {}
    for blend_id, parts in rows.items():
        dyes = [(about[p.part_id], p.fraction) for p in parts if p.part_id in about and about[p.part_id].kind == "dye"]
        resins = [(p.part_id, p.fraction) for p in parts if p.part_id in about and about[p.part_id].kind == "resin"]
        rises = [(dye.ln_exposure_per_percent, fraction) for dye, fraction in dyes]
        if not resins or len(dyes) + len(resins) < len(parts) or any(rise is None for rise, _ in rises):
            continue
        by_blend[blend_id] = Parts(resins, math.fsum(100 * fraction * (rise or 0.0) for rise, fraction in rises))
    return by_blend


def _mix(
    parts: Parts,
    known_exposures: Sequence[KnownExposure],
    pairs: Sequence[Pair],
    beliefs: Sequence[tuple[float, float]],
) -> tuple[float, float, str]:
    """Mean, variance and basis of a blend: from the set of a part where it has one for the pair, else from its guess."""
    by_pair = {(k.material, k.printer, k.layer_height_um): k for k in known_exposures}
    shares, sources = [], []
    for (_, fraction), pair, (mean, variance) in zip(parts.resins, pairs, beliefs, strict=True):
        issued = by_pair.get((pair.material, pair.printer, pair.layer_height_um))
        shares.append((fraction, math.log(issued.exposure_s) if issued else mean, 0.0 if issued else variance))
        sources.append((issued.label or "a set").split(" ")[0] if issued else "an estimate")
    mean, variance = mixed(shares, parts.ln_dye_factor)
    if all(source == "an estimate" for source in sources):
        return mean, variance, "Mixed from the estimates of its parts."
    return mean, variance, f"Mixed from its parts: {' and '.join(sources)}."


def for_board(
    work: UnitOfWork, layer_height_um: float, material_ids: list[str]
) -> dict[tuple[str, str], store.GuessRow]:
    """Guesses of some materials at one layer height, by material and printer.

    They are computed for the whole height at once when anything they rest on has changed, and only read otherwise.
    """
    now = f"{MODEL}/{store.stamp(work.db)}"
    if store.held_stamp(work.db, layer_height_um) != now:
        guesses = _all(work, layer_height_um)
        if not work.keep(lambda: store.replace(work.db, layer_height_um, guesses, now)):
            return {(row.material_id, row.printer_id): row for row in guesses if row.material_id in set(material_ids)}
    rows = store.held(work.db, layer_height_um, material_ids)
    return {(row.material_id, row.printer_id): row for row in rows}


def _all(work: UnitOfWork, layer_height_um: float) -> list[store.GuessRow]:
    materials = shelf.materials(work.db, 5000)
    resins = {r.id: r for r in shelf.resins(work.db, False, "", 5000)}
    printers = shelf.printers(work.db, False, "", 500)
    depths, known_exposures = penetration_depths(work), known(work)
    pairs = [
        _pair(m.id, resins.get(m.id), p, layer_height_um, depths.get(m.id))
        for m in materials
        if m.kind != "reference"
        for p in printers
    ]
    guesses = []
    spans = [_span(resins.get(pair.material)) for pair in pairs]
    posterior = posteriors(known_exposures, pairs, spans)
    beliefs = {
        (pair.material, pair.printer): (pair, belief.mean, belief.variance)
        for pair, belief in zip(pairs, posterior, strict=True)
    }
    mixtures = _parts_of_blends(work, known_exposures, [m.id for m in materials])
    numbers = borrowed.numbers_at(work.db, layer_height_um)
    for pair, span in zip(pairs, spans, strict=True):
        _, mean, variance = beliefs[pair.material, pair.printer]
        parts, basis = mixtures.get(pair.material), basis_of(known_exposures, pair, span)
        if parts is not None and all((part_id, pair.printer) in beliefs for part_id, _ in parts.resins):
            of_parts = [beliefs[part_id, pair.printer] for part_id, _ in parts.resins]
            mean, variance, basis = _mix(
                parts, known_exposures, [p for p, *_ in of_parts], [(m, v) for _, m, v in of_parts]
            )
        if heard := numbers.get((pair.material, pair.printer)):
            mean, variance = with_borrowed(mean, variance, heard)
            basis = f"{basis} {_HEARD}"
        median, low, high = interval_of(mean, variance, posterior[0].residual)
        guesses.append(
            store.GuessRow(
                material_id=pair.material,
                printer_id=pair.printer,
                exposure_s=median,
                low_s=low,
                high_s=high,
                basis=basis,
            )
        )
    return guesses


def to_keep(work: UnitOfWork, material_id: str, printer_id: str, layer_height_um: float) -> dict[str, Any]:
    """The guess as a campaign keeps it, to be compared with its result."""
    first_guess = guess(work, material_id, printer_id, layer_height_um)
    return {
        "exposure_s": round(first_guess.exposure_s, 4),
        "low_s": round(first_guess.interval_s[0], 4),
        "high_s": round(first_guess.interval_s[1], 4),
        "basis": first_guess.basis,
    }


def track_record(work: UnitOfWork) -> TrackRecord:
    """How often first estimates kept their interval."""
    rows = store.kept(work.db, MOST_KEPT)
    views = [
        KeptGuess(
            **vars(row),
            off_pct=100 * (row.exposure_s / row.guess_s - 1),
            inside=row.low_s <= row.exposure_s <= row.high_s,
        )
        for row in rows
    ]
    inside = sum(v.inside for v in views)
    return TrackRecord(guesses=views, inside=inside, total=len(views), said=_said(inside, len(views)))


def _said(inside: int, total: int) -> str:
    if not total:
        return "No calibration that began with an estimate has come to a set yet."
    if total < 5:
        return f"{inside} of {total} results lay inside their interval: too few to judge the estimates by."
    return f"{inside} of {total} results lay inside their 80 % interval."
