"""The shortest rest that works: which rests to try side by side. Every second of rest is paid on every layer."""

from __future__ import annotations

from ..window.contract import WindowResult

# Machine and resin settle like exp(-rest/time): equal ratios tell most with few arms.
RATIO = 2.0
SHORTEST_S = 0.5
LONGEST_S = 16.0
ARMS = 3
# Delays are set in tenths at the finest.
STEP_S = 0.1


def rests_to_try(now_s: float, motion_s: float, delay_includes_motion: bool) -> list[float]:
    """Rests for new arms beside the one at hand, in the printer's own counting.

    Parameters
    ----------
    now_s : float
        Rest, or delay, of the arm at hand.
    motion_s : float
        Lift and retract together; a delay that includes it leaves only what is above it.
    delay_includes_motion : bool
        Then every delay offered is the motion and a real rest.
    """
    motion = motion_s if delay_includes_motion else 0.0
    real = max(now_s - motion, 0.0)
    rests: list[float] = []
    rest = max(real * RATIO, 2 * SHORTEST_S)
    while len(rests) < ARMS - 1 and rest <= LONGEST_S:
        rests.append(rest)
        rest *= RATIO
    shorter = real / RATIO
    if shorter >= SHORTEST_S:
        rests.insert(0, shorter)
    return [round(round((motion + r) / STEP_S) * STEP_S, 1) for r in rests[:ARMS]]


def exposures_to_try(result: WindowResult | None, low_s: float, high_s: float) -> list[float]:
    """Four exposures, by equal ratios, over what was printed so far, which showed both failures; else over the range.

    Fewer, or closer together, would leave an arm's ends outside its own ladder and so without an uncertainty to compare by.
    """
    low, high = result.ladder_s if result and result.ladder_s else (low_s, high_s)
    return [low * (high / low) ** (i / 3) for i in range(4)]
