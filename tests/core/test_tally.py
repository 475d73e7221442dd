from setback.core.tally import ReadFeature, tally


def walls(side, states):
    return [
        ReadFeature(key=f"wall-{side}-{i}", kind="wall", side=side, size_mm=0.1 * (i + 1), state=state)
        for i, state in enumerate(states)
    ]


F, A, P, L = "formed", "absent", "partial", "lost"


def test_counts_by_size_over_both_sides():
    seen = tally(2, walls("left", [A, F, F]) + walls("right", [A, A, F])).evidence.walls
    assert [(w.standing, w.of) for w in seen] == [(0, 2), (1, 2), (2, 2)]


def test_lost_in_handling_is_not_counted_as_missing():
    seen = tally(2, walls("left", [L, F, L]) + walls("right", [A, F, F])).evidence.walls
    assert [(w.standing, w.of) for w in seen] == [(0, 1), (2, 2), (1, 1)]


def test_in_part_counts_as_not_formed_and_is_kept():
    seen = tally(2, walls("left", [P, F])).evidence.walls
    assert (seen[0].standing, seen[0].of, seen[0].partial) == (0, 1, 1)


def test_loss_on_one_side_leaves_the_counts_and_points_elsewhere():
    told = tally(2, walls("left", [F, F, F, F]) + walls("right", [A, A, A, F]))
    assert [(w.standing, w.of) for w in told.evidence.walls] == [(1, 1)] * 4
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
