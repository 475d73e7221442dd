"""Does the evidence show what a brief asks? Met, not met, or not shown, and what would show it.

The rules, in the order in which they are asked:

1. No usable evidence: not shown. Two usable results that exclude each other: not shown, and both are named.
2. A limit moves by its margin to the safe side before anything is held against it.
3. *mean*: met when the whole 95 % interval of the mean lies on the right side, not met when it lies on the wrong side.
4. *bound*: met when the bound that 90 % of parts keep, with 95 % confidence, lies on the right side; not met when the
   interval of the mean lies on the wrong side, because then half of the parts do.
5. *every*: not met when one specimen is on the wrong side; met when three or more are all on the right one.
6. One print shows nothing of the material: what it meets, or its mean misses, is not shown. A single specimen on the wrong side
   is one all the same.
7. A fact without spread (a finest wall, a share of the plate) is met or not.
8. "Did not break" is a result: a load survived by all counts for the mean and for every specimen, and for the bound when
   so many survived that at least 90 % of parts are shown to.

Overall: lapsed when the set is; not qualified when its exposure was issued outside an offer, or a must is not met or not shown; conditional when a should is not, or
the set is due for a check; else qualified.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..contract import Contract, Interval
from ..statistics.figures import decimals
from ..statistics.prints import BOUND_PRINTS, MEAN_PRINTS
from ..statistics.tolerance import CONFIDENCE, SHARE, tolerance_factor
from ..status.validity import State
from .status import Status, Verdict

Basis = Literal["mean", "bound", "every"]
LEAST_EVERY = 3
MOST_SPECIMENS = 60


class Condition(Contract):
    """Something the test must have been made under, by the method's own key."""

    key: Annotated[str, StringConstraints(max_length=40)]
    value: str | float | bool


class Requirement(Contract):
    """One line of a brief."""

    property: Annotated[str, StringConstraints(max_length=80)] = Field(
        description="Method and property, such as drop.height, or set.tip"
    )
    at: Literal["least", "most"]
    limit: float = Field(ge=-1e9, le=1e9)
    kind: Literal["must", "should"] = "must"
    basis: Basis = Field("mean", description="What is held against the limit")
    margin_pct: float = Field(0, ge=0, le=200, description="The limit moves by this to the safe side")
    amount: float | None = Field(None, gt=0, le=1e6, description="Beside the limit, such as the ml of a part")
    conditions: list[Condition] = Field([], max_length=8, description="What the test must have been made under")
    note: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)] = ""


class EvidenceShown(Contract):
    """What one source says of a property."""

    source: str = Field(description="Code of the test or the set")
    value: float | None
    ci: Interval | None
    bound_low: float | None = Field(None, description="90 % of parts reach this")
    bound_high: float | None = Field(None, description="90 % of parts stay under this")
    values: list[float] = []
    unbroken: list[float] = Field([], description="Loads reached without a break")
    reliability: float | None = Field(None, description="None broke: share of parts shown to survive")
    sd: float | None = None
    n: int = 0
    prints: int | None = Field(None, description="That the specimens came out of, where that is known")
    exact: bool = Field(False, description="A fact without spread")
    centre: Literal["mean", "median"] = "mean"
    made_under: str = ""


class NotCounted(Contract):
    """Evidence that is there and does not count, with the reason."""

    source: str
    why: str


class Offered(Contract):
    """All evidence of one property: what may be used, newest first, and what may not."""

    usable: list[EvidenceShown] = Field([], max_length=50)
    left_out: list[NotCounted] = Field([], max_length=50)
    missing: str | None = Field(None, description="Why there is none")


class Need(Contract):
    """The cheapest thing that would show it."""

    words: str
    specimens: int | None
    stage: str | None = Field(description="Step of a campaign; None when a test shows it")


class Judged(Contract):
    """One requirement, held against its evidence."""

    demand: Requirement
    name: str
    unit: str
    status: Status
    words: str
    sure: str = Field(description="How sure, in words")
    line: float = Field(description="The limit with its margin")
    used: EvidenceShown | None
    left_out: list[NotCounted]
    need: Need | None
    decimals: int


def judge(requirement: Requirement, name: str, unit: str, how: str, stage: str | None, evidence: Offered) -> Judged:
    """Hold one requirement against what there is."""
    line = with_margin(requirement)
    used = evidence.usable[0] if evidence.usable else None
    places = decimals(used.value if used else line, _doubt(used))
    status, words, sure = _status(requirement, line, evidence, unit, places)
    need = None if status != Status.NOT_SHOWN else _need(requirement, line, used, how, stage)
    return Judged(
        demand=requirement,
        name=name,
        unit=unit,
        status=status,
        words=words,
        sure=sure,
        line=line,
        used=used,
        left_out=evidence.left_out,
        need=need,
        decimals=places,
    )


