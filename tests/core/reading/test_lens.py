"""A lens that bends is told from a coupon that lies aslant, by its rim, and taken out before marks are read."""

import random
from dataclasses import replace

import numpy as np
import pytest

from setback.core.reading.picture import read
from setback.core.reading.picture.lens import Lens, lens_of
from setback.core.reading.picture.opened import opened
from setback.core.reading.picture.read import read_picture
from setback.coupon import drawn
from setback.coupon.for_picture import for_picture
from setback.coupon.lettering import embossed
from setback.simulate.camera import Shot, photograph
from setback.simulate.hidden import Conditions, Machine, material
from setback.simulate.printed import print_coupon

pytestmark = pytest.mark.long

COUPON = drawn("flat", {"pixel_mm": 0.035, "floor_mm": 0.35, "design": 2})


def taken(bend: float, tilt_deg: float, seed: int = 3):
    """A photo of one coupon through a lens, opened."""
    of = replace(material(seed, "basic", "opaque", (1.6, 3.2)), tint=(120, 124, 132))
    printed = print_coupon(COUPON, Machine(pixel_mm=0.035), of, Conditions(2.2), seed)
    shot = Shot(px_per_mm=30, tilt_deg=tilt_deg, tilt_to_deg=40, turn_deg=5, lamp_deg=70, distortion=bend)
    return opened(photograph(printed, embossed(COUPON, "104", "2.2s"), seed, shot))


def seen_through(bend: float, tilt_deg: float, monkeypatch):
    """The lens that is found while a picture is read, and what is read."""
    lenses = []

    def spied(*args):
        lenses.append(lens_of(*args))
        return lenses[-1]

    monkeypatch.setattr(read, "lens_of", spied)
    reading = read_picture(taken(bend, tilt_deg), [for_picture(COUPON)])
    (coupon,) = reading.coupons
    return lenses[0], coupon


@pytest.mark.parametrize(("bend", "tilt_deg"), [(0.01, 3), (-0.04, 18)])
def test_a_bend_is_found_whether_the_coupon_lies_aslant_or_not(monkeypatch, bend, tilt_deg):
    lens, coupon = seen_through(bend, tilt_deg, monkeypatch)
    assert lens is not None and lens.bend == pytest.approx(bend, abs=0.0015)
    assert coupon.code == "104"


def test_no_bend_is_found_where_there_is_none_however_aslant_it_lies(monkeypatch):
    lens, coupon = seen_through(0.0, 20, monkeypatch)
    assert lens is None and coupon.code == "104"


def test_corners_are_told_as_they_lie_in_the_picture_that_was_taken(monkeypatch):
    plain = seen_through(0.0, 3, monkeypatch)[1].outline.corners_px
    bent = seen_through(-0.04, 3, monkeypatch)[1].outline.corners_px
    lens = Lens(-0.04, (0.0, 0.0), 1.0)
    picture = taken(-0.04, 3)
    lens = replace(
        lens, middle=tuple(side / 2 for side in picture.size), half_diagonal=float(np.hypot(*picture.size)) / 2
    )
    apart = np.array(bent) - lens.bent(np.array(plain, dtype=float))
    assert float(np.abs(apart).max()) < 6


def test_bending_and_straightening_undo_each_other():
    chance = random.Random(4)
    points = np.array([(chance.uniform(0, 4000), chance.uniform(0, 3000)) for _ in range(50)])
    for bend in (-0.1, -0.01, 0.02, 0.1):
        lens = Lens(bend, (2000.0, 1500.0), 2500.0)
        assert np.abs(lens.straightened(lens.bent(points)) - points).max() < 0.05
        # The middle stays, and corners move by the bend.
        assert lens.straightened(np.array([[2000.0, 1500.0]])).tolist() == [[2000.0, 1500.0]]
        corner = lens.straightened(np.array([[4000.0, 3000.0]]))[0]
        assert np.hypot(*(corner - (2000, 1500))) == pytest.approx(2500 * (1 + bend))


def test_a_small_coupon_tells_nothing_of_the_lens():
    picture = taken(-0.04, 3)
    small = np.array([[20.0, 0, 300], [0, 20.0, 300], [0, 0, 1]]) @ np.diag([0.5, 0.5, 1])
    assert lens_of(picture, for_picture(COUPON), small) is None
