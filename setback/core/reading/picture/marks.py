"""What became of every mark of a coupon, from its picture, each with how sure that is."""

from __future__ import annotations

import math

import numpy as np

from .contract import Drawing, Frame, Mark, ReadMark, State
from .lengths import Length, all_lengths
from .sizes import Measured, measured
from .straight import Straight

WHOLE, SOME = 0.9, 0.3
"""Shares of its length from which a wall or slot counts as whole, and as there in part."""
LEAST_PX = 2.2
"""Pixels across a wall or a slot below which its picture is not trusted."""
LEAST_BLURS = 1.6
"""Widths of a wall or a slot over the deviation of the picture's edges below which it is not trusted either."""
RESOLVED_PX = 14.0
"""Pixels per millimetre from which sizes are given."""
MOST_SD_MM = 0.04
SIDE_MM = 1.0


def read_marks(
    view: Straight, drawing: Drawing, *, flat: bool, tilt_deg: float, blur_mm: float, scale: float
) -> list[ReadMark]:
    """Every mark that a picture can tell, in the drawing's order.

    Parameters
    ----------
    view : Straight
        The coupon laid straight.
    flat : bool
        Whether it was scanned: on the glass, seen straight on.
    tilt_deg : float
        How far the camera looked aslant.
    blur_mm : float
        Standard deviation of the picture's edges.
    scale : float
        What a drawn millimetre measures, where the picture's resolution is known; else 1.
    """
    marks: dict[str, ReadMark] = {}
    marks |= {length.mark.key: _by_length(length, view, blur_mm) for length in all_lengths(view, drawing)}
    marks |= _bars(view, drawing, flat=flat, tilt_deg=tilt_deg, scale=scale)
    marks |= _verniers(view, drawing.of("vernier"), flat=flat)
    marks |= _taper(view, drawing.of("taper"))
    marks |= _loads(view, drawing)
    marks |= _letters(drawing)
    return [marks[mark.key] for mark in drawing.marks if mark.key in marks]


def _state(share: float) -> State:
    return "formed" if share >= WHOLE else "partial" if share > SOME else "absent"


def _by_length(length: Length, view: Straight, blur_mm: float) -> ReadMark:
    """A wall or a slot by the share of its length that is there."""
    state, share = _state(length.share), length.share
    reason = None
    near = min(abs(share - WHOLE), abs(share - SOME))
    if length.drowned > 0.02:
        reason = "light mirrors in it"
    elif length.noise >= 0.5:
        reason = "too little contrast"
    elif length.mark.size_mm * view.px_per_mm < LEAST_PX or length.mark.size_mm < LEAST_BLURS * blur_mm:
        reason = "too small in this picture"
    elif near < 0.02 + 0.7 * length.unclear:
        reason = "just between two states" if length.unclear < 0.2 else "not clear"
    return ReadMark(key=length.mark.key, state=state, size_mm=None, sd_um=None, sure=reason is None, reason=reason)


def _bars(view: Straight, drawing: Drawing, *, flat: bool, tilt_deg: float, scale: float) -> dict[str, ReadMark]:
    """Bars and notches: their size where the picture resolves it, else whether they are there."""
    marks = {}
    resolved = flat and view.px_per_mm >= RESOLVED_PX
    for mark in drawing.of("outer", "inner"):
        bar = measured(view, mark, by_levels=flat)
        drowned = view.drowned_share(mark.place.grown(0.3))
        if bar is None:
            gone = mark.kind == "outer" and drowned < 0.02
            reason = (
                None
                if gone and _bare(view, mark)
                else "light mirrors in it"
                if drowned >= 0.02
                else "its edges are not clear"
            )
            marks[mark.key] = ReadMark(
                key=mark.key,
                state="absent" if gone else None,
                size_mm=None,
                sd_um=None,
                sure=reason is None,
                reason=reason,
            )
            continue
        reason = "light mirrors in it" if drowned > 0.02 else None
        sd = _sd_mm(bar, view, flat=flat, tilt_deg=tilt_deg)
        measurable = resolved and reason is None
        if measurable and sd > MOST_SD_MM:
            reason = "its edges are not clear"
        marks[mark.key] = ReadMark(
            key=mark.key,
            state="formed",
            size_mm=round(bar.size_mm * scale, 4) if measurable else None,
            sd_um=round(1000 * sd, 1) if measurable else None,
            sure=reason is None,
            reason=reason,
        )
    return marks


