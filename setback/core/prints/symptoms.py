"""What is seen on a print that did not come out whole: chosen from drawings, each with the side of light it speaks for."""

from __future__ import annotations

from typing import Literal

from ..contract import Contract
from .outcomes import FailedAs


class Symptom(Contract):
    """One thing to be seen on a print."""

    key: str
    name: str
    side: FailedAs
    """How a part with it failed: too little light, too much, or for another reason until more is known."""
    leaves_pieces: bool = False
    """Whether cured pieces may lie in the vat."""


Key = Literal[
    "parts-in-vat",
    "nothing-on-plate",
    "blobs-on-film",
    "one-side-missing",
    "same-mark",
    "layers-shifted",
    "layers-split",
    "details-grown-shut",
    "details-soft",
    "details-missing",
    "supports-torn",
    "parts-stuck",
    "brittle",
    "tacky",
    "white-patches",
    "warped",
    "thick-first-layers",
    "long-in-z",
]

SYMPTOMS: dict[str, Symptom] = {
    one.key: one
    for one in (
        Symptom(key="parts-in-vat", name="Parts in the vat, supports on the plate", side="under", leaves_pieces=True),
        Symptom(key="nothing-on-plate", name="Nothing on the plate", side="other", leaves_pieces=True),
        Symptom(key="supports-torn", name="Supports torn", side="under", leaves_pieces=True),
        Symptom(key="details-missing", name="Details missing", side="under"),
        Symptom(key="details-soft", name="Details soft", side="under"),
        Symptom(key="details-grown-shut", name="Details grown shut", side="over"),
        Symptom(key="parts-stuck", name="Parts or supports will not come off", side="over"),
        Symptom(key="thick-first-layers", name="First layers thick", side="over"),
        Symptom(key="blobs-on-film", name="Cured patches on the film", side="other", leaves_pieces=True),
        Symptom(key="one-side-missing", name="One side missing", side="other", leaves_pieces=True),
        Symptom(key="same-mark", name="The same mark every time", side="other"),
        Symptom(key="layers-shifted", name="Layers shifted", side="other"),
        Symptom(key="layers-split", name="Layers split", side="other"),
        Symptom(key="brittle", name="Brittle", side="other"),
        Symptom(key="tacky", name="Tacky", side="other"),
        Symptom(key="white-patches", name="White patches", side="other"),
        Symptom(key="warped", name="Warped", side="other"),
        Symptom(key="long-in-z", name="Too long in Z", side="other"),
    )
}


def failed_as(symptoms: list[str]) -> FailedAs | None:
    """How parts with these signs failed; None where signs of too little and of too much light stand together.

    Signs that say nothing of light leave it to those that do.
    """
    sides = {SYMPTOMS[key].side for key in symptoms} - {"other"}
    if len(sides) > 1:
        return None
    return sides.pop() if sides else "other"


def leave_pieces(symptoms: list[str]) -> bool:
    """Whether what is seen means that cured pieces may lie in the vat; also where nothing was seen."""
    return not symptoms or any(SYMPTOMS[key].leaves_pieces for key in symptoms)
