"""A whole picture, read: every coupon in it with its marks, and in words what cannot be told."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import cv2
import numpy as np

from ...contract import Problem
from .code import places
from .contract import TOO_TALL, Drawing, Grey, Matrix, Outline, PictureNotice, PictureReading, ReadCoupon, ReadMark
from .find import candidates, shares_place
from .hole_code import decoded
from .lay import PLAIN_MATCH, Guess, Lay, Pattern, best_guesses, fitted, snapped
from .lens import Lens, lens_of
from .marks import read_marks
from .opened import MM_PER_INCH, Opened
from .sizes import Middle, by_middles, middles, scale_of, tilt_of, upright
from .straight import Straight, straight

MOST_COUPONS = 24
LEAST_SCORE = 0.12
"""Of a drawing over a place that is worth fitting."""
MOST_SNAPPED, MOST_TRIES = 28, 6
FIRST_PLACES = 8
"""The largest places, which are tried before all others."""
WORTH = 0.7
"""Score of a guess over the best one's below which it is not tried where a coupon was found already."""
MOST_TILT_DEG = 28.0
"""A drawing that would be seen more aslant than this lies over something else."""
BLURRED_MM = 0.050
"""Standard deviation of an edge above which a picture is called blurred."""
DROWNED = 0.01
PLAINLY = 1.25
TALL_MATCH = 0.35
"""A support coupon's loads stand far above its floor, and in a photo beside where they are drawn: laid the wrong way round it matches
no worse. Scans reach this, photos do not."""
COARSE_PX = 10.0
MOST_OFF_SCALE = 0.03
"""Resin shrinks by half a percent; a scale that is off by more is another resolution than was chosen."""
LANDMARK_SHARE = 0.3
"""Of a drawing's landmarks that must be found where thin walls stand: bars are there too then."""
NOT_FOUND = (
    "No coupon of Setback's was found in this picture. Lay it flat on a plain, matt ground with the raised side up, "
    "fill most of the picture with it, and take it from straight above."
)
DOES_NOT_LIE = "The drawing could not be laid exactly over this coupon. Take the picture again from straight above, in plain light."
Progress = Callable[[float], None]


def read_picture(
    picture: Opened,
    drawings: Sequence[Drawing],
    *,
    dpi: float | None = None,
    progress: Progress = lambda share: None,
) -> PictureReading:
    """Find every coupon in a picture and read it.

    Parameters
    ----------
    picture : Opened
        The picture.
    drawings : sequence of Drawing
        What may be in it; of two that fit the better one is taken.
    dpi : float, optional
        Resolution of a scanner that somebody has checked, dots per inch; sizes are then true to scale, else to the drawing's.
    progress : callable
        Told the share that is done, 0 to 1.

    Returns
    -------
    PictureReading
        Coupons from the top of the picture down; none when nothing fits, with a notice that helps.
    """
    if not drawings:
        raise Problem(
            "Choose the kind of coupon in the picture.", {"kind": "Choose the kind of coupon in the picture."}
        )
    fits = _laid_coupons(picture, drawings, progress)
    coupons = []
    for done, (drawing, lay) in enumerate(fits):
        coupons.append(_read(picture, drawing, lay, dpi))
        progress(0.5 + 0.5 * (done + 1) / len(fits))
    coupons.sort(
        key=lambda c: (
            round(min(y for _, y in c.outline.corners_px) / max(picture.size[1] / 8, 1)),
            c.outline.corners_px[0][0],
        )
    )
    width, height = picture.size
    return PictureReading(
        width_px=width, height_px=height, dpi=picture.dpi, coupons=coupons, notices=_notices(drawings, coupons)
    )


def _laid_coupons(picture: Opened, drawings: Sequence[Drawing], progress: Progress) -> list[tuple[Drawing, Lay]]:
    """Every coupon with the drawing that fits it best and how it lies.

    The largest places come first; where a coupon was plainly found nothing else is looked for, which spares most of the others.
    """
    small, shrink = _small(picture.grey)
    patterns = [Pattern(drawing) for drawing in drawings]
    quads = [quad * shrink for quad in candidates(picture)[: 4 * MOST_COUPONS]]
    fits = _fits_among(small, patterns, quads[:FIRST_PLACES], [], progress)
    rest = [
        quad for quad in quads[FIRST_PLACES:] if not any(_is_plain(fit) and _same_place(quad, fit[2]) for fit in fits)
    ]
    fits = _fits_among(small, patterns, rest, fits, lambda share: progress(0.25 + 0.25 * share))
    whole = np.diag([1 / shrink, 1 / shrink, 1])
    return [
        (drawing, Lay(whole @ lay.to_picture, lay.match, lay.mirrored))
        for drawing, lay, _ in fits
        if lay.match >= TALL_MATCH or not drawing.tip_loads
    ]


Fit = tuple[Drawing, Lay, Matrix]
"""A drawing, how it lies, and its corners."""