def _sd_mm(bar: Measured, view: Straight, *, flat: bool, tilt_deg: float) -> float:
    """Standard uncertainty of a size: scatter of its edges, what the pixels allow, and what light from one side does to a photo."""
    systematic = 0.004 if flat else 0.010 + SIDE_MM * math.tan(math.radians(tilt_deg)) * 0.15
    return math.hypot(math.hypot(bar.sd_mm, 0.06 / view.px_per_mm), systematic)


def _bare(view: Straight, mark: Mark) -> bool:
    """Whether nothing at all stands where a bar is drawn: its place is as even as the ground beside it."""
    inside = view.box(mark.place)
    return bool(inside.size) and float(inside.std()) < 0.12 * float(inside.mean() + 8)


def _dark_mm(
    view: Straight, at: tuple[float, float], reach: float, along: tuple[float, float]
) -> tuple[float, float] | None:
    """How wide the dark between two bright faces is along Y, mm, whatever the blur; and how much darker it gets than they are.

    The area that is missing under the faces' brightness, divided by how dark the ground beside them is: a narrow gap that blur has
    made shallow keeps its area.
    """
    distances, lines = view.across(at, reach, along, "y")
    if lines.shape[0] < 2:
        return None
    profile = np.median(lines, axis=0)
    end = max(len(profile) // 6, 3)
    faces = np.linspace(float(profile[:end].mean()), float(profile[-end:].mean()), len(profile))
    lost = np.clip(1 - profile / np.maximum(faces, 8), -0.2, 1)
    return float(lost.sum() * (distances[1] - distances[0])), float(lost.max())


def _verniers(view: Straight, pairs: list[Mark], *, flat: bool) -> dict[str, ReadMark]:
    """The pair that just touches: where a line through the gaps that are seen, on those that are drawn, passes nothing."""
    if len(pairs) < 4:
        return {}
    gaps = []
    for mark in pairs:
        # Of a pair only its lower bar is the mark: the upper one ends above it, to the left.
        middle = mark.place.top - mark.size_mm / 2
        along = (mark.place.left + 0.08, mark.place.left + 0.32)
        dark = _dark_mm(view, (0.0, middle), 0.55, along)
        drowned = view.drowned_share(Frame(along[0], middle - 0.5, along[1], middle + 0.5))
        if dark is not None and drowned < 0.02:
            gaps.append((mark, *dark))
    deepest = max((depth for _, _, depth in gaps), default=0.0)
    reason: str | None = "the gaps are too small in this picture"
    touching = None
    if len(gaps) == len(pairs) and deepest > 0.12:
        drawn = np.array([mark.size_mm for mark, _, _ in gaps])
        widths = np.array([area for _, area, _ in gaps]) / deepest
        open_ones = widths > 0.030
        if open_ones.sum() >= 2:
            growth = float(np.median((drawn - widths)[open_ones])) / 2
            left = drawn - 2 * growth
            first = next((i for i in np.argsort(-drawn) if left[i] <= 0), None)
            touching = gaps[int(first)][0] if first is not None else None
            step = abs(float(np.diff(np.sort(drawn))[0]))
            near = min(abs(left[i]) for i in range(len(left)) if left[i] > -step) if step else 1.0
            # Sure where neither this pair nor the one before it is close to just touching.
            if flat and view.px_per_mm >= 40 and near > 0.012 and touching is not None:
                reason = None
    return {
        mark.key: ReadMark(
            key=mark.key,
            state="formed" if mark is touching else None,
            size_mm=None,
            sd_um=None,
            sure=reason is None,
            reason=reason,
        )
        for mark in pairs
        if mark is touching
    }


def _taper(view: Straight, steps: list[Mark]) -> dict[str, ReadMark]:
    """The step at which the taper plug stopped: how far its head is from the channel's mouth."""
    if len(steps) < 3:
        return {}
    nose, last = steps[0].place, steps[-1].place
    middle = nose.middle[0]
    # Beside the channel, where the rails end and the head's shoulders come to stand.
    found, dark = [], []
    for side in (-1.2, 1.2):
        x = middle + side
        distances, lines = view.across((0.0, nose.top - 0.5), 6.2, (x - 0.1, x + 0.1), "y")
        profile = lines.mean(axis=0)
        falls = np.gradient(profile)
        near = (distances > -0.4) & (distances < 0.4)
        mouth = float(distances[int(np.argmin(np.where(near, falls, 0)))])
        beyond = distances > mouth + 0.15
        head = float(distances[int(np.argmax(np.where(beyond, falls, -1e9)))])
        found.append(head - mouth)
        between = profile[(distances > mouth + 0.1) & (distances < head - 0.1)]
        rail, shoulder = profile[distances < mouth - 0.1], profile[(distances > head + 0.1) & (distances < head + 0.7)]
        if between.size and rail.size and shoulder.size:
            dark.append(float(between.mean()) / max(min(float(rail.mean()), float(np.median(shoulder))), 1.0))
    apart, agree = sum(found) / 2, abs(found[0] - found[1])
    step = nose.bottom - nose.top
    drawn = last.bottom - (nose.top - 0.5)
    # Where the head stands says how many steps have gone in.
    gone = (drawn - 0.5 - apart) / step
    number = round(gone)
    if not 0 <= number < len(steps):
        return {}
    reason = None
    if (
        agree > 0.5 * step
        or abs(gone - number) > 0.3
        or len(dark) < 2
        or max(dark) > 0.9
        or view.drowned_share(nose.grown(1.0)) > 0.02
    ):
        reason = "its head is not clear"
    elif view.px_per_mm < RESOLVED_PX:
        reason = "too small in this picture"
    mark = steps[number]
    return {
        mark.key: ReadMark(key=mark.key, state="formed", size_mm=None, sd_um=None, sure=reason is None, reason=reason)
    }


def _loads(view: Straight, drawing: Drawing) -> dict[str, ReadMark]:
    """Support tips: a tip that held still carries its load."""
    if not drawing.tip_loads:
        return {}
    looks = {key: _contrast(view, frame) for key, frame in drawing.tip_loads}
    values = np.array(list(looks.values()))
    low, high = float(values.min()), float(values.max())
    answers = {}
    for key, frame in drawing.tip_loads:
        place = (looks[key] - low) / max(high - low, 1e-6)
        alike = high < 1.6 * max(low, 1e-6)
        state: State = "formed" if (low > 0.12 if alike else place > 0.5) else "absent"
        reason = "light mirrors in it" if view.drowned_share(frame) > 0.05 else None
        if reason is None and not alike and 0.3 < place < 0.7:
            reason = "not clear"
        answers[key] = ReadMark(key=key, state=state, size_mm=None, sd_um=None, sure=reason is None, reason=reason)
    return answers


def _letters(drawing: Drawing) -> dict[str, ReadMark]:
    """The code in falling size: which of it can still be read is a question of eyes, asked once, over the picture."""
    largest = max(drawing.of("legible"), key=lambda mark: mark.size_mm, default=None)
    if largest is None:
        return {}
    reason = "letters are read by eye"
    return {largest.key: ReadMark(key=largest.key, state=None, size_mm=None, sd_um=None, sure=False, reason=reason)}


def _contrast(view: Straight, frame: Frame) -> float:
    """How much brightness changes along the rim of a rectangle, as a share of what is about it."""
    around = view.box(frame.grown(0.3))
    return float(np.percentile(around, 95) - np.percentile(around, 5)) / (float(np.median(around)) + 8)
