"""Issue a parameter set from a calibration's evidence, and read the card of one."""

from __future__ import annotations

import dataclasses
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from .. import __version__
from ..core.contract import Contract, Problem, Seconds
from ..core.settings import Settings
from ..core.steps import round_to_step
from ..core.window import process_window
from ..core.window_contract import WindowResult
from ..store import calibrations as store
from ..store import parameter_sets, shelf
from ..store.codes import next_code
from .assessment import arm_evidence, window_input
from .bench import Bench, Conflict, View, present, same_version

Policy = Literal["size-true", "centre", "support-safe", "hardest-in-tolerance", "own choice"]


class IssueInput(Contract):
    version: int = Field(description="Version of the calibration that was looked at")
    arm_id: str
    exposure_s: Seconds
    policy: Policy
    reason: Annotated[str, StringConstraints(strip_whitespace=True, min_length=10, max_length=2000)]
    temp_low_c: Annotated[float, Field(ge=-20, le=80)] | None = None
    temp_high_c: Annotated[float, Field(ge=-20, le=80)] | None = None


class SetCard(View):
    """An issued parameter set: every setting to type into a slicing program, and what it rests on."""

    id: str
    code: str
    version: int
    versions: list[tuple[int, str]] = Field(description="(version, code) of this pair and layer height, newest first")
    newest: bool
    material_id: str
    material: str
    maker: str | None
    printer_id: str
    printer: str
    layer_height_um: float
    exposure_s: float
    exposure_step_s: float
    policy: str
    reason: str
    settings: Settings
    rest_is_delay: bool = Field(description="The printer's delay includes the motion")
    finish_route: str | None
    finish_steps: list[str]
    bottle: str | None
    bottle_left_ml: float | None
    temp_low_c: float | None
    temp_high_c: float | None
    tip_proven_mm: float | None
    growth_um: float | None = Field(description="Expected edge growth at the issued exposure, µm")
    calibration_id: str
    calibration_code: str
    coupons: list[str]
    window: WindowResult
    initials: str
    issued_at: str
    core_version: str
    hash: str


def issue(bench: Bench, calibration_id: str, given: IssueInput) -> SetCard:
    """Issue a set: the window is computed again from the evidence and kept with it.

    Raises
    ------
    Conflict
        When the evidence offers no exposure: no window, a proven conflict, or a provisional window.
    Problem
        When the exposure is not a step inside the window.
    """
    with bench.write() as answer:
        db = bench.db
        who = bench.technician()
        row = present(store.calibration(db, calibration_id), "calibration")
        same_version(row.version, given.version, row.code)
        if row.closed_at is not None:
            raise Conflict(f"{row.code} is closed.")
        arm = present(store.arm(db, given.arm_id), "arm")
        if arm.calibration_id != row.id:
            raise Problem("This arm belongs to another calibration.", {"arm_id": "Choose an arm of this calibration."})
        printer = present(shelf.printer(db, row.printer_id), "printer")
        evidence = arm_evidence(bench, row, arm.id)
        if not evidence:
            raise Conflict("Nothing is read yet, so there is nothing to issue on.")
        window_given = window_input(row, printer.exposure_step_s, evidence)
        result = process_window(window_given)
        _check_offered(result)
        _check_choice(given, result, printer.exposure_step_s)
        settings = Settings.model_validate(arm.settings)
        chain, previous = parameter_sets.last_link(db)
        held = parameter_sets.SetRow(
            id=bench.new_id(),
            code=next_code(db, "S"),
            chain=chain + 1,
            material_id=row.material_id,
            printer_id=row.printer_id,
            layer_height_um=row.layer_height_um,
            version=parameter_sets.last_version(db, row.material_id, row.printer_id, row.layer_height_um) + 1,
            calibration_id=row.id,
            arm_id=arm.id,
            finish_route_version_id=row.finish_route_version_id,
            bottle_id=row.bottle_id,
            exposure_s=given.exposure_s,
            policy=given.policy,
            reason=given.reason,
            settings=settings.model_dump(),
            temp_low_c=given.temp_low_c,
            temp_high_c=given.temp_high_c,
            tip_proven_mm=_tip_proven(result, window_given.limits.tips_size_mm, given.exposure_s),
            technician_id=who.id,
            issued_at=bench.now(),
            core_version=__version__,
            input=window_given.model_dump(mode="json"),
            result=result.model_dump(mode="json"),
            previous_hash=previous,
            hash="",
        )
        parameter_sets.append(db, dataclasses.replace(held, hash=parameter_sets.hash_of(held)))
        return answer(card(bench, held.id))


