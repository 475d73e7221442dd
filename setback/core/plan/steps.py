"""The steps of the work: from a print to what is read on it, with the waits between them."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Literal

from pydantic import Field

from ..contract import Contract
from .contract import PlanTask, Wait

StepKind = Literal["print", "wash", "dry", "cure", "read", "warm", "vat", "blend", "own"]
READ_WITHIN_MIN = 24 * 60
"""A coupon is read within a day of its cure: it goes on shrinking."""
WASH_TO_DRY_MIN = 10
"""What is washed is not left lying wet."""
PLATE_SIGN = "+"
"""Between the keys of prints that share a plate."""


class Handling(Contract):
    """Minutes of a person, for what machines do not do."""

    start_min: int = Field(5, ge=1, le=120, description="Starting a print: file, settings, vat, first layers watched")
    wash_min: int = Field(4, ge=0, le=120, description="Off the plate, into the bath and over into the next")
    cure_min: int = Field(2, ge=0, le=60, description="Under the lamp")
    change_min: int = Field(25, ge=1, le=480, description="Changing the resin of a printer, with cleaning its vat")
    coupon_min: int = Field(5, ge=1, le=240, description="Reading one coupon")
    specimen_min: int = Field(4, ge=1, le=240, description="Breaking or measuring one specimen")


class Route(Contract):
    """Minutes of a finish route, and where it is done."""

    wash_fluid: str
    lamp: str
    wash_min: float
    dry_min: float
    air_min: float
    cure_min: float


class PrintJob(Contract):
    """A print with what follows it."""

    key: str
    name: str
    job: str
    printer: str = Field(description="Key of its printer")
    resin: str | None
    minutes: float
    route: Route | None = Field(description="How it is finished; none where nobody said")
    readings: int = Field(ge=0, description="Coupons or specimens to read on it")
    reading_min: float = Field(description="Minutes for each")
    rest_before_reading_min: int = Field(0, description="At least so long after the cure")
    attended: bool = False
    warm_min: int = Field(0, description="Minutes the printer is warmed before, with somebody there")
    due_min: int | None = None
    to_do: list[StepKind] = Field(description="Steps that are still to be done")


def steps_of_plate(print_jobs: list[PrintJob], handling: Handling) -> tuple[list[PlanTask], list[Wait]]:
    """Tasks and waits of prints that share a plate: printed, washed, dried and cured as one, then read each for itself.

    Parameters
    ----------
    print_jobs : list of PrintJob
        Prints of one printer, resin and finish route; the common steps are named ``<print>+<print> <step>``.
    handling : Handling
        This lab's minutes of a person.
    """
    if len(print_jobs) == 1:
        return steps_of(print_jobs[0], handling)
    first = print_jobs[0]
    plate = first.model_copy(
        update={
            "key": PLATE_SIGN.join(print_job.key for print_job in print_jobs),
            "name": " and ".join(print_job.name for print_job in print_jobs),
            # A layer is exposed whole, so the highest piece decides.
            "minutes": max(print_job.minutes for print_job in print_jobs),
            "attended": any(print_job.attended for print_job in print_jobs),
            "warm_min": max(print_job.warm_min for print_job in print_jobs),
            "readings": 0,
            "to_do": [step for step in first.to_do if step != "read"],
        }
    )
    tasks, waits = steps_of(plate, handling)
    last = tasks[-1] if tasks else None
    for print_job in print_jobs:
        reading, _ = steps_of(print_job.model_copy(update={"to_do": ["read"]}), handling)
        tasks += reading
        waits += [_wait(last, read, print_job) for read in reading if last is not None]
    return tasks, waits


def prints_of(key: str) -> tuple[list[str], str]:
    """The prints a task is of, and its step."""
    prints, step = key.rsplit(" ", 1)
    return prints.split(PLATE_SIGN), step


def steps_of(print_job: PrintJob, handling: Handling) -> tuple[list[PlanTask], list[Wait]]:
    """Tasks and waits of a print that are still to be done, each named ``<print> <step>``.

    Parameters
    ----------
    print_job : PrintJob
        The print; its ``to_do`` says which steps are not done yet.
    handling : Handling
        This lab's minutes of a person.
    """
    tasks = [task for task in _all_steps(print_job, handling) if prints_of(task.key)[1] in print_job.to_do]
    waits = [_wait(before, after, print_job) for before, after in pairwise(tasks)]
    if tasks and print_job.due_min is not None:
        tasks[-1] = tasks[-1].model_copy(update={"due_min": print_job.due_min})
    return tasks, waits


def _wait(before: PlanTask, after: PlanTask, print_job: PrintJob) -> Wait:
    """How long a step waits for the one before it."""
    step, following = prints_of(before.key)[1], prints_of(after.key)[1]
    least, most = 0, None
    if step == "warm":
        most = 0
    elif (step, following) == ("wash", "dry"):
        most = WASH_TO_DRY_MIN
    elif step == "cure":
        least = max(print_job.rest_before_reading_min, math.ceil(print_job.route.air_min if print_job.route else 0))
        most = max(READ_WITHIN_MIN, least + READ_WITHIN_MIN) if print_job.readings else None
    return Wait(before=before.key, after=after.key, least_min=least, most_min=most)


def _all_steps(print_job: PrintJob, handling: Handling) -> list[PlanTask]:
    route, job = print_job.route, print_job.job
    minutes = max(math.ceil(print_job.minutes), 1)
    tasks = []
    if print_job.warm_min:
        tasks.append(
            PlanTask(
                key=f"{print_job.key} warm",
                name=f"warm {print_job.name}",
                job=job,
                minutes=print_job.warm_min,
                resource=print_job.printer,
                person_min=1,
                attended=True,
            )
        )
    tasks.append(
        PlanTask(
            key=f"{print_job.key} print",
            name=f"print {print_job.name}",
            job=job,
            minutes=max(minutes, handling.start_min),
            resource=print_job.printer,
            person_min=handling.start_min,
            resin=print_job.resin,
            attended=print_job.attended,
        )
    )
    if route is not None:
        tasks += _finish(print_job, route, handling)
    if print_job.readings:
        reading = max(math.ceil(print_job.readings * print_job.reading_min), 1)
        name = f"read {print_job.name}"
        tasks.append(PlanTask(key=f"{print_job.key} read", name=name, job=job, minutes=reading, person_min=reading))
    return tasks


def _finish(print_job: PrintJob, route: Route, handling: Handling) -> list[PlanTask]:
    tasks = []
    washed = math.ceil(route.wash_min) + handling.wash_min
    for step, minutes, resource, person_min in (
        ("wash", washed, wash_key(route.wash_fluid), washed),
        ("dry", math.ceil(route.dry_min), "dry", 0),
        ("cure", math.ceil(route.cure_min) + handling.cure_min, lamp_key(route.lamp), handling.cure_min),
    ):
        if minutes > 0:
            tasks.append(
                PlanTask(
                    key=f"{print_job.key} {step}",
                    name=f"{step} {print_job.name}",
                    job=print_job.job,
                    minutes=minutes,
                    resource=resource,
                    person_min=person_min,
                )
            )
    return tasks


def wash_key(fluid: str) -> str:
    """Key of the baths of a fluid."""
    return f"wash {fluid.strip().casefold()}"


def lamp_key(lamp: str) -> str:
    """Key of a curing lamp."""
    return f"lamp {lamp.strip().casefold()}"
