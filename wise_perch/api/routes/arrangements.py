"""What a coach decides about a trainee: goals, waivers, schools, and the intake with the first tests it leads
to.
"""

from dataclasses import asdict
from datetime import UTC, datetime
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import check_schools, load_arranged, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Moment, Name, NewId, Note, Size
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.core.trade.content import SchoolQuestion
from wise_perch.core.trade.intake import (
    CautionQuestion,
    Experience,
    FirstTests,
    Intake,
    Length,
    Profile,
    awaits_clearance,
    first_tests,
    lengths_of,
    size_problem,
)
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.standing import shut_by_cautions
from wise_perch.core.trainee.stored import Trainee
from wise_perch.store import arrangements, trainees
from wise_perch.store.cases import Arranged
from wise_perch.store.pool import transaction

router = APIRouter(tags=["trainees"])


class Goals(BaseModel):
    """A trainee's goals, the leading one first."""

    goals: list[Annotated[str, Field(max_length=80)]] = Field(max_length=20)


class NewWaiver(BaseModel):
    """A gate to let pass, and why."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    at: Moment
    drill: Annotated[str, Field(max_length=120)]
    reason: Name


class Schools(BaseModel):
    """Where a trainee is taught otherwise than the coach's schools say; a question left out follows the
    coach.
    """

    schools: dict[str, str]


class NewIntake(Size):
    """An intake. Lengths in cm by name, only measured ones; mass in kg. `cautions`: every question with yes
    or no.
    """

    model_config = ConfigDict(extra="forbid")
    id: NewId
    at: Moment
    cautions: dict[str, bool]
    cleared: bool = False
    experience: list[str] = []
    history: Note = ""
    confidence: int | None = Field(default=None, ge=1, le=5)
    kit: list[str] = []


@dataclass(frozen=True, kw_only=True)
class KitItem:
    """Something to train with."""

    item: str
    title: str


@dataclass(frozen=True, kw_only=True)
class GoalChoice:
    """A goal, and whether it is chosen."""

    goal: str
    title: str
    expect: str
    chosen: bool


@dataclass(frozen=True, kw_only=True)
class IntakePage:
    """The intake as it stands: what is asked, what was answered, the body's lengths, and which tests to run
    first.
    """

    trainee: Trainee
    cautions: tuple[CautionQuestion, ...]
    experiences: tuple[Experience, ...]
    kit: tuple[KitItem, ...]
    goals: tuple[GoalChoice, ...]
    profile: Profile | None
    lengths: tuple[Length, ...]
    uncleared: tuple[CautionQuestion, ...]
    first_tests: FirstTests | None


@dataclass(frozen=True, kw_only=True)
class SchoolsPage:
    """The questions on which practitioners disagree, what the coach chose, and what holds for this
    trainee.
    """

    questions: tuple[SchoolQuestion, ...]
    coach: dict[str, str]
    trainee: dict[str, str]


@router.put("/trainees/{id}/goals", status_code=204)
def choose_goals(id: UUID, chosen: Goals, app: TheApp, member: Coaching) -> None:
    """Choose a trainee's goals."""
    with transaction(app.pool, member=member) as db:
        _, syllabus = load_arranged(db, id, load_house(db))
        known = {g.goal for g in syllabus.content.goals}
        if unknown := [g for g in chosen.goals if g not in known]:
            raise Refused(422, f"There is no goal named {unknown[0]}.")
        arrangements.choose_goals(
            db, trainee=id, goals=list(dict.fromkeys(chosen.goals)), moment=datetime.now(UTC)
        )


@router.post("/trainees/{id}/waivers", status_code=201)
def waive(id: UUID, new: NewWaiver, app: TheApp, member: Coaching) -> dict[str, UUID]:
    """Let a gate pass, with a reason; sending the same again changes nothing."""
    with transaction(app.pool, member=member) as db:
        _, syllabus = load_arranged(db, id, load_house(db))
        if new.drill not in syllabus.drills:
            raise Refused(404, "There is no such drill in the syllabus.")
        arrangements.waive(db, id=new.id, trainee=id, drill=new.drill, reason=new.reason, at=new.at)
    return {"id": new.id}


