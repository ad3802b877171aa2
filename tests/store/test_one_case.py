"""The door from files and the server make the same case: the same standing and the same week, compared as
JSON.
"""

import json
from datetime import UTC, date, datetime, time, timedelta
from pathlib import Path
from random import Random
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

import pytest
from psycopg import Connection
from uuid_utils.compat import uuid7

from tests.conftest import add_coach
from tests.core.planning import SYLLABUS, TODAY, advanced, somebody
from wise_perch.api.cases import House, judge_trainee, load_house
from wise_perch.api.routes.files import export_lines
from wise_perch.core.floor.walk import Pain
from wise_perch.core.trade.evidence import Evidence, Side
from wise_perch.core.trade.protocol import try_problem
from wise_perch.core.trainee.stored import KeptSet, KeptTry
from wise_perch.core.week.plan import plan_week
from wise_perch.core.week.question import ask_for_week, usual_kit
from wise_perch.core.week.week_plan import DayWish, Wish, monday_of
from wise_perch.core.week.wishes import wish_problem
from wise_perch.formats.evidence_csv import write_evidence
from wise_perch.formats.plan import plan_file, week_as_json
from wise_perch.formats.standing import standing_as_json, standing_file
from wise_perch.formats.tries_csv import write_tries
from wise_perch.store import arrangements, chosen_settings, evidence, floor, halls, kit, trainees
from wise_perch.store.pool import Pool, transaction
from wise_perch.syllabus.shipped import in_use

ZONE = ZoneInfo("Europe/Oslo")
PEOPLE = 56
STACKS = [("pad", 5, 3), ("plate", 2.5, 4), ("box", 30, 1)]
ON = TODAY


def moment(day: date, hour: int) -> datetime:
    return datetime.combine(day, time(hour, 30), ZONE).astimezone(UTC)


