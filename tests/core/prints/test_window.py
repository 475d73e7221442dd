"""The window of prints of parts, and the print to make next: counted on simulated shops, and what is refused."""

import numpy as np
import pytest

from setback.core.calculators import CALCULATORS
from setback.core.contract import Problem
from setback.core.prints.next_print import next_print
from setback.core.prints.outcomes import PrintOutcome, PrintSuccessInput
from setback.core.prints.success import print_success
from setback.core.prints.window import PrintWindowInput, print_window
from setback.core.window.contract import window_outcome
from tests.core.prints.shops import Shop, a_log, a_shop
from tests.core.statistics.coverage import Coverage
from tests.length import FULL

RUNS = 2000 if FULL else 40
RAISED = ((2.2, 20, 6, "under"), (2.6, 20, 15, "under"), (3.0, 40, 39, "under"), (3.4, 60, 60, None))


def rows(*several):
    """Prints by (exposure, parts, whole, how the others failed)."""
    return [PrintOutcome(exposure_s=s, parts=parts, whole=whole, failed_as=how) for s, parts, whole, how in several]


def window(*several, target=0.9):
    return print_window(PrintWindowInput(prints=rows(*several), target=target, exposure_step_s=0.1))


def following(*several, target=0.9):
    """The next print of a shop whose range is 1.5 to 4 s."""
    prints = rows(*several)
    success = print_success(PrintSuccessInput(prints=prints, target=target)) if prints else None
    return next_print(success, window(*several, target=target) if prints else None, target, (1.5, 4.0), 0.1)


@pytest.mark.honesty
@pytest.mark.parametrize("has_over", [False, True])
def test_an_offered_exposure_gives_the_wanted_share(has_over):
    rng = np.random.default_rng(5 + has_over)
    offered = Coverage(f"share of whole parts at the offered exposure, 30 prints{', both ends' if has_over else ''}")
    for _ in range(RUNS):
        shop = a_shop(rng, has_over)
        log = a_log(rng, shop, 30)
        result = print_window(PrintWindowInput(prints=log, target=0.9, exposure_step_s=0.1))
        if result.decision != "offer":
            offered.count(None)
            continue
        usual_c = float(np.average([one.temp_c for one in log], weights=[one.parts for one in log]))
        offered.count(shop.whole(result.policies["centre"], usual_c) >= 0.9)
    print(f"\n{offered}")
    assert offered.least(0.9)


def test_a_shop_that_raised_until_parts_succeeded_is_offered_what_succeeded():
    result = window(*RAISED)
    assert result.decision == "offer" and result.method == "prints"
    assert 3.0 <= result.policies["centre"] <= 3.4
    assert result.offers(result.policies["centre"]) and not result.offers(2.4)
    # Nothing failed for too much light: the upper end is where the prints stopped, and the window says so.
    assert result.window.upper_s == pytest.approx(3.4) and result.open_side == "upper"
    assert result.ends_found()[1] is None and result.window.latitude_pct is None
    assert 2.6 < result.window.lower_s < 3.2
    assert {"from-prints", "no-upper"} <= {one.code for one in result.warnings}
    # As it is kept with a set.
    assert window_outcome(result.model_dump(mode="json")) == result


def test_few_parts_are_not_offered_however_whole_they_came_out():
    result = window((2.4, 2, 1, "under"), (3.4, 3, 3, None))
    assert result.decision == "more" and result.policies is None
    assert not any(result.offers(one.exposure_s) for one in result.p_holds)


@pytest.mark.parametrize(
    "prints",
    [
        ((3.0, 40, 36, "under"),),
        ((2.4, 9, 9, None), (3.4, 9, 9, None)),
        ((2.4, 40, 40, None), (3.4, 40, 20, "under")),
    ],
)
def test_prints_that_show_no_curve_make_no_window(prints):
    result = window(*prints)
    assert result.decision == "more" and result.window is None and not result.p_holds


def test_nothing_is_said_outside_what_was_printed():
    result = window(*RAISED)
    assert result.p_at(3.6) is None and result.p_at(2.0) is None
    assert [one.exposure_s for one in result.p_holds][:: len(result.p_holds) - 1] == [2.2, 3.4]


def test_the_next_print_goes_up_until_parts_succeed_and_ends_with_an_offer():
    assert following().exposure_s == pytest.approx(2.4)
    assert following((2.4, 8, 2, "under")).exposure_s == pytest.approx(3.6)
    between = following((2.4, 8, 2, "under"), (3.6, 8, 8, None))
    assert between.action == "print" and 2.4 < between.exposure_s < 5.4
    assert following(*RAISED).action == "decide"


def test_with_no_gap_left_more_parts_are_printed_where_they_are_expected_whole():
    close = following((2.5, 6, 3, "under"), (2.6, 6, 6, None), (2.8, 6, 5, "over"))
    assert close.action == "print" and close.exposure_s in (2.6, 2.7) and "More parts" in close.reason


def test_where_no_exposure_is_right_it_says_so_instead_of_printing_on():
    closed = following((2.5, 40, 20, "under"), (2.6, 40, 22, "over"))
    assert closed.action == "review" and "another exposure will not help" in closed.reason


def test_exposures_that_contradict_each_other_are_printed_again():
    odd = following((2.4, 10, 10, None), (3.4, 10, 5, "under"))
    assert odd.action == "print" and odd.exposure_s == pytest.approx(2.4)


def test_a_campaign_from_nothing_ends_with_an_exposure_that_is_right():
    rng = np.random.default_rng(2)
    shop = Shop(lacks_s=2.4, exceeds_s=5.0, scale=0.1, per_c=0.0, spread=0.02, fails_otherwise=0.0)
    printed = []
    for _ in range(40):
        success = print_success(PrintSuccessInput(prints=printed, target=0.9)) if printed else None
        made = print_window(PrintWindowInput(prints=printed, target=0.9, exposure_step_s=0.1)) if printed else None
        step = next_print(success, made, 0.9, (1.2, 4.0), 0.1)
        if step.action == "decide":
            break
        printed.append(shop.printed(rng, step.exposure_s, 23, 12))
    assert step.action == "decide" and len(printed) < 25
    assert shop.whole(made.policies["centre"], 23) >= 0.9


def test_the_calculator_refuses_what_does_not_add_up():
    answer = CALCULATORS["print-window"](
        {"prints": [one.model_dump() for one in rows(*RAISED)], "target": 0.9, "exposure_step_s": 0.1}
    )
    assert answer["decision"] == "offer"
    with pytest.raises(Problem) as refused:
        CALCULATORS["print-window"]({"prints": [one.model_dump() for one in rows(*RAISED)]})
    assert "exposure_step_s" in refused.value.fields
