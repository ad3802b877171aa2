"""What is kept of a trainee says the same as their whole history, whatever happens to it."""

from collections import Counter
from collections.abc import Callable
from dataclasses import fields, replace
from datetime import timedelta
from random import Random
from typing import Any
from uuid import UUID

import pytest
from psycopg import Connection
from uuid_utils.compat import uuid7

from tests.conftest import add_coach
from tests.store.test_one_case import ON, SYLLABUS, Somebody, moment
from wise_perch.api import cases as loading
from wise_perch.api.cases import House, judge_arranged, judge_trainee, known_of, load_case, load_house
from wise_perch.core.bench.remembered_limits import remember_limits
from wise_perch.core.dose.best_known import find_best_known
from wise_perch.core.dose.levers import find_tested, first_reps, push_shares
from wise_perch.core.dose.recent import dose_rule
from wise_perch.core.trade.evidence import Evidence, Side
from wise_perch.core.trainee.case import JudgedCase, stature_in, stature_of
from wise_perch.core.trainee.known import know
from wise_perch.core.trainee.standing_still import find_standstills
from wise_perch.core.trainee.work_on import what_to_work_on
from wise_perch.core.week.plan import plan_week
from wise_perch.core.week.question import ask_for_week
from wise_perch.core.week.week_plan import monday_of
from wise_perch.core.week.wishes import usual_wish
from wise_perch.store import arrangements, cases, evidence, halls
from wise_perch.store.pool import Pool, transaction

PEOPLE, CHANGES = 4, 5


def same(piece: Evidence) -> tuple[Any, ...]:
    """A piece by what it says, whichever way its numbers are written."""
    return tuple(
        tuple(value.items()) if isinstance(value, dict) else value
        for value in (getattr(piece, f.name) for f in fields(Evidence))
    )


def everything(case: JudgedCase) -> dict[str, Any]:
    """All that rooms read of a case."""
    week = monday_of(ON) + timedelta(weeks=1)
    return {
        "standing": case.standing,
        "goals": case.goals,
        "next": what_to_work_on(case),
        "still": find_standstills(case),
        "limits": remember_limits(case.history, case.syllabus, on=case.on),
        "shares": push_shares(case),
        "reps": first_reps(case),
        "best": {d.drill: find_best_known(d, case) for d in case.syllabus.drills.values()},
        "tested": {d.drill: find_tested(d, case) for d in case.syllabus.drills.values()},
        "rules": {d.drill: dose_rule(d, case) for d in case.syllabus.drills.values()},
        "failed": {d.drill: case.failed_for(d) for d in case.syllabus.drills.values()},
        "plan": plan_week(ask_for_week(case, week=week), usual_wish(case, week=week, before=None)),
        "histories": {name: Counter(map(same, case.history.of(name))) for name in case.syllabus.drills},
    }


def kept_and_whole(db: Connection, trainee: UUID, house: House) -> tuple[dict[str, Any], dict[str, Any]]:
    arranged = cases.arrangements(db, [trainee], time_zone=house.hall.time_zone)
    _, kept = judge_arranged(db, arranged, house, on=ON)[trainee]
    _, whole = judge_trainee(db, trainee, house, on=ON)
    return everything(kept), everything(whole)


class Life:
    """What happens to a trainee's history, drawn."""

    def __init__(self, db: Connection, who: Somebody, trainee: UUID) -> None:
        self.db, self.who, self.trainee, self.dice = db, who, trainee, Random(who.name)

    def do_sets(self) -> None:
        """Some sets, of late or long ago."""
        rows = []
        for name in self.dice.sample(sorted(SYLLABUS.drills), 3):
            piece = self.who.as_kept(self._piece(name))
            rows.append(evidence.evidence_row(piece, trainee=self.trainee, source="live"))
        evidence.keep_sets(self.db, rows)

    def _piece(self, name: str) -> Any:
        drill = SYLLABUS.drills[name]
        value = float(round(drill.gate.value * self.dice.uniform(0.2, 1.1)))
        made = self.dice.choice(self._drawn_sets())
        day = ON - timedelta(days=self.dice.choice([0, 1, 5, 40, 58, 90, 300, 600]))
        side = self.dice.choice(list(Side)) if drill.gate.each_side else None
        return replace(
            made,
            drill=name,
            day=day,
            measure=drill.gate.measure,
            value=min(value, drill.gate.of) if drill.gate.of else value,
            n=drill.gate.of,
            mode=drill.gate.mode,
            window_s=drill.gate.window_s,
            side=side,
            dial={drill.dial.name: 30.0} if drill.dial else {},
        )

    def _drawn_sets(self) -> list[Any]:
        house = load_house(self.db)
        return cases.sets(self.db, [self.trainee], time_zone=house.hall.time_zone)[self.trainee]

    def strike(self) -> None:
        """One piece is taken back, a set or a try of a run that is over."""
        ids = [r[0] for r in self.db.execute("select id from evidence where trainee_id = %s", [self.trainee])]
        evidence.strike(self.db, id=self.dice.choice(sorted(ids)), moment=moment(ON, 12))

    def test(self) -> None:
        """Another run of some test."""
        self.who.run(self.db, self.trainee, self.dice.choice(sorted(SYLLABUS.tests)))

    def grow(self) -> None:
        """A new intake with another stature, by which settings count otherwise."""
        self.db.execute(
            "insert into intake (hall_id, id, trainee_id, at, profile) select current_hall(), %s, %s, %s,"
            " jsonb_set(profile, '{stature_cm}', %s::jsonb) from intake where trainee_id = %s"
            " order by arrived desc limit 1",
            [uuid7(), self.trainee, moment(ON, 10), str(self.dice.randrange(150, 195)), self.trainee],
        )

    def waive(self) -> None:
        """The coach's word, which is no evidence."""
        arrangements.waive(
            self.db,
            id=uuid7(),
            trainee=self.trainee,
            drill=self.dice.choice(sorted(SYLLABUS.drills)),
            reason="seen",
            at=moment(ON - timedelta(days=1), 10),
        )