class Somebody:
    """One drawn trainee: kept in the database, and written as a profile."""

    def __init__(self, number: int) -> None:
        self.dice = Random(number)
        self.name = f"Trainee {number}"
        self.runs = 0
        self.profile: dict[str, Any] = {
            "trainee": self.name,
            "rest_s": 45,
            "time_zone": "Europe/Oslo",
            "stacks": [{"kind": kind, "thickness_cm": cm, "count": n} for kind, cm, n in STACKS],
        }

    def keep(self, db: Connection) -> UUID:
        trainee = trainees.add(db, id=uuid7(), name=self.name, stepping_side=None, note="").id
        pieces = somebody(self.dice) + (advanced() if self.dice.random() < 0.4 else [])
        evidence.keep_sets(
            db, [evidence.evidence_row(self.as_kept(p), trainee=trainee, source="live") for p in pieces]
        )
        for test in self.dice.sample(sorted(SYLLABUS.tests), self.dice.randrange(0, 4)):
            self.run(db, trainee, test)
        self.decide(db, trainee)
        return trainee

    def as_kept(self, p: Evidence) -> KeptSet:
        return KeptSet(
            id=uuid7(),
            drill=p.drill,
            at=moment(p.day, self.dice.choice([0, 9, 23])),
            measure=p.measure,
            value=p.value,
            n=p.n,
            mode=p.mode,
            window_s=p.window_s,
            form=p.form,
            side=p.side,
            confidence=p.confidence,
            dial=dict(p.dial),
            source="live",
            note="",
            struck_at=None,
        )

    def run(self, db: Connection, trainee: UUID, name: str) -> None:
        test = SYLLABUS.tests[name]
        self.runs += 1
        subject = next((d.drill for d in SYLLABUS.subjects(test)), "") if test.subjects or test.every else ""
        at = moment(ON - timedelta(days=self.dice.randrange(1, 40)), self.dice.choice([9, 23]))
        run = evidence.start_run(
            db,
            id=uuid7(),
            trainee=trainee,
            test=name,
            subject=subject,
            started_at=at,
            rest_s=45,
            room="",
            source="live",
        )
        mode = test.modes[0]
        for number in range(1, int(mode.tries.value) + 1):
            mark = self.dice.choice(mode.marks)
            value = float(self.dice.randrange(1, 12)) if mark.figure else None
            kept = KeptTry(
                id=uuid7(),
                number=number,
                at=at,
                outcome=mark.outcome,
                value=value,
                mode=mode.mode,
                fell=None,
                form=None,
                note="",
                early=False,
                struck_at=None,
                level=mode.ladder.start.value if mode.ladder else None,
                side=self.dice.choice(list(Side)),
            )
            if try_problem(test, kept.as_try()):
                continue
            evidence.add_try(db, run_id=run.id, kept=kept, test=name, mode=mode)
        evidence.end_run(
            db,
            run_id=run.id,
            ended_at=at,
            ended_as="finished",
            pain_joint=None,
            pain_level=None,
            confidence=None,
        )

    def decide(self, db: Connection, trainee: UUID) -> None:
        """Goals, schools, waivers, aches, dials and the intake: in the database and in the profile alike."""
        dice, content = self.dice, SYLLABUS.content
        goals = dice.sample([g.goal for g in content.goals], dice.randrange(1, 4))
        schools = {q.question: dice.choice(q.schools).school for q in dice.sample(content.schools, 3)}
        profile = {
            "stature_cm": dice.randrange(150, 195),
            "mass_kg": dice.randrange(45, 95),
            "lengths_cm": {},
            "cautions": {},
        }
        confidence, home = dice.choice([None, 2, 4]), dice.sample(sorted(content.kit), 3)
        arrangements.choose_goals(db, trainee=trainee, goals=goals, moment=moment(ON, 1))
        arrangements.set_schools(db, trainee=trainee, schools=schools)
        kept = {**profile, "confidence": confidence, "kit": home, "experience": []}
        arrangements.add_intake(db, id=uuid7(), trainee=trainee, at=moment(ON, 1), profile=kept)
        self.profile |= {**profile, "goals": goals, "schools": schools, "confidence": confidence, "kit": home}
        waived, hurts, dialled = (
            dice.sample(x, dice.randrange(0, 3))
            for x in (sorted(SYLLABUS.drills), list(SYLLABUS.rules.joints), DIALLED)
        )
        waivers, aches, settings = [], [], []
        for drill in waived:
            day = ON - timedelta(days=dice.randrange(0, 30))
            arrangements.waive(
                db, id=uuid7(), trainee=trainee, drill=drill, reason="seen", at=moment(day, 23)
            )
            waivers.append({"drill": drill, "reason": "seen", "day": str(day)})
        for joint in hurts:
            day, level, sharp = (
                ON - timedelta(days=dice.randrange(0, 25)),
                dice.randrange(0, 9),
                dice.random() < 0.1,
            )
            told = Pain(joint=joint, level=level, sharp=sharp)
            floor.add_aches(
                db, [(uuid7(), told)], trainee=trainee, at=moment(day, dice.choice([0, 23])), event=None
            )
            aches.append({"joint": joint, "level": level, "day": str(day), "sharp": sharp})
        for drill in dialled:
            day, own = ON - timedelta(days=dice.randrange(0, 20)), SYLLABUS.drills[drill].dial
            assert own
            assert own.start
            chosen = {own.name: own.start.value}
            chosen_settings.keep_setting(
                db, id=uuid7(), trainee=trainee, drill=drill, settings=chosen, at=moment(day, 0)
            )
            settings.append({"drill": drill, "settings": chosen, "day": str(day)})
        places = [
            (n, dice.choice(["hall", "hall", "home"]), dice.choice([35, 55]))
            for n in sorted(dice.sample(range(7), dice.randrange(1, 3)))
        ]
        days = [
            {"day": str(WEEK + timedelta(days=n)), "place": place, "minutes": minutes}
            for n, place, minutes in places
        ]
        self.profile |= {"days": days, "waivers": waivers, "aches": aches, "settings": settings}


