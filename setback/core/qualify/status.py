"""How a requirement and a whole verdict can stand. Colours, marks and headlines follow these, never a written-out word."""

from enum import StrEnum


class Status(StrEnum):
    """Of one requirement."""

    MET = "met"
    NOT_MET = "not met"
    NOT_SHOWN = "not shown"


class Verdict(StrEnum):
    """Over all requirements of a brief; a signed one lapses with its set."""

    QUALIFIED = "qualified"
    CONDITIONAL = "conditional"
    NOT_QUALIFIED = "not qualified"
    LAPSED = "lapsed"
