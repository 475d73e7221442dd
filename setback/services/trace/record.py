"""What the record says of a print, as the facts of the trace: each with its words and the place where it can be looked at."""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import datetime

from pydantic import Field

from ...core.trace.knowledge import KNOWLEDGE
from ...core.window.contract import window_outcome
from ...store import shelf, wash_baths
from ...store import trace as store
from ...store.calibrate import stages
from ...store.prints import log
from ...store.sets import parameter_sets
from ...store.sets import validity as lives
from ..blends import vats
from ..unit_of_work import UnitOfWork, View

LOOK_BACK = 20
DRY_SHARE = 0.9
"""Dried for less than this share of what its finish route says, a print was dried too short."""
SPOT_SHARE = 0.2
"""Parts that failed inside this share of the plate's width and depth failed at one spot."""


class RecordFact(View):
    """One thing the record says."""

    key: str = Field(description="Which fact it is")
    value: float | str = Field(description="Number or level")
    words: str = Field(description="What it says")
    link: str | None = Field(description="Where it can be looked at")


def facts_of(work: UnitOfWork, row: log.LoggedPrint) -> list[RecordFact]:
    """Everything the record says of a print of parts; what nobody noted is left out."""
    moment = row.started_at or row.printed_at or row.planned_at
    set_id = _set_behind(work, row)
    set_row = parameter_sets.by_ids(work.db, [set_id]).get(set_id) if set_id else None
    facts: list[RecordFact] = []
    for some in (
        _of_settings(work, row, set_row),
        _of_temperature(row, set_row),
        _of_history(work, row, moment),
        _of_printer(work, row, set_row, moment),
        _of_resin(work, row, set_row, moment),
        _of_finish(work, row, moment),
        _of_place(work, row),
    ):
        facts.extend(some)
    return facts


def _fact(key: str, value: float | str, link: str | None = None, words: str | None = None) -> RecordFact:
    return RecordFact(key=key, value=value, words=words or KNOWLEDGE.facts[key].words_of(value), link=link)


def _set_behind(work: UnitOfWork, row: log.LoggedPrint) -> str | None:
    """The set it was printed with, else the newest of its pair."""
    around = store.around(work.db, row.id)
    if around is not None and around.set_id is not None:
        return around.set_id
    if row.material_id is None or row.layer_height_um is None:
        return None
    return store.newest_set(work.db, row.material_id, row.printer_id, row.layer_height_um)


def _of_settings(work: UnitOfWork, row: log.LoggedPrint, set_row: parameter_sets.SetRow | None) -> Iterator[RecordFact]:
    link = f"/sets/{set_row.code}" if set_row else None
    yield _fact("settings", "issued" if row.set_code else "trial", link)
    settings = log.settings_of(work.db, row.id) or (set_row.settings if set_row and row.set_code else None)
    if settings and settings.get("rest_before_s") is not None:
        yield _fact("rest_s", float(settings["rest_before_s"]), link)
    if set_row is None:
        return
    window = window_outcome(set_row.result).window
    exposure_s = row.exposure_s or (set_row.exposure_s if row.set_code else None)
    if window is not None and exposure_s and window.upper_s > window.lower_s:
        place = math.log(exposure_s / window.lower_s) / math.log(window.upper_s / window.lower_s)
        ends = f"{exposure_s:g} s, window {window.lower_s:.3g} to {window.upper_s:.3g} s"
        yield _fact("window_place", round(place, 3), link, ends)
    yield _fact("base_rated", "yes" if "first-layer" in stages.done(work.db, set_row.calibration_id) else "no", link)
    if row.tip_mm is not None and set_row.tip_proven_mm:
        words = f"tips of {row.tip_mm:g} mm, {set_row.tip_proven_mm:g} mm shown to hold"
        yield _fact("tip_share", round(row.tip_mm / set_row.tip_proven_mm, 3), link, words)


