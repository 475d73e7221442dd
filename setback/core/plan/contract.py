"""What a plan is made from, and what it says. All times are whole minutes from the moment the plan begins."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..contract import Contract, Notice

Minute = Annotated[int, Field(ge=0, le=60 * 24 * 60)]
Key = Annotated[str, Field(min_length=1, max_length=80)]
PERSON = "person"
"""Key of the technician, who needs no entry among the resources."""
MOST_TASKS = 400


class Span(Contract):
    """A stretch of time."""

    from_min: Minute
    to_min: Minute

    @model_validator(mode="after")
    def _is_forward(self) -> Span:
        if self.to_min <= self.from_min:
            raise ValueError("the end lies after the beginning")
        return self


class Resource(Contract):
    """A printer, a bath, a place to dry, a curing lamp: what takes so many things at once."""

    key: Key
    name: str = Field("", max_length=120)
    places: int = Field(1, ge=1, le=500, description="How much it takes at once")
    open: list[Span] | None = Field(None, max_length=400, description="When it can be used; always when not given")
    resin: str | None = Field(None, max_length=120, description="Of a printer: what is in its vat as the plan begins")
    change_min: Minute = Field(0, description="Of a printer: minutes of the technician to change its resin")


class PlanTask(Contract):
    """One step of work that is not interrupted once it began."""

    key: Key
    name: str = Field("", max_length=200)
    job: str = Field("", max_length=80, description="What it is a step of")
    minutes: int = Field(ge=1, le=60 * 24 * 14, description="How long it takes its resource")
    resource: Key | None = Field(None, description="What it takes from beginning to end; none for work by hand alone")
    places: int = Field(1, ge=1, le=500, description="How many places of its resource it takes")
    person_min: Minute = Field(0, description="Minutes of the technician, from its beginning")
    attended: bool = Field(False, description="Somebody is there from beginning to end, as a heated print needs")
    resin: str | None = Field(None, max_length=120, description="Of a print: what must be in the vat")
    due_min: Minute | None = Field(None, description="When it is needed by")
    pinned_min: Minute | None = Field(None, description="When it begins, where a person fixed that")
    windows: list[Span] | None = Field(None, max_length=400, description="When it may run; always when not given")
    windows_why: str = Field("", max_length=200, description="Why only then, said where it does not fit")

    @model_validator(mode="after")
    def _person_fits(self) -> PlanTask:
        if self.person_min > self.minutes:
            raise ValueError("the technician's minutes are part of the task's minutes")
        return self


class Wait(Contract):
    """One task after another: at least so long after its end, at most so long."""

    before: Key
    after: Key
    least_min: Minute = 0
    most_min: Minute | None = None


class PlanDayInput(Contract):
    """Tasks, what they need, the technician's hours, and the waits between them."""

    tasks: list[PlanTask] = Field(max_length=MOST_TASKS)
    resources: list[Resource] = Field([], max_length=200)
    waits: list[Wait] = Field([], max_length=2 * MOST_TASKS)
    shifts: list[Span] = Field(min_length=1, max_length=400, description="When the technician works; breaks are gaps")
    horizon_min: int = Field(7 * 24 * 60, ge=1, le=60 * 24 * 60, description="Nothing is planned beyond it")
    seconds: float = Field(10, gt=0, le=60, description="How long the best plan is looked for")
    deterministic: float | None = Field(
        None, gt=0, le=60, description="The solver's own measure of effort instead of seconds: the same plan every time"
    )
    seed: int = Field(1, ge=0, le=2_000_000_000)
    workers: int = Field(0, ge=0, le=16, description="Threads of the solver; 0 for those the machine has")


class PlannedTask(Contract):
    """When a task runs."""

    key: str
    start_min: int
    end_min: int
    change_from_min: int | None = Field(None, description="When its vat is changed for it")
    late_min: int = Field(0, description="Minutes past when it is needed")


class Schedule(Contract):
    """Tasks in order, and what they come to."""

    tasks: list[PlannedTask]
    finish_min: int = Field(description="When the last of them ends")
    lateness_min: int = Field(description="Minutes past their due times, added up")
    interruptions: int = Field(
        description="How often the technician begins to work: stretches with a pause between them"
    )
    changes: int = Field(description="Vats changed to another resin")


class TaskLeftOut(Contract):
    """A task that does not fit."""

    key: str
    why: str
    resource: str | None = Field(description="What is in its way")


class PlanDayResult(Contract):
    """The best plan there was time to look for, beside the order by due date."""

    best: Schedule
    by_due_date: Schedule = Field(description="Each task at its earliest time, those that are needed first in front")
    left_out: list[TaskLeftOut]
    status: Literal["best possible", "best of the time", "by due date"] = Field(
        description="Whether nothing better exists, or the time ran out, or the order by due date stands"
    )
    bound_finish_min: int = Field(description="No plan that is as little late ends before this")
    bound_lateness_min: int = Field(description="No plan is less late than this")
    gap_min: int = Field(description="Minutes by which a plan that is as little late could at most end earlier")
    warnings: list[Notice] = []