def test_what_is_kept_says_what_the_whole_history_says(pool: Pool, monkeypatch: pytest.MonkeyPatch) -> None:
    """After sets of late and of long ago, sets and tries taken back, tests, waivers and a new stature, every
    figure is the same, and everything was read again only for the stature.
    """
    coach, wholly, grew = add_coach(pool), [], 0
    real = loading.know
    monkeypatch.setattr(loading, "know", lambda **asked: wholly.append(1) or real(**asked))
    with transaction(pool, member=coach) as db:
        halls.change(db, time_zone="Europe/Oslo")
        house = load_house(db)
        for number in range(PEOPLE):
            who = Somebody(number)
            trainee = who.keep(db)
            life = Life(db, who, trainee)
            for _ in range(3):
                life.do_sets()
            kept, whole = kept_and_whole(db, trainee, house)
            assert kept == whole, number
            for n in range(CHANGES):
                what: Callable[[], None] = life.dice.choice(
                    [life.do_sets, life.do_sets, life.strike, life.strike, life.test, life.waive]
                )
                if n == CHANGES - 1 and number % 3 == 0:
                    what = life.grow
                before = len(wholly), stature_now(db, trainee)
                what()
                kept, whole = kept_and_whole(db, trainee, house)
                for name, said in whole.items():
                    assert kept[name] == said, (number, n, what.__name__, name)
                grown = stature_now(db, trainee) != before[1]
                assert len(wholly) - before[0] == grown, (number, what.__name__)
                grew += grown
                assert db.execute("select changed from trainee where id = %s", [trainee]).fetchone() == ([],)
                _same_from_scratch(db, trainee, house)
    assert grew


def stature_now(db: Connection, trainee: UUID) -> float | None:
    return stature_in(cases.arrangements(db, [trainee], time_zone="UTC")[trainee].arrangement)


def _same_from_scratch(db: Connection, trainee: UUID, house: House) -> None:
    arranged = cases.arrangements(db, [trainee], time_zone=house.hall.time_zone)
    case = load_case(db, trainee, house, on=ON).case
    anew = know(sets=case.sets, runs=case.runs or (), syllabus=case.syllabus, stature_cm=stature_of(case))
    there = known_of(db, arranged, house)[trainee]
    assert (there.marks, Counter(map(same, there.told)), there.past) == (
        anew.marks,
        Counter(map(same, anew.told)),
        anew.past,
    )


def test_a_history_is_read_only_while_its_transaction_lasts(pool: Pool) -> None:
    """The connection has gone on to somebody else by then: asking is refused and not answered with theirs."""
    coach = add_coach(pool)
    with transaction(pool, member=coach) as db:
        who = Somebody(1)
        trainee = who.keep(db)
        arranged = cases.arrangements(db, [trainee], time_zone="UTC")
        _, case = judge_arranged(db, arranged, load_house(db), on=ON)[trainee]
    with pytest.raises(RuntimeError, match="after its transaction"):
        case.history.every()


def test_evidence_that_comes_meanwhile_is_not_forgotten(pool: Pool) -> None:
    """What was made from less is not kept over a set that another device keeps at that moment."""
    coach = add_coach(pool)
    who = Somebody(2)
    with transaction(pool, member=coach) as db:
        trainee = who.keep(db)
        house = load_house(db)
    with transaction(pool, member=coach) as reading:
        arranged = cases.arrangements(reading, [trainee], time_zone="UTC")
        with transaction(pool, member=coach) as writing:
            Life(writing, who, trainee).do_sets()
            # not committed yet: what is read here is kept for nobody
            first = known_of(reading, arranged, house)[trainee]
        assert reading.execute("select count(*) from trainee_known").fetchone() == (0,)
        second = known_of(reading, arranged, house)[trainee]
    assert first.marks != second.marks
    with transaction(pool, member=coach) as db:
        _same_from_scratch(db, trainee, house)