def overall(
    lines: list[Judged], state: State, causes: list[str], outside_reason: str | None = None
) -> tuple[Verdict, list[str]]:
    """The verdict over all requirements, with its reasons.

    Parameters
    ----------
    state : State
        Of the set: valid, due or lapsed.
    causes : list of str
        Why it is due or lapsed.
    outside_reason : str, optional
        Why its exposure was issued although the evidence did not offer it: such a set never qualifies.
    """
    if state == "lapsed":
        return Verdict.LAPSED, causes or ["The set has lapsed."]
    failed = [f"{j.name}: {j.status}" for j in lines if j.demand.kind == "must" and j.status != Status.MET]
    if outside_reason:
        failed.insert(0, f"The exposure was issued outside an offer: {outside_reason}")
    if failed:
        return Verdict.NOT_QUALIFIED, failed
    conditions = [f"{j.name}: {j.status}" for j in lines if j.status != Status.MET]
    if state == "due":
        conditions += [f"The set is due for a check. {cause}" for cause in causes] or ["The set is due for a check."]
    return (Verdict.CONDITIONAL, conditions) if conditions else (Verdict.QUALIFIED, [])


def with_margin(requirement: Requirement) -> float:
    """The limit, moved by its margin to the safe side."""
    step = abs(requirement.limit) * requirement.margin_pct / 100
    return requirement.limit + step if requirement.at == "least" else requirement.limit - step


def _status(
    requirement: Requirement, line: float, evidence: Offered, unit: str, places: int
) -> tuple[Status, str, str]:
    if not evidence.usable:
        return Status.NOT_SHOWN, evidence.missing or "Nothing shows it yet.", ""
    newest = evidence.usable[0]
    against = next((o for o in evidence.usable[1:] if _exclude(newest, o)), None)
    if against is not None:
        message = (
            f"{newest.source} and {against.source} exclude each other: "
            f"{_number(newest.value, places)} and {_number(against.value, places)} {unit}."
        )
        return Status.NOT_SHOWN, message, "contradicted"
    if newest.exact:
        good = newest.value is not None and _right(newest.value, line, requirement)
        return (
            (Status.MET if good else Status.NOT_MET),
            f"{_fact(newest.value)} {unit}, by {newest.source}.",
            "on record",
        )
    if not newest.values and newest.unbroken:
        status, words, sure = _survived(requirement, line, newest, unit, places)
    else:
        rule = {"mean": _by_mean, "bound": _by_bound, "every": _by_every}[requirement.basis]
        status, words, sure = rule(requirement, line, newest, unit, places)
    if newest.prints != 1 or (status == Status.NOT_MET and requirement.basis == "every"):
        return status, words, sure
    return Status.NOT_SHOWN, f"{words} All of it came out of one print: parts of another may differ.", "one print"


def _fact(value: float | None) -> str:
    """A fact carries no zeros that nobody measured."""
    return "nothing" if value is None else f"{float(f'{value:.3g}'):g}"


def _by_mean(
    requirement: Requirement, line: float, s: EvidenceShown, unit: str, places: int
) -> tuple[Status, str, str]:
    if s.value is None:
        return Status.NOT_SHOWN, "It has no mean.", ""
    if s.ci is None:
        return (
            Status.NOT_SHOWN,
            f"{_number(s.value, places)} {unit} from {_pieces(s.n)}: too few for an interval.",
            "one-off",
        )
    words = f"{s.centre.capitalize()} {_number(s.value, places)} {unit}, {_number(s.ci[0], places)} to {_number(s.ci[1], places)} {unit}, {counted(s)}."
    side = _side(s.ci, line, requirement)
    return side, words, "95 % interval" if side != Status.NOT_SHOWN else "the interval lies on both sides"


def _by_bound(
    requirement: Requirement, line: float, s: EvidenceShown, unit: str, places: int
) -> tuple[Status, str, str]:
    bound = s.bound_low if requirement.at == "least" else s.bound_high
    if bound is None:
        if s.ci is not None and _side(s.ci, line, requirement) == Status.NOT_MET:
            return (
                Status.NOT_MET,
                f"The mean alone, {_number(s.value, places)} {unit}, is on the wrong side.",
                "95 % interval",
            )
        of_prints = f" from {s.prints} prints" if s.prints else ""
        return Status.NOT_SHOWN, f"{_pieces(s.n)}{of_prints} give no bound for nine parts in ten.", "too few"
    message = "reach" if requirement.at == "least" else "stay under"
    words = f"Nine parts in ten {message} {_number(bound, places)} {unit}; mean {_number(s.value, places)} {unit}, {counted(s)}."
    if _right(bound, line, requirement):
        return Status.MET, words, "95 % confidence"
    if s.ci is not None and _side(s.ci, line, requirement) == Status.NOT_MET:
        return Status.NOT_MET, words, "95 % interval of the mean"
    return Status.NOT_SHOWN, words, "the bound does not reach it"