def _is_plain(fit: Fit) -> bool:
    return fit[1].match > PLAIN_MATCH and not fit[1].mirrored


def _fits_among(
    small: Grey, patterns: list[Pattern], quads: list[Matrix], fits: list[Fit], progress: Progress
) -> list[Fit]:
    """Coupons found before, with those at more places; those are tried in order of how well they look."""
    guesses = [guess for quad in quads for pattern in patterns for guess in best_guesses(small, quad, pattern)]
    progress(0.12)
    guesses.sort(key=lambda guess: -guess.score)
    guesses = sorted([snapped(small, guess) for guess in guesses[:MOST_SNAPPED]], key=lambda guess: -guess.score)
    best = guesses[0].score if guesses else 0.0
    most_tries, tries = MOST_TRIES + 3 * len(fits), 0
    for guess in guesses:
        area = _corners(guess.pattern.drawing, guess.to_picture)
        rivals = [fit for fit in fits if _same_place(area, fit[2])]
        if any(fit[1].match > PLAIN_MATCH and fit[1].mirrored == guess.mirrored for fit in rivals) or (
            rivals and guess.score < WORTH * best
        ):
            continue
        if guess.score < LEAST_SCORE or tries >= most_tries or len(fits) >= MOST_COUPONS:
            break
        tries += 1
        lay = fitted(small, guess)
        progress(0.12 + 0.13 * min(tries / most_tries, 1))
        if lay is None or tilt_of(guess.pattern.drawing, lay.to_picture) > MOST_TILT_DEG:
            continue
        area = _corners(guess.pattern.drawing, lay.to_picture)
        rivals = [fit for fit in fits if _same_place(area, fit[2])]
        if all(lay.match > fit[1].match * _favour(lay, fit[1]) for fit in rivals):
            fits = [fit for fit in fits if not any(fit is other for other in rivals)] + [
                (guess.pattern.drawing, lay, area)
            ]
            most_tries += 3
    return fits


def _favour(lay: Lay, other: Lay) -> float:
    """A mirror image must fit plainly better than the coupon itself: some are nearly symmetric."""
    return (
        PLAINLY if lay.mirrored and not other.mirrored else 1 / PLAINLY if other.mirrored and not lay.mirrored else 1.0
    )


def _same_place(one: Matrix, other: Matrix) -> bool:
    return shares_place(one, other) or shares_place(other, one)


def _small(grey: Grey) -> tuple[Grey, float]:
    """The picture at a size at which drawings are laid over it."""
    shrink = min(1.0, 2600 / max(grey.shape))
    return (
        (grey, 1.0)
        if shrink == 1.0
        else (cv2.resize(grey, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA), shrink)
    )


def _corners(drawing: Drawing, homography: Matrix) -> Matrix:
    width, height = drawing.width_mm, drawing.height_mm
    drawn = np.array([[(0.0, 0.0), (width, 0.0), (width, height), (0.0, height)]])
    return np.asarray(cv2.perspectiveTransform(drawn, homography)[0])


def _read(picture: Opened, drawing: Drawing, lay: Lay, dpi: float | None) -> ReadCoupon:
    """One coupon: laid straight at the picture's own scale, set by middles, and every mark told."""
    flat = bool(dpi or picture.dpi)
    lens = None if flat else lens_of(picture, drawing, lay.to_picture)
    if lens is not None:
        picture, lay = _without_lens(picture, drawing, lay, lens)
    homography = upright(drawing, lay.to_picture) if flat and not lay.mirrored else lay.to_picture
    px_per_mm = max(scale_of(drawing, homography))
    view = straight(picture, homography, drawing, px_per_mm)
    for _ in range(3):
        homography = by_middles(middles(view, drawing), homography, flat=flat)
        view = straight(picture, homography, drawing, px_per_mm)
    landmarks = middles(view, drawing)
    blur_mm = float(np.median([middle.blur_mm for middle in landmarks])) if landmarks else BLURRED_MM
    across, down = scale_of(drawing, homography)
    scale = math.sqrt(across * down) * MM_PER_INCH / dpi if dpi else 1.0
    tilt = 0.0 if dpi else tilt_of(drawing, homography)
    marks = read_marks(view, drawing, flat=flat, tilt_deg=tilt, blur_mm=blur_mm, scale=scale)
    notices = _faults(picture, drawing, view, homography, blur_mm, px_per_mm)
    if not _lies_right(drawing, landmarks, marks):
        notices.append(PictureNotice(code="does-not-lie", message=DOES_NOT_LIE))
        marks = [
            m.model_copy(update={"sure": False, "reason": "the drawing does not lie right over it"}) for m in marks
        ]
    if any(n.code == "blurred" for n in notices):
        marks = [m.model_copy(update={"sure": False, "reason": m.reason or "blurred"}) for m in marks]
    if dpi and abs(scale - 1) > MOST_OFF_SCALE:
        message = (
            f"By the size of the coupon this was scanned at about {round(dpi * scale, -1):.0f} dpi, not at {dpi:g}. "
            "Choose the resolution it was scanned at; nothing was kept."
        )
        notices.insert(0, PictureNotice(code="wrong-resolution", message=message))
        marks = [m.model_copy(update={"sure": False, "size_mm": None, "reason": "wrong resolution"}) for m in marks]
    number = decoded(places(view, drawing)) if drawing.holes and not lay.mirrored else None
    if lay.mirrored:
        message = "The picture is a mirror image. Take it with the camera at the back, or switch mirroring off."
        notices.insert(0, PictureNotice(code="mirrored", message=message))
        marks = [m.model_copy(update={"sure": False, "reason": "mirror image"}) for m in marks]
    return ReadCoupon(
        code=None if number is None else str(number),
        kind=drawing.kind,
        design=drawing.design,
        px_per_mm=round(px_per_mm, 2),
        blur_px=round(blur_mm * px_per_mm, 2),
        tilt_deg=round(tilt, 1),
        match=round(lay.match, 3),
        outline=_outline(drawing, homography, lens),
        mirrored=lay.mirrored,
        features=marks,
        notices=notices,
    )