DIALLED = sorted(name for name, d in SYLLABUS.drills.items() if d.dial and d.dial.start)


WEEK = monday_of(ON) + timedelta(weeks=1)


def of_the_server(
    db: Connection, who: Somebody, trainee: UUID, house: House
) -> tuple[dict[str, Any], dict[str, Any]]:
    known, case = judge_trainee(db, trainee, house, on=ON)
    days = tuple(
        DayWish(day=date.fromisoformat(d["day"]), place=d["place"], minutes=d["minutes"])
        for d in who.profile["days"]
    )
    wish = Wish(week=WEEK, days=days, kit=usual_kit(case.profile, case.syllabus))
    assert wish_problem(wish, case) is None
    planned = plan_week(ask_for_week(case, week=WEEK), wish)
    return standing_as_json(case, known.name), week_as_json(planned, case, trainee=known.name, week=WEEK)


def of_the_door(
    folder: Path, who: Somebody, db: Connection, trainee: UUID, house: House
) -> tuple[dict[str, Any], dict[str, Any]]:
    """The same through the files that the product itself writes."""
    pieces, tries, profile = folder / "evidence.csv", folder / "tries.csv", folder / "profile.json"
    pieces.write_text(write_evidence(export_lines(db, [trainees.one(db, trainee)], house)), "utf-8")
    tries.write_text(write_tries(evidence.every_try(db, trainee=trainee), tests=SYLLABUS.tests), "utf-8")
    profile.write_text(json.dumps(who.profile), "utf-8")
    found = (
        door(pieces, profile, on=ON, in_use=lambda schools: in_use(schools=dict(schools)), tries=tries)
        for door in (standing_file, plan_file)
    )
    standing, plan = found
    return standing, plan


def plain(found: dict[str, Any]) -> Any:
    return json.loads(json.dumps(found))


def test_files_and_server_judge_alike(pool: Pool, tmp_path: Path) -> None:
    """For many drawn histories with schools, waivers, aches and dials both say the same, through a real
    database and real files.
    """
    coach = add_coach(pool)
    with transaction(pool, member=coach) as db:
        halls.change(db, time_zone="Europe/Oslo")
        for kind, cm, n in STACKS:
            kit.add(db, id=uuid7(), kind=kind, thickness_cm=cm, count=n, note="")  # type: ignore[arg-type]
        house = load_house(db)
        hurt = tested = runs = 0
        for number in range(PEOPLE):
            who = Somebody(number)
            trainee = who.keep(db)
            server, door = (
                of_the_server(db, who, trainee, house),
                of_the_door(tmp_path, who, db, trainee, house),
            )
            for mine, other in zip(server, door, strict=True):
                assert plain(mine) == plain(other), (number, who.profile)
            runs += who.runs
            hurt += bool(who.profile["aches"])
            tested += any(b["kind"] == "test" for d in server[1].get("days", ()) for b in d["blocks"])
        assert hurt >= PEOPLE // 4
        assert runs >= PEOPLE
        assert tested >= 1


@pytest.mark.parametrize("days", [13, 14, 15])
def test_pain_counts_on_the_coachs_own_days(pool: Pool, days: int) -> None:
    """Pain told late in the evening, already another day in UTC, is asked about for as many of the coach's
    days as all other.
    """
    coach = add_coach(pool)
    with transaction(pool, member=coach) as db:
        halls.change(db, time_zone="America/Los_Angeles")
        trainee = trainees.add(db, id=uuid7(), name="Tilda Moor", stepping_side=None, note="").id
        told = datetime.combine(ON - timedelta(days=days), time(23, 30), ZoneInfo("America/Los_Angeles"))
        floor.add_aches(
            db,
            [(uuid7(), Pain(joint="left wrist", level=3))],
            trainee=trainee,
            at=told.astimezone(UTC),
            event=None,
        )
        _, case = judge_trainee(db, trainee, load_house(db), on=ON)
    assert [a.day for a in case.aches] == ([ON - timedelta(days=days)] if days <= 14 else [])