def card(bench: Bench, id_or_code: str) -> SetCard:
    """The card of an issued set, from what was kept when it was issued."""
    db = bench.db
    row = present(parameter_sets.parameter_set(db, id_or_code), "parameter set")
    material = present(shelf.material(db, row.material_id), "material")
    resin = shelf.resin(db, row.material_id)
    printer = present(shelf.printer(db, row.printer_id), "printer")
    bottle = shelf.bottle(db, row.bottle_id) if row.bottle_id else None
    route = shelf.finish_route_version(db, row.finish_route_version_id) if row.finish_route_version_id else None
    calibration = present(store.calibration(db, row.calibration_id), "calibration")
    sql = "SELECT initials FROM technician WHERE id = ?"
    window = WindowResult.model_validate(row.result)
    versions = db.execute(
        "SELECT version, code FROM parameter_set WHERE material_id = ? AND printer_id = ? AND layer_height_um = ? "
        "ORDER BY version DESC",
        (row.material_id, row.printer_id, row.layer_height_um),
    ).fetchall()
    near = [p for p in window.predictions if abs(p.exposure_s - row.exposure_s) < 1e-9]
    return SetCard(
        **{name: getattr(row, name) for name in _OWN},
        versions=[(v[0], v[1]) for v in versions],
        newest=versions[0][0] == row.version,
        material=material.name,
        maker=resin.maker if resin else None,
        printer=printer.name,
        exposure_step_s=printer.exposure_step_s,
        settings=Settings.model_validate(row.settings),
        rest_is_delay=printer.delay_includes_motion,
        finish_route=f"{route.name}, version {route.version}" if route else None,
        finish_steps=_finish_steps(route) if route else [],
        bottle=f"{bottle.code}, lot {bottle.lot}" if bottle else None,
        bottle_left_ml=bottle.left_ml if bottle else None,
        growth_um=near[0].growth_um if near else None,
        calibration_code=calibration.code,
        coupons=[str(c["label"]) for c in _coupons(row.input)],
        window=window,
        initials=db.execute(sql, (row.technician_id,)).fetchone()[0],
    )


_OWN = (
    "id", "code", "version", "material_id", "printer_id", "layer_height_um", "exposure_s", "policy", "reason",
    "temp_low_c", "temp_high_c", "tip_proven_mm", "calibration_id", "issued_at", "core_version", "hash",
)  # fmt: skip


def _coupons(kept: dict[str, Any]) -> list[dict[str, Any]]:
    return list(kept["coupons"])


def _finish_steps(route: shelf.FinishRoute) -> list[str]:
    temp = f" at {route.cure_temp_c:g} °C" if route.cure_temp_c is not None else ""
    supports = f"Supports off {route.supports_off}"
    steps = [
        f"Wash in {route.wash_fluid}, {route.wash_method}: dirty bath {route.dirty_bath_min:g} min, "
        f"clean bath {route.clean_bath_min:g} min",
        f"Dry {route.dry_min:g} min" + (f", air {route.air_min:g} min" if route.air_min else ""),
        f"Cure {route.cure_min:g} min, {route.lamp}{temp}",
    ]
    return [*steps[:2], supports, steps[2]] if route.supports_off == "before cure" else [*steps, supports]


def _check_offered(result: WindowResult) -> None:
    if result.conflict is not None:
        raise Conflict(f"{result.conflict.message} Nothing can be issued on it.")
    if result.window is None or result.policies is None:
        raise Conflict("The evidence makes no window yet, so there is no exposure to issue.")
    if result.provisional:
        raise Conflict(
            "The window is provisional: a lane was left out or a coupon was read before it was finished. "
            "Repeat or leave out those coupons first."
        )


def _check_choice(given: IssueInput, result: WindowResult, step_s: float) -> None:
    assert result.window is not None and result.policies is not None
    low, high = result.window.lower_s, result.window.upper_s
    if abs(round_to_step(given.exposure_s, step_s) - given.exposure_s) > 1e-9:
        said = f"The printer sets whole steps of {step_s:g} s."
        raise Problem(said, {"exposure_s": said})
    if not low * (1 - 1e-9) <= given.exposure_s <= high * (1 + 1e-9):
        said = f"{given.exposure_s:g} s is outside the window of {low:.3g} to {high:.3g} s."
        raise Problem(said, {"exposure_s": said})
    if given.policy != "own choice" and result.policies.get(given.policy) != given.exposure_s:
        said = f"By {given.policy} the evidence gives {result.policies.get(given.policy)} s. Reload to see it."
        raise Problem(said, {"policy": said})
    if (given.temp_low_c is None) != (given.temp_high_c is None):
        said = "Give both ends of the temperature band, or neither."
        raise Problem(said, {"temp_low_c" if given.temp_low_c is None else "temp_high_c": said})
    if given.temp_low_c is not None and given.temp_high_c is not None and given.temp_high_c < given.temp_low_c:
        said = "The warm end is below the cold end."
        raise Problem(said, {"temp_high_c": said})


def _tip_proven(result: WindowResult, tip_mm: float | None, exposure_s: float) -> float | None:
    """The wanted tip, when the tips lane says it holds at this exposure."""
    lane = result.lanes.get("tips")
    if tip_mm is None or lane is None or lane.lower_used_s is None:
        return None
    return tip_mm if exposure_s >= lane.lower_used_s - 1e-9 else None
