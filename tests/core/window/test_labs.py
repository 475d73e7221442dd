"""The window on labs of another physics than the product's, with their truth: its promises hold."""

import json
from pathlib import Path

import pytest

from setback.core.window.contract import WindowInput
from setback.core.window.process_window import process_window
from tests.core.window.promises import Promises
from tests.length import FULL

LABS = json.loads((Path(__file__).parent / "labs.json").read_text(encoding="utf-8"))["labs"]
SHOWN = LABS if FULL else LABS[::2]
SOUND = ("usual", "nowindow", "wrongrange")


def window_input(lab):
    """Input of a lab, with the temperatures of its coupons."""
    coupons = [{**c, "temp_c": t} for c, t in zip(lab["input"]["coupons"], lab["temps_c"], strict=True)]
    return WindowInput.model_validate({**lab["input"], "coupons": coupons, "reference_temp_c": lab["reference_temp_c"]})


@pytest.fixture(scope="module")
def results():
    return [(lab, process_window(window_input(lab))) for lab in SHOWN]


@pytest.mark.honesty
def test_what_is_promised_is_kept(results):
    promises = Promises()
    for lab, result in results:
        truth = lab["truth"]
        if lab["scenario"] in SOUND:
            promises.ends(result, truth["lanes"], truth["size_true_s"])
        promises.decision(result, truth["window"], hard=lab["scenario"] not in SOUND)
    print("\n" + promises.table())
    assert not promises.broken()


@pytest.mark.honesty
def test_swapped_labels_are_named_or_nothing_is_offered(results):
    swapped = [result for lab, result in results if lab["scenario"] == "swapped"]
    assert swapped
    assert all(result.contradictions or result.decision != "offer" for result in swapped)


def test_the_order_of_the_coupons_does_not_change_a_digit():
    given = window_input(LABS[0])
    turned = given.model_copy(update={"coupons": given.coupons[::-1]})
    assert process_window(given) == process_window(turned)
