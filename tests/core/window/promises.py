"""What the window promises, counted over labs whose truth is known, and judged with the luck of few labs taken into account."""

from __future__ import annotations

import math
import statistics
from collections import defaultdict
from dataclasses import dataclass, field
from typing import Any

from scipy.stats import binom

from setback.core.window.contract import WindowResult

BY_CHANCE = 0.05
"""A share fails when its faults would come by chance in fewer runs than this at the allowed rate."""
WIDE_PCT = 15.0
"""Windows wider than this must be found, and must not be called impossible."""
ALLOWED = {
    "cover": 0.10,
    "cover size lower, bars wash off": 0.15,
    "offer in tolerance": 0.05,
    "offer in tolerance, hard labs": 0.10,
    "no offer without a window": 0.02,
    "no 'none' on a wide window": 0.03,
    "offered by 16 coupons on a wide window": 0.07,
}
"""Share of faults each promise allows."""
BIAS = 0.03
LEAST_FOUND = {
    "nominal": 0.8,
    "walls lower": 0.6,
    "slots upper": 0.6,
    "z upper": 0.6,
    "size lower": 0.4,
    "tips lower": 0.15,
    "size upper": 0.15,
}
"""Share of labs with that lane in which the end must be found: ends may not be hidden."""


@dataclass
class Promises:
    """Counts of kept and broken promises by name."""

    kept: dict[str, list[bool]] = field(default_factory=lambda: defaultdict(list))
    off: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    found: dict[str, list[bool]] = field(default_factory=lambda: defaultdict(list))
    coupons: list[int] = field(default_factory=list)

    def ends(self, result: WindowResult, lanes: dict[str, dict[str, float | None]], nominal_s: float | None) -> None:
        """Hold the ends of a sound lab against the truth."""
        for name, truth in lanes.items():
            lane = result.lanes.get(name)
            for side in ("lower", "upper"):
                true = truth.get(f"{side}_s")
                if lane is None or true is None:
                    continue
                interval, median = getattr(lane, f"{side}_ci_s"), getattr(lane, f"{side}_s")
                is_found = getattr(lane.found, side) and interval is not None
                self.found[f"{name} {side}"].append(is_found)
                if is_found:
                    self.kept[f"cover {name} {side}"].append(interval[0] <= true <= interval[1])
                    self.off[f"{name} {side}"].append(math.log(median / true))
        if nominal_s is not None and "size" in lanes:
            interval = result.size_true_ci_s
            self.found["nominal"].append(interval is not None)
            if interval is not None and result.size_true_s is not None:
                self.kept["cover nominal"].append(interval[0] <= nominal_s <= interval[1])
                self.off["nominal"].append(math.log(result.size_true_s / nominal_s))

    def decision(self, result: WindowResult, window: dict[str, Any], hard: bool = False) -> None:
        """Hold what was decided against the true window."""
        chosen = result.policies["centre"] if result.decision == "offer" and result.policies else None
        if chosen is not None:
            name = "offer in tolerance, hard labs" if hard else "offer in tolerance"
            self.kept[name].append(bool(window["exists"] and window["lower_s"] <= chosen <= window["upper_s"]))
        if not window["exists"]:
            self.kept["no offer without a window"].append(chosen is None)
        elif window["latitude_pct"] > WIDE_PCT and not hard:
            self.kept["no 'none' on a wide window"].append(result.decision != "none")

    def broken(self) -> list[str]:
        """Promises that are not kept, in words."""
        said = []
        for name, kept in self.kept.items():
            allowed = ALLOWED.get(name, ALLOWED["cover"] if name.startswith("cover") else None)
            assert allowed is not None, name
            faults = kept.count(False)
            if faults and float(binom.sf(faults - 1, len(kept), allowed)) < BY_CHANCE:
                said.append(f"{name}: {faults} of {len(kept)} broken, {100 * allowed:g} % allowed")
        for name, off in self.off.items():
            # The median of few labs strays by itself: 1.25 standard errors of a mean, two-sided 5 %.
            luck = 1.96 * 1.25 * statistics.pstdev(off) / math.sqrt(len(off)) if len(off) > 1 else math.inf
            if abs(statistics.median(off)) > BIAS + luck:
                said.append(f"{name}: biased by {100 * statistics.median(off):+.1f} %")
        for name, found in self.found.items():
            wanted = LEAST_FOUND.get(name)
            if wanted is not None and float(binom.cdf(found.count(True), len(found), wanted)) < BY_CHANCE:
                said.append(f"{name}: found in {found.count(True)} of {len(found)} labs")
        return said

    def table(self) -> str:
        """All counts as lines of a table in Markdown."""
        lines = ["| promise | kept | of | median bias | found |", "|---|---|---|---|---|"]
        for name in sorted(self.kept):
            kept, end = self.kept[name], name.removeprefix("cover ")
            bias = (
                f"{100 * statistics.median(self.off[end]):+.1f} %"
                if name.startswith("cover") and self.off.get(end)
                else ""
            )
            found = self.found.get(end)
            share = f"{100 * found.count(True) / len(found):.0f} %" if name.startswith("cover") and found else ""
            lines.append(f"| {name} | {100 * kept.count(True) / len(kept):.0f} % | {len(kept)} | {bias} | {share} |")
        if self.coupons:
            lines.append(
                f"| coupons of a campaign, mean | {statistics.mean(self.coupons):.1f} | {len(self.coupons)} | | |"
            )
        return "\n".join(lines)
