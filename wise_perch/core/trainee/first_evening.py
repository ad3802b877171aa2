"""The first evening of an empty hall: what to do first, and next, until the first week stands."""

from collections.abc import Collection
from dataclasses import dataclass
from typing import Literal
from uuid import UUID

Step = Literal["kit", "trainee", "intake", "test", "week"]
ALL_LEFT = "*"
"""Stands for every step: the hall was there before, or its owner wants no guide."""


@dataclass(frozen=True, slots=True, kw_only=True)
class HallSoFar:
    """What a hall has so far. `trainee`: who to go on with, the first added, the sample apart."""

    kit: bool
    trainee: UUID | None
    intake: bool
    tested: bool
    planned: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class EveningStep:
    """One step. `left`: it was put off. `to`: the page where it is done, empty where another comes first."""

    step: Step
    title: str
    words: str
    minutes: int
    done: bool
    left: bool
    to: str


@dataclass(frozen=True, slots=True, kw_only=True)
class EveningGuide:
    """The steps as they stand, in their order. `said`: how long it is from here; `next_step`: where to go on,
    None where nothing is open.
    """

    steps: tuple[EveningStep, ...]
    said: str
    next_step: Step | None


def guide(so_far: HallSoFar, *, left: Collection[str], test_minutes: int) -> EveningGuide:
    """What an empty hall does first, and next. `test_minutes`: what the shortest test of its syllabus takes;
    the other minutes are ours, nobody measured them.
    """
    steps = _steps(so_far, left=left, test_minutes=test_minutes)
    open_steps = [step for step in steps if not step.done and not step.left]
    minutes = sum(step.minutes for step in open_steps)
    return EveningGuide(
        steps=steps,
        said=f"About {minutes} minutes from here." if open_steps else "",
        next_step=next((step.step for step in open_steps if step.to), None),
    )


def _steps(so_far: HallSoFar, *, left: Collection[str], test_minutes: int) -> tuple[EveningStep, ...]:
    who = f"/trainees/{so_far.trainee}" if so_far.trainee else ""
    steps: tuple[tuple[Step, str, str, int, bool, str], ...] = (
        (
            "kit",
            "Tick the kit",
            "Pads, plates, blocks and boxes: a height is then said as a stack of yours.",
            2,
            so_far.kit,
            "/kit",
        ),
        ("trainee", "Add a trainee", "A name is enough.", 1, so_far.trainee is not None, "/?add"),
        (
            "intake",
            "Ask what the intake asks",
            "Cautions before anybody goes upside down, height, goals.",
            4,
            so_far.intake,
            f"{who}/intake" if who else "",
        ),
        (
            "test",
            "Run a first test",
            f"What the intake names first. The shortest takes {test_minutes} min, ten free tries more.",
            test_minutes,
            so_far.tested,
            f"{who}/bench" if who else "",
        ),
        (
            "week",
            "Plan the first week",
            "From what was asked and tested, with a reason beside each part.",
            2,
            so_far.planned,
            f"{who}/plan" if who else "",
        ),
    )
    return tuple(
        EveningStep(
            step=step,
            title=title,
            words=words,
            minutes=minutes,
            done=done,
            left=step in left or ALL_LEFT in left,
            to=to,
        )
        for step, title, words, minutes, done, to in steps
    )