def _of_temperature(row: log.LoggedPrint, set_row: parameter_sets.SetRow | None) -> Iterator[RecordFact]:
    if row.temp_c is None or set_row is None or set_row.temp_low_c is None or set_row.temp_high_c is None:
        return
    band = f"{row.temp_c:g} °C {row.temp_place} at the start, {set_row.code} was made at {set_row.temp_low_c:g} to {set_row.temp_high_c:g} °C"
    link = f"/sets/{set_row.code}"
    yield _fact("below_band_c", max(set_row.temp_low_c - row.temp_c, 0.0), link, band)
    yield _fact("above_band_c", max(row.temp_c - set_row.temp_high_c, 0.0), link, band)


def _of_history(work: UnitOfWork, row: log.LoggedPrint, moment: str) -> Iterator[RecordFact]:
    outcomes = store.outcomes_before(
        work.db, row.printer_id, row.material_id, row.layer_height_um, row.exposure_s, moment, LOOK_BACK
    )
    whole = next((at for at, outcome in enumerate(outcomes) if outcome != "whole"), len(outcomes))
    filters = f"/log?printer={row.printer_id}" + (f"&material={row.material_id}" if row.material_id else "")
    yield _fact("whole_before", float(whole), filters)
    names = [part.name for part in log.newest_parts(work.db, [row.id])]
    if names:
        was_whole = all(store.was_whole(work.db, row.printer_id, name, moment) for name in names)
        yield _fact("new_part", "no" if was_whole else "yes", filters)
    before = store.print_before(work.db, row.printer_id, moment)
    if before is not None:
        code, left_pieces, searched = before
        level = "none" if not left_pieces else "searched for" if searched else "not searched for"
        yield _fact("pieces_before", level, f"/log/{code}")


def _of_printer(
    work: UnitOfWork, row: log.LoggedPrint, set_row: parameter_sets.SetRow | None, moment: str
) -> Iterator[RecordFact]:
    page = f"/printers/{row.printer_id}"
    for key, kind in (("film_prints", "film-replaced"), ("level_prints", "plate-levelled")):
        since = store.since_event(work.db, row.printer_id, kind, moment)
        if since is not None:
            at, prints, whole = since
            yield _fact(key, float(prints if key == "film_prints" else whole), page, _since(key, at, prints, whole))
    if set_row is None:
        return
    around = store.around(work.db, row.id)
    then = lives.hours_at(work.db, [set_row.arm_id]).get(set_row.arm_id)
    if around is not None and around.screen_hours is not None and then is not None:
        yield _fact("screen_hours", max(round(around.screen_hours - then, 1), 0.0), page)
    light = store.light_of_set(work.db, set_row.id, moment)
    if light is not None:
        code, off_pct = light
        words = f"check coupon {code}: {off_pct:+.0f} % light against the issue".replace("-", "−")
        yield _fact("light_off_pct", off_pct, f"/sets/{set_row.code}", words)


def _since(key: str, at: str, prints: int, whole: int) -> str:
    if key == "film_prints":
        return f"{prints} prints on the film of {at[:10]}"
    return f"plate levelled {at[:10]}, {whole} whole prints since"


def _of_resin(
    work: UnitOfWork, row: log.LoggedPrint, set_row: parameter_sets.SetRow | None, moment: str
) -> Iterator[RecordFact]:
    resin = shelf.resin(work.db, row.material_id) if row.material_id else None
    if resin is not None:
        yield _fact("opacity", resin.opacity, f"/materials/{row.material_id}")
    bottle = shelf.bottle(work.db, row.bottle_id) if row.bottle_id else None
    if bottle is not None:
        link = f"/bottles/{bottle.code}"
        if set_row is not None and set_row.bottle_id is not None:
            bottle_of_set = shelf.bottle(work.db, set_row.bottle_id)
            if bottle_of_set is not None:
                yield _fact("lot_changed", "no" if bottle_of_set.lot == bottle.lot else "yes", link)
        if bottle.best_before is not None:
            yield _fact("past_best", "yes" if bottle.best_before < moment[:10] else "no", link)
        yield _fact("shaken", "yes" if _shaken(bottle.last_shaken_at, moment) else "no", link)
    yield from _of_vat(work, row, moment)


