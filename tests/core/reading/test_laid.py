"""A coupon laid straight: the same size and light whatever the picture, so that a ladder can be compared."""

from __future__ import annotations

import io
from dataclasses import replace

import numpy as np
import pytest
from PIL import Image

from setback.core.reading.picture.contract import MARGIN_MM, STRAIGHT_PX
from setback.core.reading.picture.laid import BRIGHT, DARK, cut_out, laid_straight
from setback.coupon.lettering import embossed
from setback.simulate.camera import Placed, corners_px, photograph
from tests.pictures import PLAIN, printed

pytestmark = pytest.mark.long

MADE = printed(2.6)


def straight(**changes):
    shot = replace(PLAIN, **changes)
    lettered = embossed(MADE.coupon, "104R", "2.6s")
    content = photograph(MADE, lettered, 1, shot)
    corners = corners_px(Placed(MADE, lettered), shot, content)
    laid = laid_straight(content, corners, MADE.coupon.width_mm, MADE.coupon.height_mm)
    return content, corners, np.asarray(Image.open(io.BytesIO(laid)).convert("L"), dtype=float)


@pytest.fixture(scope="module")
def plain():
    return straight()


@pytest.mark.parametrize("changes", [{"px_per_mm": 52}, {"tilt_deg": 9, "turn_deg": 40}, {"uneven": 0.6}])
def test_however_it_was_taken_it_comes_to_the_same_size_place_and_light(plain, changes):
    _, _, expected = plain
    _, _, other = straight(**changes)
    size = [round((mm + 2 * MARGIN_MM) * STRAIGHT_PX) for mm in (MADE.coupon.height_mm, MADE.coupon.width_mm)]
    assert list(other.shape) == size == list(expected.shape)
    assert np.corrcoef(expected.ravel(), other.ravel())[0, 1] > 0.8
    # Two pixels aside it fits less well: it lies where it should.
    assert (
        np.corrcoef(expected[:, :-3].ravel(), other[:, 3:].ravel())[0, 1]
        < 0.98 * np.corrcoef(expected.ravel(), other.ravel())[0, 1]
    )
    assert np.percentile(other, 5) == pytest.approx(DARK, abs=25)
    assert np.percentile(other, 95) == pytest.approx(BRIGHT, abs=25)


def test_a_coupon_cut_out_of_a_picture_keeps_some_ground(plain):
    content, corners, _ = plain
    part = Image.open(io.BytesIO(cut_out(content, corners)))
    whole = Image.open(io.BytesIO(content))
    width = max(x for x, _ in corners) - min(x for x, _ in corners)
    assert width < part.width < min(1.12 * width, whole.width + 1)
