"""Shops drawn at random, with hidden truths of their own: how often do first estimates hold?"""

from __future__ import annotations

import math
import random
from typing import Any

from setback.core.calibrate.start_exposure import StartExposureInput, start_exposure

ENGINES = ("mono", "mono", "mono", "colour", "projector")


def seeded_lab(seed: int) -> list[dict[str, Any]]:
    """What one shop has calibrated: pairs, layer heights, temperatures, each with what it came to.

    Pairs and residuals spread a little more than the model takes them to, and depth of cure is known for some: a shop is
    not the model.
    """
    chance = random.Random(f"lab {seed}")
    middle = chance.gauss(math.log(2.5), 0.5)
    lines = {f"line {i}": chance.gauss(0, 0.4) for i in range(chance.randint(2, 4))}
    materials = []
    for i in range(chance.randint(4, 9)):
        line = chance.choice(sorted(lines))
        materials.append((f"resin {i}", line, lines[line] + chance.gauss(0, 0.25), chance.uniform(0.1, 0.35)))
    printers = []
    for i in range(chance.randint(2, 5)):
        engine = chance.choice(ENGINES)
        shift = {"mono": 0.0, "colour": math.log(3.5), "projector": -0.2}[engine]
        printers.append((f"printer {i}", engine, shift + chance.gauss(0, 0.35)))
    known = []
    for material, line, effect, depth in materials:
        for printer, engine, light in printers:
            if chance.random() > 0.55:
                continue
            pair = chance.gauss(0, 0.14)
            for height in (50, 100) if chance.random() < 0.25 else (50,):
                temp = round(chance.gauss(24, 2), 1)
                ln = middle + effect + light + pair + (height - 50) / (1000 * depth) - 0.025 * (temp - 25)
                known.append(
                    {
                        "material": material,
                        "line": line,
                        "printer": printer,
                        "engine": engine,
                        "layer_height_um": height,
                        "temp_c": temp,
                        "penetration_depth_mm": round(depth, 3) if chance.random() < 0.5 else None,
                        "exposure_s": math.exp(ln + chance.gauss(0, 0.09)),
                    }
                )
    return known


def inside(known: list[dict[str, Any]]) -> tuple[int, int]:
    """Leave each calibration out in turn: how many results lie inside their 80 % interval, and of how many."""
    hits = 0
    for i, left_out in enumerate(known):
        target = {name: value for name, value in left_out.items() if name != "exposure_s"}
        given = {"known": known[:i] + known[i + 1 :], "target": target}
        low, high = start_exposure(StartExposureInput.model_validate(given)).interval_s
        hits += low <= left_out["exposure_s"] <= high
    return hits, len(known)


def pooled(labs: int) -> float:
    """Share inside over many labs."""
    counts = [inside(seeded_lab(seed)) for seed in range(labs)]
    return sum(hits for hits, _ in counts) / sum(of for _, of in counts)
