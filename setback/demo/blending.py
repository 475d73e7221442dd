"""Blends at Skerry Point: a recipe and its batch, vats with their ledgers, and a series that found its fraction."""

from __future__ import annotations

from datetime import timedelta

from ..services.blending import batches, recipes, series, vats
from ..services.testing import bench_entry, planning
from .shed import DEMO_NOW, Shed

NAME = "Ironwrack + 18 % Kelpflex"
# Bending strength in MPa and flexes to break, by the share of Kelpflex.
FRACTIONS = (0.06, 0.12, 0.24)


def blending(shed: Shed, ids: dict[str, str]) -> None:
    now = shed.time
    shed.time = DEMO_NOW.replace(day=16, hour=8)
    shed.work_as("IM")
    blend = _recipe(shed, ids, 0.18)
    ids[NAME] = blend.id
    batch = batches.plan(shed.bench, blend.id, batches.BatchInput(volume_ml=300))
    batches.cup(shed.bench, batch.id)
    shed.pass_time(hours=13)
    batches.look(shed.bench, batch.id, batches.CupInput(finding="fine"))
    poured = batches.pour(shed.bench, batch.id, batches.PouredBatchInput(poured_ml=[247.0, 53.0]))
    shed.pass_time(minutes=6)
    batches.stirred(shed.bench, batch.id)
    batches.plan(shed.bench, blend.id, batches.BatchInput(volume_ml=200))
    _vats(shed, ids, poured.bottle_id or "")
    _series(shed, ids)
    shed.time = max(now, shed.time)


def _recipe(shed: Shed, ids: dict[str, str], fraction: float) -> recipes.BlendView:
    parts = [
        recipes.RecipePart(material_id=ids["Ironwrack"], fraction=round(1 - fraction, 6)),
        recipes.RecipePart(material_id=ids["Kelpflex"], fraction=fraction),
    ]
    given = recipes.RecipeInput(name=f"Ironwrack + {100 * fraction:g} % Kelpflex", parts=parts)
    return recipes.add(shed.bench, given)


def _vats(shed: Shed, ids: dict[str, str], batch_bottle: str) -> None:
    """Cormorant filled this week, Sanderling with the batch, Gannet mixed by a hurried top-up."""

    def enter(printer: str, kind: str, volume: float = 0, bottle: str | None = None, **more: str) -> None:
        given = vats.VatInput.model_validate({"kind": kind, "volume_ml": volume, "bottle_id": bottle, **more})
        vats.enter(shed.bench, ids[printer], given)

    shed.time = DEMO_NOW - timedelta(hours=26)
    shed.work_as("RB")
    enter("Gannet", "fill", 120, ids["bottle Hullform"])
    shed.pass_time(hours=2)
    enter("Gannet", "pour", 45, ids["bottle Rinsewell"], contamination="The wrong bottle, in a hurry.")
    shed.time = DEMO_NOW - timedelta(minutes=50)
    enter("Cormorant", "fill", 180, ids["bottle Slate 2"])
    shed.pass_time(minutes=10)
    enter("Sanderling", "fill", 150, batch_bottle)
    shed.pass_time(minutes=10)
    enter("Cormorant", "drain", 30)
    enter("Sanderling", "stir")


def _series(shed: Shed, ids: dict[str, str]) -> None:
    shed.time = DEMO_NOW - timedelta(days=1, hours=2)
    shed.work_as("TO")
    given = series.SeriesInput(
        name="Tougher hinge", base_id=ids["Ironwrack"], additive_id=ids["Kelpflex"], brief_id=ids["brief Tough hinge"],
        max_fraction=0.3,
    )  # fmt: skip
    made = series.add(shed.bench, given)
    for fraction in FRACTIONS:
        made = series.add_fraction(shed.bench, made.id, series.FractionInput(fraction=fraction))
    for method, setup in (
        ("cantilever-bend", {"arm_mm": 50.0}),
        (
            "flexing",
            {"angle_deg": 45.0, "radius_mm": 10.0, "temp_c": 20.0, "soak": "dry", "soak_h": 0.0, "most": 5000.0},
        ),
    ):
        plan = planning.TestPlan(
            method=method, setup=setup, each=4, groups=[planning.GroupInput(material_id=m.material_id) for m in made.members],
            concerns_reason="Printed from depth squares; calibrated once a fraction is chosen.",
        )  # fmt: skip
        test = bench_entry.add(shed.bench, plan)
        shares = {g.number: m.fraction for g, m in zip(test.groups, made.members, strict=True)}
        while test.next_code is not None:
            one = next(s for s in test.specimens if s.code == test.next_code)
            row = _broken(shed, method, shares[one.group])
            shed.pass_time(minutes=2)
            test = bench_entry.read(shed.bench, one.code, bench_entry.SpecimenReadingInput(read=row))


def _broken(shed: Shed, method: str, fraction: float) -> dict[str, object]:
    if method == "flexing":
        return {"cycles": int((90 + 4200 * fraction) * shed.noise.gauss(1, 0.09)), "broke": True}
    stress = (92 - 150 * fraction) * shed.noise.gauss(1, 0.035)
    return {"width_mm": 10.0, "height_mm": 4.0, "force_n": round(stress * 160 / 300, 1), "broke": True}
