"""Words that columns hold, as the checks of the schema name them: the same from the database to the edge."""

from __future__ import annotations

from typing import Literal

PrintStatus = Literal["planned", "printed", "cancelled"]
Outcome = Literal["whole", "missing parts", "failed"]
PartOutcome = Literal["whole", "in part", "missing"]
BandSide = Literal["below", "above"]
TempPlace = Literal["room", "chamber air", "resin"]
Way = Literal["separate", "plate", "strip"]
MaterialKind = Literal["resin", "blend", "reference", "dye"]
FeatureState = Literal["formed", "partial", "absent", "lost"]
FeatureKind = Literal["wall", "slot", "tip", "outer", "inner", "z-gap", "vernier", "fit", "taper", "legible"]
PlateSide = Literal["left", "right"]
PlateAxis = Literal["x", "y"]
Verdict = Literal["under", "ok", "over", "mixed"]
LightEngine = Literal["mono screen", "colour screen", "projector", "laser"]
Opacity = Literal["opaque", "tinted", "clear"]
WashClass = Literal["solvent", "water"]
Chemistry = Literal["acrylate", "epoxy-hybrid", "unknown"]
SupportsOff = Literal["before cure", "after cure"]
ConfirmPlace = Literal["centre", "worst place"]
Basis = Literal["volume", "mass"]
Origin = Literal["recipe", "vat", "after the fact"]
CupFinding = Literal["fine", "separated", "gelled"]
LedgerKind = Literal["fill", "pour", "feed", "drain", "empty", "stir", "print"]
"""What a person enters, and the prints that drew from the vat."""
FlowUnit = Literal["mPa·s", "s"]
JobState = Literal["queued", "running", "done", "failed", "cancelled"]
Occasion = Literal["campaign", "print"]
Policy = Literal["size-true", "centre", "support-safe", "hardest-in-tolerance", "own choice"]
CouponKind = Literal["flat", "support", "z-bridge", "grid", "strip", "own"]
MapSource = Literal["light meter", "grid coupon"]
SettingsSource = Literal["maker", "other workshop", "own habit"]
LookVerdict = Literal["under", "right", "over"]