@router.post("/waivers/{id}/take-back", status_code=204)
def take_back(id: UUID, app: TheApp, member: Coaching) -> None:
    """Take a waiver back; it stays on record."""
    with transaction(app.pool, member=member) as db:
        arrangements.take_back(db, id=id, moment=datetime.now(UTC))


@router.get("/trainees/{id}/schools")
def trainee_schools(id: UUID, app: TheApp, member: SignedIn) -> SchoolsPage:
    """By which schools a trainee is taught."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        known, _ = load_arranged(db, id, house)
    return SchoolsPage(
        questions=house.syllabus.content.schools, coach=house.coach.schools, trainee=known.arrangement.schools
    )


@router.put("/trainees/{id}/schools", status_code=204)
def set_schools(id: UUID, wanted: Schools, app: TheApp, member: Coaching) -> None:
    """Set where a trainee is taught otherwise."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        trainees.one(db, id)
        check_schools(house.syllabus, wanted.schools)
        arrangements.set_schools(db, trainee=id, schools=wanted.schools)


@router.get("/trainees/{id}/intake")
def intake_page(id: UUID, app: TheApp, member: SignedIn) -> IntakePage:
    """The intake of a trainee."""
    with transaction(app.pool, member=member) as db:
        known, syllabus = load_arranged(db, id, load_house(db))
    return _intake_page(known, syllabus)


def _intake_page(known: Arranged, syllabus: Syllabus) -> IntakePage:
    asked, content, profile, goals = (
        syllabus.intake,
        syllabus.content,
        known.arrangement.profile,
        known.arrangement.goals,
    )
    wanted = set().union(*(syllabus.below[g] for g in goals if g in syllabus.below))
    stature = profile.stature_cm if profile else None
    return IntakePage(
        trainee=known.trainee,
        cautions=asked.cautions,
        experiences=asked.experiences,
        kit=tuple(KitItem(item=item, title=title) for item, title in content.kit.items()),
        goals=tuple(
            GoalChoice(goal=g.goal, title=g.title, expect=g.expect, chosen=g.goal in goals)
            for g in content.goals
        ),
        profile=profile,
        lengths=(
            lengths_of(asked, stature_cm=stature, measured_cm=profile.lengths_cm)
            if profile and stature
            else ()
        ),
        uncleared=awaits_clearance(asked, profile),
        first_tests=(
            first_tests(
                asked, profile=profile, wanted=wanted, shut=shut_by_cautions(syllabus, profile).keys()
            )
            if profile
            else None
        ),
    )


@router.post("/trainees/{id}/intake", status_code=201)
def add_intake(id: UUID, new: NewIntake, app: TheApp, member: Coaching) -> dict[str, UUID]:
    """Keep an intake, the newest of which counts; sending the same again changes nothing."""
    with transaction(app.pool, member=member) as db:
        trainees.hold(db, id)
        house = load_house(db)
        known, _ = load_arranged(db, id, house)
        before, syllabus = known.arrangement.profile, house.syllabus
        if problem := _intake_problem(new, syllabus.intake, set(syllabus.content.kit)):
            raise Refused(422, problem)
        profile = Profile(
            **{
                **new.model_dump(exclude={"id", "at"}),
                "experience": tuple(new.experience),
                "kit": tuple(new.kit),
                # what was once shown by hand is asked elsewhere, and stays
                "distances_cm": dict(before.distances_cm) if before else {},
            }
        )
        kept = {**asdict(profile), "experience": new.experience, "kit": new.kit}
        arrangements.add_intake(db, id=new.id, trainee=id, at=new.at, profile=kept)
    return {"id": new.id}


def _intake_problem(new: NewIntake, asked: Intake, kit: set[str]) -> str | None:
    if problem := size_problem(
        asked, stature_cm=new.stature_cm, mass_kg=new.mass_kg, lengths_cm=new.lengths_cm
    ):
        return problem
    unanswered = [q.question for q in asked.cautions if q.caution not in new.cautions]
    if unanswered:
        return f"Not answered yet: {' '.join(unanswered)} Yes or no."
    for what, named, known in (
        ("caution", new.cautions, {q.caution for q in asked.cautions}),
        ("experience", new.experience, {e.experience for e in asked.experiences}),
        ("kit", new.kit, kit),
    ):
        if strange := [name for name in named if name not in known]:
            return f"The intake knows no {what} named {strange[0][:80]}."
    return None
