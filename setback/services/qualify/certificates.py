"""The certificate of a signed qualification: as PDF for a customer, as JSON for a machine."""

from __future__ import annotations

import json
from typing import TYPE_CHECKING, Literal

from ...core.contract import Contract
from ...core.qualify.verdict import Judged, counted
from ...core.qualify.words import asked
from ...core.testing.methods import PROPERTIES
from ..files.coupon_files import Made
from ..lab import records
from ..lab_settings import base_address, lab_settings
from ..unit_of_work import UnitOfWork
from .signing import SignedView, signed

if TYPE_CHECKING:
    from ...report.certificate import Line

RULES = (
    "limits are moved by their margin to the safe side. A mean is met when its whole 95 % interval lies on the right side "
    "of the limit; nine parts in ten, when their bound with 95 % confidence does; every specimen, when three or more all do. "
    "Between met and not met it is not shown."
)
"""The verdict's rules as a reader of the paper needs them; in full in :mod:`setback.core.qualify.verdict`."""


class FileAsked(Contract):
    """The format of a certificate."""

    format: Literal["pdf", "json"] = "pdf"


def file(work: UnitOfWork, id_or_code: str, request: FileAsked) -> Made:
    """A signed qualification as a file."""
    signed_view = signed(work, id_or_code)
    if request.format == "json":
        text = json.dumps(signed_view.model_dump(mode="json"), indent=1, ensure_ascii=False)
        return Made(text.encode(), "application/json", f"{signed_view.code}.json", "", 0.0)
    content = records.signed(work, _pdf(work, signed_view))
    return Made(content, "application/pdf", f"{signed_view.code}.pdf", "", 0.0)


def _pdf(work: UnitOfWork, signed_view: SignedView) -> bytes:
    from ...report.certificate import Certificate, certificate_pdf

    lab = lab_settings(work).name
    candidate, card = signed_view.candidate, signed_view.card
    window = card.window.window
    used = [j for j in candidate.judged if j.used]
    return certificate_pdf(
        Certificate(
            code=signed_view.code,
            title=f"{candidate.material} for {signed_view.brief.name}",
            subject=f"Printed on {candidate.printer} by set {candidate.set_code}; brief {signed_view.brief.code}, version {signed_view.brief.version}",
            verdict=signed_view.verdict,
            state=signed_view.state,
            reasons=list(dict.fromkeys([*candidate.reasons, *signed_view.why])),
            scope=signed_view.scope,
            use=signed_view.brief.use,
            facts=[
                (f"Finish, step {line.name}" if line.name.isdigit() else line.name, f"{line.value} {line.unit}".strip())
                for line in card.lines
                if line.group != "Settings"
            ],
            settings=[
                (line.name, f"{line.value} {line.unit}".strip()) for line in card.lines if line.group == "Settings"
            ],
            window_s=(window.lower_s, window.upper_s) if window else None,
            exposure_s=candidate.exposure_s,
            lines=[_line(j) for j in candidate.judged],
            evidence=list(
                dict.fromkeys(
                    f"{j.used.source}: {j.name.lower()}, {counted(j.used)}"
                    + ("; it speaks of this print alone" if j.used.prints == 1 else "")
                    + (f"; {j.used.made_under}" if j.used.made_under else "")
                    for j in used
                    if j.used
                )
            ),
            left_out=list(
                dict.fromkeys(f"{o.source}, {j.name.lower()}: {o.why}" for j in candidate.judged for o in j.left_out)
            ),
            methods=[
                *_methods(candidate.judged),
                ("Exposure", "chance that all requirements hold, from coupons read at several exposures"),
                ("Verdict", RULES),
            ],
            signed=f"Signed by {signed_view.initials}{f' for {lab}' if lab else ''}, {signed_view.signed_at[:16].replace('T', ' ')} UTC, Setback {signed_view.core_version}",
            seal=signed_view.hash,
            link=f"{base_address(work)}/qualify/records/{signed_view.code}",
            journal=records.head_line(work),
            warning=records.warning(work),
        )
    )


def _methods(lines: list[Judged]) -> list[tuple[str, str]]:
    methods = {}
    for j in lines:
        if j.demand.property in PROPERTIES:
            method = PROPERTIES[j.demand.property][0]
            methods[method.name] = method.source
    return list(methods.items())


def _line(j: Judged) -> Line:
    from ...report.certificate import Line

    used = j.used
    bound = None
    if used is not None:
        bound = used.bound_low if j.demand.at == "least" else used.bound_high
    return Line(
        name=j.name,
        asked=asked(j.demand, j.unit),
        kind=j.demand.kind,
        status=j.status,
        words=j.words,
        sure=j.sure,
        unit=j.unit,
        limit=j.line,
        at=j.demand.at,
        values=used.values if used else [],
        unbroken=used.unbroken if used else [],
        ci=used.ci if used else None,
        centre=used.value if used else None,
        bound=bound if j.demand.basis == "bound" else None,
    )