def _shaken(at: str | None, moment: str) -> bool:
    """Whether a bottle was shaken on the day of the print, or the evening before."""
    if at is None or at > moment:
        return False
    return (datetime.fromisoformat(moment) - datetime.fromisoformat(at)).total_seconds() <= 24 * 3600


def _of_vat(work: UnitOfWork, row: log.LoggedPrint, moment: str) -> Iterator[RecordFact]:
    """What is in the vat now; of a print that newer ones have followed nothing is said, for the vat has gone on."""
    newest = log.newest_at(work.db, {"printer": row.printer_id})
    if newest is not None and row.printed_at is not None and newest > row.printed_at:
        return
    printer = shelf.printer(work.db, row.printer_id)
    vat = vats.vat(work, row.printer_id) if printer is not None else None
    if vat is None or not vat.ledger:
        return
    link = f"/blend/vat/{row.printer_id}"
    if vat.stirred_h is not None:
        yield _fact("stood_h", round(vat.stirred_h, 1), link)
    if vat.standing_h is not None:
        yield _fact("vat_days", round(vat.standing_h / 24, 1), link)
    is_other = vat.material_id is not None and row.material_id is not None and vat.material_id != row.material_id
    yield _fact("vat_mixed", "yes" if vat.contamination or vat.is_called is None or is_other else "no", link)
    if row.volume_ml > 0 and vat.volume_ml > 0:
        yield _fact("vat_fill", "low" if vat.volume_ml < row.volume_ml else "enough", link)


def _of_finish(work: UnitOfWork, row: log.LoggedPrint, moment: str) -> Iterator[RecordFact]:
    """Its wash baths, drying and cure against its finish route; times that nobody noted say nothing."""
    version_id = wash_baths.route_of_print(work.db, row.id)
    route = shelf.finish_route_version(work.db, version_id) if version_id else None
    if route is None:
        return
    washed = wash_baths.baths_of_fluid(work.db, route.wash_fluid, moment)
    if washed:
        bath = max(washed, key=lambda one: one.loads / one.most_loads)
        words = f"{bath.name}: {bath.loads} of {bath.most_loads} loads"
        yield _fact("bath_share", round(bath.loads / bath.most_loads, 3), "/shelf/wash-baths", words)
    reports = log.reports(work.db, row.id)
    if not reports:
        return
    link = f"/log/{row.code}"
    dried, cured = reports[0].dry_min, reports[0].cure_min
    if dried is not None and route.dry_min > 0:
        words = f"dried {dried:g} min, its finish route says {route.dry_min:g} min"
        yield _fact("dried", "less" if dried < DRY_SHARE * route.dry_min else "as planned", link, words)
    if cured is not None and route.cure_min > 0:
        words = f"cured {cured:g} min, its finish route says {route.cure_min:g} min"
        yield _fact("cure_share", round(cured / route.cure_min, 3), link, words)


def _of_place(work: UnitOfWork, row: log.LoggedPrint) -> Iterator[RecordFact]:
    """Where parts failed, where at least two of them stand at noted places."""
    printer = shelf.printer(work.db, row.printer_id)
    placed = [part for part in log.newest_parts(work.db, [row.id]) if part.x_mm is not None and part.y_mm is not None]
    failed = [part for part in placed if (part.whole or 0) < part.printed]
    if printer is None or len(placed) < 2 or not failed:
        return
    xs = [(part.x_mm or 0) / printer.plate_x_mm for part in failed]
    ys = [(part.y_mm or 0) / printer.plate_y_mm for part in failed]
    if len(failed) == len(placed):
        level = "everywhere"
    elif len(failed) > 1 and max(xs) - min(xs) <= SPOT_SHARE and max(ys) - min(ys) <= SPOT_SHARE:
        level = "one spot"
    elif len(failed) > 1 and any(max(along) < 0.5 or min(along) > 0.5 for along in (xs, ys)):
        level = "one side"
    else:
        level = "scattered"
    yield _fact("failed_place", level, f"/log/{row.code}")
