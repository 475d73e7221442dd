"""A question about a calibration as it travels to another workshop, and the opinion that comes back: sealed, without any setting."""

from __future__ import annotations

import hashlib
import json
from typing import Any, Literal, TypeVar

from pydantic import Field, ValidationError

from ..contract import Contract, Problem

QUESTION, OPINION = "setback-question", "setback-opinion"
FORMAT_VERSION = 1
MOST_COUPONS, LONGEST_PHOTO = 60, 2_000_000

LookWord = Literal["under", "right", "over"]


class AskedSetting(Contract):
    """A setting in words."""

    name: str = Field(max_length=80)
    value: str = Field(max_length=40)
    unit: str = Field("", max_length=20)


class AskedCoupon(Contract):
    """A coupon that is asked about: its exposure, what was read and its photo."""

    code: str = Field(max_length=20)
    kind: str = Field(max_length=40)
    exposure_s: float = Field(gt=0)
    temp_c: float | None = None
    read: str = Field("", max_length=200, description="What was read off it, in words")
    photo: str | None = Field(None, max_length=LONGEST_PHOTO, description="A JPEG in base64")


class Asked(Contract):
    """A question with what it takes to judge it."""

    id: str = Field(max_length=40)
    code: str = Field(max_length=20)
    text: str = Field(min_length=3, max_length=2000)
    about: str = Field(max_length=400, description="Material, printer and layer height in words")
    names: str | None = Field(None, max_length=400, description="Whose it is, where that was chosen")
    settings: list[AskedSetting] = Field([], max_length=60)
    window: str = Field("", max_length=400, description="What the evidence says now, in words")
    coupons: list[AskedCoupon] = Field(max_length=MOST_COUPONS)


class OpinionReading(Contract):
    """What another workshop sees on a coupon."""

    code: str = Field(max_length=20)
    verdict: LookWord | None = None
    note: str = Field("", max_length=500)


class Opined(Contract):
    """An opinion: readings and notes, with whose they are."""

    question_id: str = Field(max_length=40)
    workshop: str = Field(min_length=1, max_length=120)
    initials: str = Field("", max_length=4)
    note: str = Field("", max_length=4000)
    readings: list[OpinionReading] = Field([], max_length=MOST_COUPONS)


Kind = TypeVar("Kind", Asked, Opined)


def sealed(kind: str, content: Contract, made_at: str) -> bytes:
    """A file that travels: JSON with a seal over what it says."""
    content_sealed = content.model_dump(mode="json")
    envelope = {
        "format": kind,
        "format_version": FORMAT_VERSION,
        "made_at": made_at,
        "sha256": _seal(content_sealed),
        "content": content_sealed,
    }
    return json.dumps(envelope, indent=1, ensure_ascii=False).encode()


def opened(kind: str, model: type[Kind], file: bytes) -> tuple[Kind, str]:
    """What a file says, and when it was made.

    Raises
    ------
    Problem
        When it is another kind of file, of a newer Setback, or was changed on the way.
    """
    noun = "question" if kind == QUESTION else "opinion"
    try:
        envelope: dict[str, Any] = json.loads(file)
        format_found, content_sealed = envelope["format"], envelope["content"]
        version, seal, made_at = int(envelope["format_version"]), envelope["sha256"], str(envelope["made_at"])[:30]
    except (ValueError, KeyError, TypeError, RecursionError):
        raise _refused(f"This is no {noun} of Setback: it is another kind of file, or cut short.") from None
    if format_found != kind:
        raise _refused(f"This is no {noun} of Setback.")
    if version > FORMAT_VERSION:
        raise _refused("It was made by a newer Setback. Update Setback first.")
    if _seal(content_sealed) != seal:
        raise _refused("It is not what was sent: its seal does not fit. Nothing was kept.")
    try:
        return model.model_validate(content_sealed), made_at
    except ValidationError as error:
        raise _refused(f"Its {noun} is not as any Setback writes it. Nothing was kept.") from error


def _seal(content_sealed: Any) -> str:
    return hashlib.sha256(json.dumps(content_sealed, sort_keys=True, separators=(",", ":")).encode()).hexdigest()


def _refused(message: str) -> Problem:
    return Problem(message, {"file": message})
