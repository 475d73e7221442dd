"""Failed prints that were asked about: the covers of the cold months, and one that is still open."""

from __future__ import annotations

from datetime import datetime, timedelta

from ..services.prints import print_log
from ..services.trace import trace
from .shed import Shed

MOST = 200
# Of the failed covers, oldest first: answers, and the cause that was found.
TOLD: tuple[tuple[dict[str, str], str], ...] = (
    ({"read-resin": "cold"}, "cold-resin"),
    ({"read-resin": "cold"}, "cold-resin"),
    ({"read-resin": "right", "paper-corners": "off"}, "plate-level"),
    ({"read-resin": "cold"}, "cold-resin"),
)


def traces(lab: Shed, ids: dict[str, str]) -> None:
    """RB asks why covers failed; the newest of them is open."""
    now = lab.time
    filters = print_log.LogFilters(printer=ids["Gannet"], failed=True, parts=True)
    failed = [row for row in print_log.logged(lab.work, filters, "", MOST).items if row.printed_at]
    lab.work_as("RB")
    for row, (answers, cause) in zip(reversed(failed), TOLD, strict=False):
        lab.time = datetime.fromisoformat(str(row.printed_at)) + timedelta(hours=1)
        begun = trace.open_trace(lab.work, trace.OpenInput(print_code=row.code, symptoms=["nothing-on-plate"]))
        for check, answer in answers.items():
            lab.pass_time(minutes=4)
            trace.answer_check(lab.work, begun.id, trace.AnswerInput(check=check, answer=answer))
        trace.confirm_cause(lab.work, begun.id, trace.CauseInput(cause=cause))
    lab.time = lab.now - timedelta(minutes=40)
    trace.open_trace(
        lab.work, trace.OpenInput(print_code=failed[0].code, symptoms=["nothing-on-plate", "blobs-on-film"])
    )
    lab.time = now
