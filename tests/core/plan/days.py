"""Random days of a shop: campaigns on three printers, two baths, a lamp and one technician."""

import random

from setback.core.plan.contract import PlanDayInput, PlanTask, Resource, Span, Wait

DAY = 24 * 60
PRINTERS = ("Cormorant", "Sanderling", "Gannet")
RESINS = ("Slate 2", "Hullform", "Ironwrack", "Rinsewell")


def shifts(begins_at: int = 9 * 60, days: int = 14) -> list[Span]:
    """From 7:30 to 16:00 with half an hour at noon, two days of the week off; the plan begins at a minute of the first day."""
    spans = []
    for day in range(days):
        if day % 7 in (5, 6):
            continue
        for start, end in ((7 * 60 + 30, 12 * 60), (12 * 60 + 30, 16 * 60)):
            low, high = (max(day * DAY + at - begins_at, 0) for at in (start, end))
            if high > low:
                spans.append(Span(from_min=low, to_min=high))
    return spans


def random_day(seed: int, jobs: int = 25, **changes: object) -> PlanDayInput:
    """Jobs of print, wash, dry, cure and reading; some with due dates, some attended, a few by hand alone."""
    dice = random.Random(seed)
    tasks: list[PlanTask] = []
    waits: list[Wait] = []
    for number in range(jobs):
        job = f"job {number}"
        due = dice.choice([None, None, dice.randrange(4 * 60, 4 * DAY)])
        if dice.random() < 0.15:
            minutes = dice.randrange(5, 60)
            tasks.append(PlanTask(key=job, job=job, minutes=minutes, person_min=minutes, due_min=due))
            continue
        printer = dice.randrange(len(PRINTERS))
        resin = RESINS[printer] if dice.random() < 0.7 else dice.choice(RESINS)
        attended = dice.random() < 0.1
        print_min = dice.randrange(35, 200 if attended else 420)
        read_min = dice.randrange(4, 25)
        steps = [
            ("print", print_min, PRINTERS[printer], 5, 1),
            ("wash", 12, "wash", 10, 1),
            ("dry", dice.choice([20, 30, 60]), "dry", 1, 1),
            ("cure", dice.choice([6, 12, 20]), "lamp", 2, dice.choice([1, 2])),
            ("read", read_min, None, read_min, 1),
        ]
        for step, minutes, resource, person_min, places in steps:
            is_print, is_last = step == "print", step == "read"
            tasks.append(
                PlanTask(
                    key=f"{job} {step}",
                    job=job,
                    minutes=minutes,
                    resource=resource,
                    person_min=person_min,
                    places=places,
                    attended=attended and is_print,
                    resin=resin if is_print else None,
                    due_min=due if is_last else None,
                )
            )
        for before, after, least, most in (
            ("print", "wash", 0, None),
            ("wash", "dry", 0, 10),
            ("dry", "cure", 0, None),
            ("cure", "read", dice.choice([0, 10, 30]), DAY),
        ):
            waits.append(Wait(before=f"{job} {before}", after=f"{job} {after}", least_min=least, most_min=most))
    resources = [
        *(
            Resource(key=printer, resin=dice.choice([resin, None]), change_min=20)
            for printer, resin in zip(PRINTERS, RESINS, strict=False)
        ),
        Resource(key="wash", places=2),
        Resource(key="dry", places=6),
        Resource(key="lamp", places=4),
    ]
    defaults: dict[str, object] = {"shifts": shifts(dice.choice([7 * 60, 9 * 60, 13 * 60])), "horizon_min": 14 * DAY}
    return PlanDayInput.model_validate({"tasks": tasks, "resources": resources, "waits": waits, **defaults, **changes})
