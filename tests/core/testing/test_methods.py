"""The registry of methods: every entry complete, and each gives what it promises."""

import pytest

from setback.core.contract import Problem
from setback.core.testing.methods import METHODS, PROPERTIES, checked_row, checked_setup
from setback.core.testing.results import Batch, Piece, RequirementLine, work_out
from setback.coupon import KINDS
from tests.specimens import readings, setup_of

EVERY = pytest.mark.parametrize("method", METHODS.values(), ids=lambda m: m.key)


def test_what_was_asked_for_is_there():
    assert set(METHODS) >= {
        "cantilever-bend",
        "three-point-bend",
        "stiffness",
        "tensile-bar",
        "closed-loop",
        "notched-impact",
        "drop",
        "part-trial",
        "flexing",
        "joint-wear",
        "hardness-cure",
        "hardness-core",
        "tack",
        "size",
        "fit",
        "support-removal",
        "looks",
    }


@EVERY
def test_an_entry_is_complete(method):
    assert method.tells and method.does_not_tell and method.fixture and method.source and method.steps
    assert method.specimen is None or method.specimen in KINDS
    keys = [f.key for f in (*method.setup, *method.reads)]
    assert len(set(keys)) == len(keys)
    assert {f"{method.key}.{p.key}" for p in method.properties} <= set(PROPERTIES)


@EVERY
def test_specimens_give_every_property(method):
    setup = checked_setup(method, setup_of(method))
    batches = [
        Batch(
            n,
            name,
            n == 1,
            tuple(
                Piece(f"{n}{i}", tuple(checked_row(method, r) for r in rows))
                for i, rows in enumerate(readings(method, setup, 8, n))
            ),
        )
        for n, name in ((1, "reference"), (2, "other"))
    ]
    for one in work_out(method, setup, batches):
        for made in one.batches:
            assert made.n == 8 and made.words and (made.centre is not None or made.summary.reliability_shown), one.key


@EVERY
def test_nothing_read_says_so(method):
    setup = checked_setup(method, setup_of(method))
    for one in work_out(method, setup, [Batch(1, "a", True, (Piece("1", ()),))]):
        assert one.batches[0].n == 0 and one.batches[0].words in ("nothing read yet", "nothing dropped yet")


@EVERY
def test_a_missing_reading_is_named(method):
    row = readings(method, setup_of(method), 1, 1)[0][0]
    needed = next(f for f in method.reads if not f.optional)
    with pytest.raises(Problem) as caught:
        checked_row(method, {k: v for k, v in row.items() if k != needed.key} | {"made_up": 1})
    assert {needed.key, "made_up"} == set(caught.value.fields)


def bend(values, broke=True):
    return tuple(
        Piece(f"b{i}", ({"width_mm": 10, "height_mm": 4, "force_n": v, "broke": broke},)) for i, v in enumerate(values)
    )


class TestInWords:
    def test_what_is_shown_says_how_surely(self):
        batches = [
            Batch(1, "Slate 2", True, bend([30, 31, 29, 30.5, 29.5])),
            Batch(2, "Hullform", False, bend([40, 41, 39, 40.5, 39.5])),
        ]
        strength = work_out(METHODS["cantilever-bend"], {"arm_mm": 50}, batches)[0]
        assert strength.comparisons[0].words == "33 % higher than Slate 2, at least 28 % (95 % confidence): better"

    def test_what_is_not_shown_says_how_many_more(self):
        batches = [
            Batch(1, "Slate 2", True, bend([30, 36, 26, 33])),
            Batch(2, "Hullform", False, bend([33, 38, 28, 35])),
        ]
        words = work_out(METHODS["cantilever-bend"], {"arm_mm": 50}, batches)[0].comparisons[0].words
        assert words.startswith("no difference to Slate 2 shown; ") and words.endswith("would settle one of this size")

    def test_a_line_is_held_against_the_bound_and_not_the_mean(self):
        line = {"strength": RequirementLine(limit=50, at="least")}
        pieces = bend([30, 36, 26, 33])
        made = work_out(METHODS["cantilever-bend"], {"arm_mm": 50}, [Batch(1, "a", False, pieces)], line)[0].batches[0]
        assert (
            made.centre > 50 > made.bound and made.against_line == "required ≥ 50 MPa: not met at the tolerance bound"
        )

    def test_none_broke_is_a_result(self):
        line = {"strength": RequirementLine(limit=50, at="least")}
        pieces = bend([40, 40, 40], broke=False)
        made = work_out(METHODS["cantilever-bend"], {"arm_mm": 50}, [Batch(1, "a", False, pieces)], line)[0].batches[0]
        assert made.centre is None and "37 % of parts survive" in made.words and "none broke" in made.against_line

    def test_a_break_outside_the_gauge_section_is_flagged_and_kept(self):
        piece = Piece("x", ({"width_mm": 4, "thickness_mm": 3, "force_n": 200, "broke": True, "outside": True},))
        dot = work_out(METHODS["tensile-bar"], {}, [Batch(1, "a", False, (piece,))])[0].batches[0].dots[0]
        assert "outside the gauge section" in dot.notices[0]

    def test_a_group_that_all_survived_is_not_compared_by_a_mean(self):
        batches = [Batch(1, "ref", True, bend([30, 31, 29])), Batch(2, "tough", False, bend([40, 40, 40], broke=False))]
        one = work_out(METHODS["cantilever-bend"], {"arm_mm": 50}, batches)[0]
        assert one.comparisons == [] and "not-compared" in {w.code for w in one.warnings}
