"""The certificate of a signed qualification: as PDF for a customer, as JSON for a machine."""

from __future__ import annotations

import json
from typing import TYPE_CHECKING, Literal

from ...core.contract import Contract
from ...core.methods import PROPERTIES
from ...core.qualify.verdict import Judged
from ...core.qualify.words import asked
from ..bench import Bench
from ..coupon_files import Made
from ..labels import base_address
from .signing import SignedView, signed

if TYPE_CHECKING:
    from ...report.certificate import Line

FORMULAS = "Rules of the verdict: setback/core/qualify/verdict.py, and docs/methods.md"


class FileAsked(Contract):
    format: Literal["pdf", "json"] = "pdf"


def file(bench: Bench, id_or_code: str, given: FileAsked) -> Made:
    """A signed qualification as a file."""
    held = signed(bench, id_or_code)
    if given.format == "json":
        text = json.dumps(held.model_dump(mode="json"), indent=1, ensure_ascii=False)
        return Made(text.encode(), "application/json", f"{held.code}.json", "", 0.0)
    return Made(_pdf(held), "application/pdf", f"{held.code}.pdf", "", 0.0)


def _pdf(held: SignedView) -> bytes:
    from ...report.certificate import Certificate, certificate_pdf

    one, card = held.candidate, held.card
    window = card.window.window
    used = [j for j in one.judged if j.used]
    return certificate_pdf(
        Certificate(
            code=held.code, title=f"{one.material} for {held.brief.name}",
            subject=f"Printed on {one.printer} by set {one.set_code}; brief {held.brief.code}, version {held.brief.version}",
            verdict=held.verdict, state=held.state,
            reasons=list(dict.fromkeys([*one.reasons, *held.why])), scope=held.scope, use=held.brief.use,
            facts=[
                (f"Finish, step {line.name}" if line.name.isdigit() else line.name, f"{line.value} {line.unit}".strip())
                for line in card.lines if line.group != "Settings"
            ],
            settings=[(line.name, f"{line.value} {line.unit}".strip()) for line in card.lines if line.group == "Settings"],
            window_s=(window.lower_s, window.upper_s) if window else None, exposure_s=one.exposure_s,
            lines=[_line(j) for j in one.judged],
            evidence=list(dict.fromkeys(
                f"{j.used.source}: {j.name.lower()}, n = {j.used.n}" + (f"; {j.used.made_under}" if j.used.made_under else "")
                for j in used if j.used
            )),
            left_out=list(dict.fromkeys(f"{o.source}, {j.name.lower()}: {o.why}" for j in one.judged for o in j.left_out)),
            methods=[*_methods(one.judged), ("Exposure", "process window of Setback's core"), ("Verdict", FORMULAS)],
            signed=f"Signed by {held.initials}, {held.signed_at[:16].replace('T', ' ')} UTC, core {held.core_version}",
            seal=held.hash, link=f"{base_address()}/qualify/records/{held.code}",
        )
    )  # fmt: skip


def _methods(judged: list[Judged]) -> list[tuple[str, str]]:
    found = {}
    for j in judged:
        if j.demand.property in PROPERTIES:
            method = PROPERTIES[j.demand.property][0]
            found[method.name] = method.source
    return list(found.items())


def _line(j: Judged) -> Line:
    from ...report.certificate import Line

    used = j.used
    bound = None
    if used is not None:
        bound = used.bound_low if j.demand.at == "least" else used.bound_high
    return Line(
        name=j.name, asked=asked(j.demand, j.unit), kind=j.demand.kind, status=j.status, words=j.words, sure=j.sure,
        unit=j.unit, limit=j.line, at=j.demand.at, values=used.values if used else [],
        unbroken=used.unbroken if used else [], ci=used.ci if used else None, centre=used.value if used else None,
        bound=bound if j.demand.basis == "bound" else None,
    )  # fmt: skip