def _by_every(
    requirement: Requirement, line: float, s: EvidenceShown, unit: str, places: int
) -> tuple[Status, str, str]:
    failing = [v for v in s.values if not _right(v, line, requirement)]
    if failing:
        worst = min(failing) if requirement.at == "least" else max(failing)
        return (
            Status.NOT_MET,
            f"{len(failing)} of {s.n} on the wrong side, the worst at {_number(worst, places)} {unit}.",
            "seen",
        )
    if s.n < LEAST_EVERY:
        return Status.NOT_SHOWN, f"{_pieces(s.n)}: at least {LEAST_EVERY} are wanted.", "too few"
    worst = min(s.values) if requirement.at == "least" else max(s.values)
    return Status.MET, f"All {s.n}, the worst at {_number(worst, places)} {unit}.", "seen; others may differ"


def _survived(
    requirement: Requirement, line: float, s: EvidenceShown, unit: str, places: int
) -> tuple[Status, str, str]:
    """None broke: what was survived is all that is known."""
    least = min(s.unbroken)
    words = f"None of {s.n} broke; the least reached {_number(least, places)} {unit}."
    if requirement.at == "most":
        return (Status.NOT_MET if least > line else Status.NOT_SHOWN), words, "none broke"
    if least < line:
        return Status.NOT_SHOWN, f"{words} It was not taken as far as is asked.", "none broke"
    if requirement.basis == "bound" and (s.reliability or 0) < SHARE:
        return (
            Status.NOT_SHOWN,
            f"{words} {s.n} survivals show {100 * (s.reliability or 0):.0f} % of parts only.",
            "too few",
        )
    share = (
        ""
        if s.reliability is None
        else f"{100 * s.reliability:.0f} % of parts shown, {100 * CONFIDENCE:.0f} % confidence"
    )
    return Status.MET, words, share or "none broke"


def _need(requirement: Requirement, line: float, used: EvidenceShown | None, how: str, stage: str | None) -> Need:
    """How many specimens would do, if those to come are like those there are."""
    if stage is not None or used is None or used.exact:
        first = 5 if requirement.basis != "bound" else 8
        return Need(words=f"Wants {how}.", specimens=None if stage else first, stage=stage)
    if used.unbroken and not used.values:
        more = math.ceil(math.log(1 - CONFIDENCE) / math.log(SHARE)) if requirement.basis == "bound" else LEAST_EVERY
        return Need(words=f"Wants {how}, taken to {line:g}, {more} specimens.", specimens=more, stage=None)
    n = _enough(requirement, line, used)
    if n is None:
        message = "The mean is too near to the limit for any sensible number of specimens: another material, or another limit."
        return Need(words=message, specimens=None, stage=None)
    wanted = BOUND_PRINTS if requirement.basis == "bound" else MEAN_PRINTS
    over = f" over {wanted} prints" if used.prints is not None and used.prints < wanted else ""
    words = f"Wants {how}: {max(n, wanted)} specimens{over}, if they are like those there are."
    return Need(words=words, specimens=max(n, wanted), stage=None)


def _enough(requirement: Requirement, line: float, used: EvidenceShown) -> int | None:
    from scipy.special import stdtrit

    if used.value is None or not used.sd:
        return 5
    room = (used.value - line if requirement.at == "least" else line - used.value) / used.sd
    for n in range(max(LEAST_EVERY, 2), MOST_SPECIMENS + 1):
        factor = tolerance_factor(n) if requirement.basis == "bound" else float(stdtrit(n - 1, 0.975)) / math.sqrt(n)
        if requirement.basis == "every" or (abs(room) if requirement.basis == "mean" else room) > factor:
            return n
    return None


def _exclude(a: EvidenceShown, b: EvidenceShown) -> bool:
    if a.ci is None or b.ci is None:
        return False
    return a.ci[0] > b.ci[1] or b.ci[0] > a.ci[1]


def _side(ci: Interval, line: float, requirement: Requirement) -> Status:
    low, high = ci
    if requirement.at == "least":
        return Status.MET if low >= line else Status.NOT_MET if high < line else Status.NOT_SHOWN
    return Status.MET if high <= line else Status.NOT_MET if low > line else Status.NOT_SHOWN


def _right(value: float, line: float, requirement: Requirement) -> bool:
    return value >= line if requirement.at == "least" else value <= line


def _doubt(used: EvidenceShown | None) -> float | None:
    if used is None:
        return None
    return used.sd or ((used.ci[1] - used.ci[0]) / 4 if used.ci else None)


def _number(value: float | None, places: int) -> str:
    return "nothing" if value is None else f"{value:.{places}f}"


def counted(s: EvidenceShown) -> str:
    """How many specimens, and out of how many prints where that is known."""
    if s.prints is None:
        return f"n = {s.n}"
    return f"n = {s.n} from {'one print' if s.prints == 1 else f'{s.prints} prints'}"


def _pieces(n: int) -> str:
    return "one specimen" if n == 1 else f"{n} specimens"
