"""What parts are for becomes limits: in sizes a printer draws, the finer use asking for finer sizes."""

import pytest

from setback.core.calibrate.part_uses import USES, limits_for, near

WALLS, SLOTS, TIPS = [0.105, 0.14, 0.21, 0.28, 0.49], [0.175, 0.245, 0.35, 0.42, 0.7], [0.28, 0.42, 0.49, 0.63]


def limits(key: str, is_opaque: bool = True):
    return limits_for(next(use for use in USES if use.key == key), WALLS, SLOTS, TIPS, is_opaque)


def test_keys_are_their_own_and_the_first_is_the_usual_one():
    assert len({use.key for use in USES}) == len(USES) and USES[0].key == "usual"


@pytest.mark.parametrize("use", USES, ids=lambda use: use.key)
def test_every_size_is_one_the_printer_draws(use):
    found = limits_for(use, WALLS, SLOTS, TIPS, True)
    assert found.walls_size_mm in WALLS and found.slots_size_mm in SLOTS and found.tips_size_mm in TIPS


def test_finer_parts_ask_for_finer_sizes():
    fine, usual, coarse = limits("fine"), limits("usual"), limits("coarse")
    assert fine.walls_size_mm < usual.walls_size_mm < coarse.walls_size_mm
    assert fine.slots_size_mm < usual.slots_size_mm < coarse.slots_size_mm
    assert limits("fit").growth_tol_um < usual.growth_tol_um < coarse.growth_tol_um


def test_depth_is_asked_where_light_gets_there_or_holes_count():
    assert limits("usual").z_bloom_max_um is None and limits("usual", is_opaque=False).z_bloom_max_um == 150
    assert limits("openings").z_bloom_max_um == 150


def test_nothing_wanted_or_nothing_drawn_leaves_a_lane_out():
    assert near([], 0.2) is None and near(WALLS, None) is None and near(WALLS, 0.17) == pytest.approx(0.14)
