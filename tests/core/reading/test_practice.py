"""Scores of practice: marks, biases in micrometres, and whether the next exposure leads nearer."""

from __future__ import annotations

import random

import pytest

from setback.core.reading.practice import PracticeFeature, biases, score

SIZES = (0.1, 0.15, 0.2, 0.3)
FEATURES = [
    PracticeFeature(key=f"{kind}-{side}-{size}", kind=kind, size_mm=size, side=side)
    for kind in ("wall", "slot")
    for side in ("left", "right")
    for size in SIZES
] + [PracticeFeature(key=f"taper-{n}", kind="taper", size_mm=0.07 - 0.035 * n) for n in range(5)]


def states(least_wall, least_slot, step):
    return {
        f.key: ("formed" if f.size_mm >= (least_wall if f.kind == "wall" else least_slot) else "absent")
        for f in FEATURES
        if f.kind != "taper"
    } | {f"taper-{step}": "formed"}


TRUTH = states(0.15, 0.2, 2)


def of(read, call="right", true_call="right", exposures=(2.0, 2.0, 2.0)):
    return score(FEATURES, read, TRUTH, call, true_call, exposures)


def test_a_right_reading_has_no_bias():
    result = of(TRUTH)
    assert (result.marks, result.wrong, result.wall_bias_um, result.slot_bias_um, result.plug_bias_um) == (
        16,
        [],
        0,
        0,
        0,
    )


def test_who_misses_thin_walls_and_takes_closed_slots_for_open_reads_so_many_micrometres_off():
    result = of(states(0.2, 0.15, 3))
    assert result.wall_bias_um == pytest.approx(50) and result.slot_bias_um == pytest.approx(-50)
    assert result.plug_bias_um == pytest.approx(-8.75)
    assert len(result.wrong) == 4


def test_where_nothing_stands_the_next_larger_wall_would_have():
    assert of(states(9, 0.2, 2)).wall_bias_um == pytest.approx(1000 * (0.4 - 0.15))


def test_marks_that_were_not_read_or_were_struck_out_do_not_count():
    read = {key: state for key, state in TRUTH.items() if "left" in key} | {"wall-left-0.1": "lost"}
    assert of(read).marks == 7 and of({}).wall_bias_um is None


@pytest.mark.parametrize(("chosen", "nearer"), [(2.4, True), (2.0, True), (1.6, False), (3.6, False)])
def test_the_next_exposure_leads_nearer_or_away(chosen, nearer):
    result = of(TRUTH, exposures=(2.0, chosen, 2.5))
    assert result.nearer is nearer and result.next_off_pct == pytest.approx(100 * (chosen / 2.5 - 1))


def test_planted_biases_are_found_within_their_interval_in_19_of_20_and_none_is_shown_where_none_is():
    chance, inside, shown = random.Random(4), 0, 0
    for trial in range(200):
        planted = 30.0 if trial % 2 else 0.0
        scores = [of(TRUTH).model_copy(update={"wall_bias_um": chance.gauss(planted, 25)}) for _ in range(12)]
        bias = next(b for b in biases(scores) if b.of == "walls")
        inside += bias.bias_ci_um[0] <= planted <= bias.bias_ci_um[1]
        shown += bias.shown and not planted
    assert inside >= 185 and shown <= 10


def test_two_coupons_show_no_interval():
    assert biases([of(TRUTH)] * 2)[0].bias_ci_um is None and biases([]) == []
