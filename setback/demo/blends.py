"""Blends at Skerry Point: a recipe and its batch, vats with their ledgers, and a series that found its fraction."""

from __future__ import annotations

from datetime import timedelta

from ..services.blends import batches, recipes, series, vats
from ..services.testing import entry as test_entry
from ..services.testing import planning
from .shed import Shed

NAME = "Ironwrack + 18 % Kelpflex"
# Bending strength in MPa and flexes to break, by the share of Kelpflex.
FRACTIONS = (0.06, 0.12, 0.24)


def blending(lab: Shed, ids: dict[str, str]) -> None:
    now = lab.time
    lab.time = lab.on_day(-5, 8, 40)
    lab.work_as("IM")
    blend = _recipe(lab, ids, 0.18)
    ids[NAME] = blend.id
    batch = batches.plan(lab.work, blend.id, batches.BatchInput(volume_ml=300))
    batches.cup(lab.work, batch.id)
    lab.pass_time(hours=13)
    batches.look(lab.work, batch.id, batches.CupInput(finding="fine"))
    poured = batches.pour(lab.work, batch.id, batches.PouredBatchInput(poured_ml=[247.0, 53.0]))
    lab.pass_time(minutes=6)
    batches.stirred(lab.work, batch.id)
    batches.plan(lab.work, blend.id, batches.BatchInput(volume_ml=200))
    _vats(lab, ids, poured.bottle_id or "")
    _series(lab, ids)
    lab.time = max(now, lab.time)


def _recipe(lab: Shed, ids: dict[str, str], fraction: float) -> recipes.BlendView:
    parts = [
        recipes.RecipePart(material_id=ids["Ironwrack"], fraction=round(1 - fraction, 6)),
        recipes.RecipePart(material_id=ids["Kelpflex"], fraction=fraction),
    ]
    recipe = recipes.RecipeInput(name=f"Ironwrack + {100 * fraction:g} % Kelpflex", parts=parts)
    return recipes.add(lab.work, recipe)


def _vats(lab: Shed, ids: dict[str, str], batch_bottle: str) -> None:
    """Cormorant filled this week, Sanderling with the batch, Gannet mixed by a hurried top-up."""

    def enter(printer: str, kind: str, volume: float = 0, bottle: str | None = None, **more: str) -> None:
        entry = vats.VatInput.model_validate({"kind": kind, "volume_ml": volume, "bottle_id": bottle, **more})
        vats.enter(lab.work, ids[printer], entry)

    lab.time = lab.now - timedelta(hours=26)
    lab.work_as("RB")
    enter("Gannet", "fill", 120, ids["bottle Hullform"])
    lab.pass_time(hours=2)
    enter("Gannet", "pour", 45, ids["bottle Rinsewell"], contamination="The wrong bottle, in a hurry.")
    lab.time = lab.now - timedelta(minutes=50)
    enter("Cormorant", "fill", 180, ids["bottle Slate 2"])
    lab.pass_time(minutes=10)
    enter("Sanderling", "fill", 150, batch_bottle)
    lab.pass_time(minutes=10)
    enter("Cormorant", "drain", 30)
    enter("Sanderling", "stir")


def _series(lab: Shed, ids: dict[str, str]) -> None:
    lab.time = lab.now - timedelta(days=1, hours=2)
    lab.work_as("TO")
    request = series.SeriesInput(
        name="Tougher hinge",
        base_id=ids["Ironwrack"],
        additive_id=ids["Kelpflex"],
        brief_id=ids["brief Tough hinge"],
        max_fraction=0.3,
    )
    series_view = series.add(lab.work, request)
    for fraction in FRACTIONS:
        series_view = series.add_fraction(lab.work, series_view.id, series.FractionInput(fraction=fraction))
    for method, setup in (
        ("cantilever-bend", {"arm_mm": 50.0}),
        (
            "flexing",
            {"angle_deg": 45.0, "radius_mm": 10.0, "temp_c": 20.0, "soak": "dry", "soak_h": 0.0, "most": 5000.0},
        ),
    ):
        plan = planning.TestPlan(
            method=method,
            setup=setup,
            each=4,
            groups=[planning.GroupInput(material_id=m.material_id) for m in series_view.members],
            concerns_reason="Printed from depth squares; calibrated once a fraction is chosen.",
        )
        test = test_entry.add(lab.work, plan)
        shares = {g.number: m.fraction for g, m in zip(test.groups, series_view.members, strict=True)}
        while test.next_code is not None:
            specimen = next(s for s in test.specimens if s.code == test.next_code)
            row = _broken(lab, method, shares[specimen.group])
            lab.pass_time(minutes=2)
            test = test_entry.read(lab.work, specimen.code, test_entry.SpecimenReadingInput(read=row))


def _broken(lab: Shed, method: str, fraction: float) -> dict[str, object]:
    if method == "flexing":
        return {"cycles": int((90 + 4200 * fraction) * lab.noise.gauss(1, 0.09)), "broke": True}
    stress = (92 - 150 * fraction) * lab.noise.gauss(1, 0.035)
    return {"width_mm": 10.0, "height_mm": 4.0, "force_n": round(stress * 160 / 300, 1), "broke": True}