def _without_lens(picture: Opened, drawing: Drawing, lay: Lay, lens: Lens) -> tuple[Opened, Lay]:
    """The picture as it would be without its lens, and the drawing laid over that; both as they were where it fits no better."""
    straightened = lens.unbent(picture)
    small, shrink = _small(straightened.grey)
    corners = lens.straightened(_corners(drawing, lay.to_picture)) * shrink
    begun = cv2.getPerspectiveTransform(_corners(drawing, np.eye(3)).astype(np.float32), corners.astype(np.float32))
    again = fitted(small, Guess(Pattern(drawing), begun.astype(np.float64), lay.mirrored, 0.0))
    if again is None:
        return picture, lay
    whole = np.diag([1 / shrink, 1 / shrink, 1])
    return straightened, Lay(whole @ again.to_picture, again.match, lay.mirrored)


def _outline(drawing: Drawing, homography: Matrix, lens: Lens | None) -> Outline:
    """Where the coupon's corners lie in the picture as it was taken."""
    corners = _corners(drawing, homography)
    corners = corners if lens is None else lens.bent(corners)
    return Outline(corners_px=[(round(float(x), 1), round(float(y), 1)) for x, y in corners])


def _lies_right(drawing: Drawing, landmarks: list[Middle], marks: list[ReadMark]) -> bool:
    """Whether enough landmarks are where they are drawn; where thin walls stand, bars are there too."""
    places = {frame.middle for frame, _ in drawing.landmarks}
    count = sum(middle.at in places for middle in landmarks)
    has_walls = any(mark.state == "formed" and mark.key.startswith("wall") for mark in marks)
    return not has_walls or count >= LANDMARK_SHARE * 2 * len(drawing.landmarks)


def _faults(
    picture: Opened, drawing: Drawing, view: Straight, homography: Matrix, blur_mm: float, px_per_mm: float
) -> list[PictureNotice]:
    """What keeps a picture from being read well, each with what to do."""
    notices = []

    def say(code: str, message: str) -> None:
        notices.append(PictureNotice(code=code, message=message))

    corners, (width, height) = _corners(drawing, homography), picture.size
    # A few tenths of a millimetre of the floor's rim may be outside.
    if (corners < -0.8 * px_per_mm).any() or (corners > np.array([width, height]) + 0.8 * px_per_mm).any():
        say("half-outside", "A part of the coupon is outside the picture. Take it again with some room all round.")
    if blur_mm > BLURRED_MM:
        say(
            "blurred",
            "The picture is blurred. Rest the phone on something, tap the coupon to focus, and take it again.",
        )
    if float(view.drowned.mean()) / 255 > DROWNED:
        say(
            "glare",
            "Light mirrors in the coupon. Turn it or the lamp a little and take the picture again; what it hides is asked.",
        )
    if px_per_mm < COARSE_PX:
        say("coarse", f"Only {px_per_mm:.0f} pixels per millimetre: thin walls and narrow slots are asked. Go nearer.")
    return notices


def _notices(drawings: Sequence[Drawing], coupons: list[ReadCoupon]) -> list[PictureNotice]:
    """What is to be said of the picture as a whole."""
    notices = []
    if not coupons:
        message = TOO_TALL if all(drawing.tip_loads for drawing in drawings) else NOT_FOUND
        notices.append(PictureNotice(code="nothing-found", message=message))
    codes = [c.code for c in coupons if c.code]
    for twice in sorted({code for code in codes if codes.count(code) > 1}):
        message = f"Two coupons in this picture carry the code {twice}. Take one of them away; neither is read."
        notices.append(PictureNotice(code="same-code", message=message))
    return notices
