"""What a coach decides beside evidence: goals, waivers, intakes, schools and versions of the syllabus, each
kept once and apart.
"""

from datetime import UTC, date, datetime, timedelta
from uuid import UUID

import pytest
from uuid_utils.compat import uuid7

from tests.conftest import add_coach, add_trainee
from wise_perch.api.cases import load_house
from wise_perch.api.today import refresh_briefs
from wise_perch.core.trainee.hall import Member
from wise_perch.store import arrangements, cases, coaches, syllabi
from wise_perch.store.errors import Conflict, NotFound
from wise_perch.store.pool import Pool, transaction
from wise_perch.syllabus.shipped import our_text

NOW = datetime(2026, 5, 31, 18, tzinfo=UTC)


@pytest.fixture
def known(pool: Pool) -> tuple[UUID, UUID]:
    """A coach with one trainee."""
    coach = add_coach(pool)
    return coach, add_trainee(pool, coach)


@pytest.mark.parametrize(
    "what",
    [
        "goals",
        "waiver",
        "waiver taken back",
        "intake",
        "schools of the trainee",
        "schools of the coach",
        "syllabus",
    ],
)
def test_what_a_coach_decides_makes_a_brief_old(pool: Pool, known: tuple[UUID, UUID], what: str) -> None:
    """A goal, a waiver, an intake, a school or a syllabus changes a judgement, so that it is made again,
    once.
    """
    coach, trainee = known
    id, day = uuid7(), date(2026, 5, 31)
    with transaction(pool, member=coach) as db:
        arrangements.waive(db, id=id, trainee=trainee, drill="roll-out", reason="seen", at=NOW)
    assert _made(pool, coach, day) == 1
    assert _made(pool, coach, day) == 0
    with transaction(pool, member=coach) as db:
        match what:
            case "goals":
                arrangements.choose_goals(db, trainee=trainee, goals=["hand-walk"], moment=NOW)
            case "waiver":
                arrangements.waive(db, id=uuid7(), trainee=trainee, drill="pike-hold", reason="seen", at=NOW)
            case "waiver taken back":
                arrangements.take_back(db, id=id, moment=NOW)
            case "intake":
                arrangements.add_intake(
                    db,
                    id=uuid7(),
                    trainee=trainee,
                    at=NOW,
                    profile={"lengths_cm": {}, "cautions": {"eyes": True}},
                )
            case "schools of the trainee":
                arrangements.set_schools(db, trainee=trainee, schools={"kip": "after-gates"})
            case "schools of the coach":
                coaches.change_settings(db, schools={"kip": "after-gates"})
            case _:
                text = our_text().replace("title: Pike hold", "title: Pike")
                syllabi.add(db, id=uuid7(), at=NOW + timedelta(days=1), text=text, note="")
    assert _made(pool, coach, day) == 1
    assert _made(pool, coach, day) == 0


def _made(pool: Pool, coach: Member, day: date) -> int:
    with transaction(pool, member=coach) as db:
        house = load_house(db)
    return refresh_briefs(pool, house, on=day)


# --- arrangements -------------------------------------------------------------------------------------------


def test_an_arrangement_holds_what_stands(pool: Pool, known: tuple[UUID, UUID]) -> None:
    """Goals in their order, waivers not taken back, the newest intake, schools; days on the coach's
    calendar.
    """
    coach, trainee = known
    late = datetime(2026, 5, 31, 23, 30, tzinfo=UTC)
    with transaction(pool, member=coach) as db:
        arrangements.choose_goals(db, trainee=trainee, goals=["hand-walk", "freestanding-hold"], moment=NOW)
        arrangements.waive(db, id=uuid7(), trainee=trainee, drill="pike-hold", reason="seen", at=late)
        arrangements.add_intake(
            db,
            id=uuid7(),
            trainee=trainee,
            at=late,
            profile={"stature_cm": 171.0, "lengths_cm": {}, "cautions": {}},
        )
        arrangements.set_schools(db, trainee=trainee, schools={"kip": "after-gates"})
        found = cases.arrangements(db, [trainee], time_zone="Europe/Oslo")[trainee].arrangement
    assert found.goals == ("hand-walk", "freestanding-hold")
    assert {w.drill: w.day for w in found.waivers}["pike-hold"] == date(2026, 6, 1)
    assert found.profile
    assert (found.profile.stature_cm, found.schools) == (171.0, {"kip": "after-gates"})


def test_sending_a_decision_again_changes_nothing(pool: Pool, known: tuple[UUID, UUID]) -> None:
    """The same id with the same content is kept once; with another content it is a conflict."""
    coach, trainee = known
    waiver, intake, version = uuid7(), uuid7(), uuid7()
    profile = {"lengths_cm": {}, "cautions": {}}
    for again in (False, True):
        with transaction(pool, member=coach) as db:
            arrangements.waive(db, id=waiver, trainee=trainee, drill="pike-hold", reason="seen", at=NOW)
            arrangements.add_intake(db, id=intake, trainee=trainee, at=NOW, profile=profile)
            syllabi.add(db, id=version, at=NOW, text=our_text(), note="")
            assert len(syllabi.every(db)) == 1, again
    for call in (
        lambda db: arrangements.waive(db, id=waiver, trainee=trainee, drill="hang", reason="seen", at=NOW),
        lambda db: arrangements.add_intake(
            db, id=intake, trainee=trainee, at=NOW, profile={**profile, "history": "none"}
        ),
        lambda db: syllabi.add(db, id=version, at=NOW, text="", note=""),
    ):
        with pytest.raises(Conflict), transaction(pool, member=coach) as db:
            call(db)


def test_another_coachs_decisions_cannot_be_touched(pool: Pool, known: tuple[UUID, UUID]) -> None:
    """B can neither take A's waiver back, nor see A's versions, nor decide about A's trainee."""
    coach, trainee = known
    id = uuid7()
    with transaction(pool, member=coach) as db:
        arrangements.waive(db, id=id, trainee=trainee, drill="pike-hold", reason="seen", at=NOW)
        version = uuid7()
        syllabi.add(db, id=version, at=NOW, text="", note="ours")
    b = add_coach(pool, "b@hall.example")
    with transaction(pool, member=b) as db:
        assert (
            cases.arrangements(db, [trainee], time_zone="UTC"),
            syllabi.every(db),
            load_house(db).text,
        ) == ({}, [], "")
        with pytest.raises(NotFound):
            arrangements.take_back(db, id=id, moment=NOW)
        with pytest.raises(NotFound):
            syllabi.one(db, version)
    for call in (
        lambda db: arrangements.choose_goals(db, trainee=trainee, goals=["hand-walk"], moment=NOW),
        lambda db: arrangements.waive(db, id=uuid7(), trainee=trainee, drill="hang", reason="mine", at=NOW),
        lambda db: arrangements.add_intake(db, id=uuid7(), trainee=trainee, at=NOW, profile={}),
    ):
        with pytest.raises(NotFound), transaction(pool, member=b) as db:
            call(db)
