from hypothesis import given
from hypothesis import strategies as st

from setback.core.reading.tally import ReadFeature, tally


def walls(side, states):
    return [
        ReadFeature(key=f"wall-{side}-{i}", kind="wall", side=side, size_mm=0.1 * (i + 1), state=state)
        for i, state in enumerate(states)
    ]


F, A, P, L = "formed", "absent", "partial", "lost"


def test_counts_by_size_over_both_sides():
    seen = tally(2, walls("left", [A, F, F]) + walls("right", [A, A, F])).evidence.walls
    assert [(w.whole, w.of) for w in seen] == [(0, 2), (1, 2), (2, 2)]


def test_lost_in_handling_is_not_counted_as_missing():
    seen = tally(2, walls("left", [L, F, L]) + walls("right", [A, F, F])).evidence.walls
    assert [(w.whole, w.of) for w in seen] == [(0, 1), (2, 2), (1, 1)]


def test_in_part_counts_as_not_formed_and_is_kept():
    seen = tally(2, walls("left", [P, F])).evidence.walls
    assert (seen[0].whole, seen[0].of, seen[0].partial) == (0, 1, 1)


def test_loss_on_one_side_leaves_the_counts_and_points_elsewhere():
    told = tally(2, walls("left", [F, F, F, F]) + walls("right", [A, A, A, F]))
    assert [(w.whole, w.of) for w in told.evidence.walls] == [(1, 1)] * 4
    assert "right side only" in told.findings[0].message and "level" in told.findings[0].message


def test_loss_on_both_sides_is_exposure():
    told = tally(2, walls("left", [A, A, F, F]) + walls("right", [A, A, A, F]))
    assert not told.findings and all(w.of == 2 for w in told.evidence.walls)


def test_measured_features_become_blocks_unless_lost():
    bars = [
        ReadFeature(key="a", kind="outer", size_mm=7, axis="x", measured_mm=7.02),
        ReadFeature(key="b", kind="inner", size_mm=7, axis="x", measured_mm=6.9, state="lost"),
        ReadFeature(key="c", kind="inner", size_mm=7, axis="y"),
    ]
    assert [b.measured_mm for b in tally(2, bars).evidence.blocks] == [7.02]


STATES = st.lists(st.sampled_from([F, A, P, L, None]), min_size=0, max_size=10)


@given(STATES, STATES)
def test_nothing_is_counted_that_was_not_read(left, right):
    told = tally(2, walls("left", left) + walls("right", right))
    read = [state for state in (*left, *right) if state not in (None, L)]
    counted = sum(w.of for w in told.evidence.walls)
    assert counted <= len(read) and (told.findings or counted == len(read))
    for wall in told.evidence.walls:
        assert wall.whole >= 0 and wall.whole + wall.partial <= wall.of


@given(STATES, STATES)
def test_which_side_is_called_left_does_not_matter(left, right):
    one = tally(2, walls("left", left) + walls("right", right))
    other = tally(2, walls("left", right) + walls("right", left))
    assert one.evidence.walls == other.evidence.walls
    assert [f.message.replace("left", "x").replace("right", "left").replace("x", "right") for f in one.findings] == [
        f.message for f in other.findings
    ]


@given(STATES)
def test_the_order_in_which_features_come_does_not_matter(left):
    features = walls("left", left)
    assert tally(2, features).evidence == tally(2, features[::-1]).evidence


def test_two_sizes_on_one_side_may_be_chance_and_stay():
    told = tally(2, walls("left", [F, F, F, F]) + walls("right", [A, A, F, F]))
    assert not told.findings and [w.of for w in told.evidence.walls] == [2, 2, 2, 2]


def test_slots_that_close_on_one_side_leave_while_walls_stay():
    slots = [
        ReadFeature(
            key=f"slot-{side}-{i}", kind="slot", side=side, size_mm=0.1 * (i + 1), state=A if side == "left" else F
        )
        for side in ("left", "right")
        for i in range(4)
    ]
    told = tally(2, walls("left", [F, F]) + walls("right", [F, F]) + slots)
    assert [(s.whole, s.of) for s in told.evidence.slots] == [(1, 1)] * 4
    assert [w.of for w in told.evidence.walls] == [2, 2]
    assert "4 slots failed on the left side only" in told.findings[0].message


def test_faults_and_the_wish_to_count_it_all_the_same_go_along():
    told = tally(2, walls("left", [F]), label="103N", faults=("uncured",), include=True).evidence
    assert (told.label, told.uncured, told.unwashed, told.include) == ("103N", True, False, True)
