"""What to check before a campaign and before each print, with the caution where the danger is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Occasion = Literal["campaign", "print"]


@dataclass(frozen=True)
class Check:
    """One thing to look at; ``looks_like`` says what it is mistaken for when it is missed."""

    key: str
    text: str
    looks_like: str = ""
    caution: str = ""


CHECKS: dict[Occasion, tuple[Check, ...]] = {
    "campaign": (
        Check(
            "protection",
            "Gloves, eye protection, ventilation",
            caution="Uncured resin sensitises skin; respirator as the safety sheet says. A faint smell relaxes none of it.",
        ),
        Check("shaken", "Bottle shaken, vat stirred", "settled pigment looks like a wrong exposure"),
        Check("film", "Film and screen free of dirt and dents, film tight", "a mark repeats in every print"),
        Check("plate", "Plate clean, level, free of burrs"),
        Check("temperature", "Resin and room at a temperature you will note", "cold resin looks like too little light"),
        Check(
            "finish",
            "Wash baths fresh enough, lamp ready",
            caution="Solvent vapour burns: no heater or spark near it. Never look into the lamp.",
        ),
    ),
    "print": (
        Check("protection", "Gloves and eye protection on"),
        Check("vat", "Vat secured, level against its fill line", "a thin vat looks like too little light"),
        Check("stirred", "Resin stirred if it was left standing"),
        Check("plate", "Plate clean and tight"),
        Check("strained", "Resin that goes back was strained"),
    ),
}


def missing(occasion: Occasion, ticked: list[str]) -> list[Check]:
    """What was not ticked."""
    return [check for check in CHECKS[occasion] if check.key not in ticked]
