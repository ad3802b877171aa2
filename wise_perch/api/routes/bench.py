"""The Bench before a run: which tests there are for a trainee, and one test made ready."""

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import House, judge_trainee, load_house
from wise_perch.api.members import SignedIn
from wise_perch.core.bench.ready import (
    Subject,
    drill_set_up,
    make_ready,
    settings_at_begin,
    settings_to_begin_at,
    subjects_of,
    usual_rest,
    why_held_back,
)
from wise_perch.core.bench.remembered_limits import RememberedLimit, remember_limits
from wise_perch.core.bench.run_sheet import Sheet
from wise_perch.core.bench.runs import (
    ScoredRun,
    lines_of,
    newest_comparable,
    say_levels_in_body,
    score_runs,
    title_of,
)
from wise_perch.core.dose.levers import say_settings, set_up_lines
from wise_perch.core.dose.setting import DialSetting, set_dial
from wise_perch.core.trade.intake import CautionQuestion
from wise_perch.core.trade.protocol import Test
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.standing import DrillStanding
from wise_perch.core.trainee.stored import Run, Trainee
from wise_perch.store import evidence
from wise_perch.store.pool import transaction

router = APIRouter(tags=["bench"])
EARLIER = 12
"""So many earlier runs of a test are offered for comparing."""
RUNS_LOOKED_AT = 60


@dataclass(frozen=True, kw_only=True)
class PainRule:
    """What pain means for the rest of the day: from `stops_at` of 10 on, `much` is said, below it `some`."""

    joints: tuple[str, ...]
    stops_at: float
    some: str
    much: str

    @staticmethod
    def of(syllabus: Syllabus) -> "PainRule":
        """The rule as the syllabus has it."""
        rules = syllabus.rules
        return PainRule(
            joints=rules.joints,
            stops_at=rules.pain_stops_at.value,
            some=rules.pain_some,
            much=rules.pain_much,
        )


@dataclass(frozen=True, kw_only=True)
class TestToPick:
    """One test as the list of tests shows it. `held`: why it has to wait, or empty. `last`: the newest run of
    it.
    """

    test: str
    title: str
    about: str
    minutes: int
    subjects: tuple[Subject, ...]
    held: str
    last: ScoredRun | None
    open_run: UUID | None


@dataclass(frozen=True, kw_only=True)
class TestsPage:
    """All tests for one trainee, in the order practitioners run them, and the limits they left."""

    trainee: Trainee
    uncleared: tuple[CautionQuestion, ...]
    tests: tuple[TestToPick, ...]
    limits: tuple[RememberedLimit, ...]


@dataclass(frozen=True, kw_only=True)
class BenchPage:
    """What stands before a test starts: the protocol and its sheet, whether exits are proven, and the last
    runs.

    `minutes`: how long the test usually takes, by the rest between tries in s. `begins`: the settings a
    ladder may begin at, `begin` the one it does. `for_you`: distances and heights worked out from this
    trainee's size, at the setting `for_you_at`. `dial`: the setting written down with the run, `setting`
    where the dial of the drill it is set up as stands, and why. `last`: the newest run that compares. `held`:
    why nobody starts it now, or empty.
    """

    trainee: Trainee
    test: Test
    subject: Subject | None
    subjects: tuple[Subject, ...]
    title: str
    sheet: Sheet
    begins: tuple[float, ...]
    begin: float | None
    in_body: dict[str, str]
    lines: dict[str, float]
    dial: dict[str, float]
    setting: DialSetting | None
    rest_s: int
    minutes: dict[int, int]
    exits: DrillStanding | None
    uncleared: tuple[CautionQuestion, ...]
    held: str
    pain: PainRule
    limits: tuple[RememberedLimit, ...]
    open_run: UUID | None
    last: ScoredRun | None
    runs: tuple[ScoredRun, ...]
    for_you: tuple[str, ...]
    for_you_at: str


@router.get("/trainees/{id}/tests")
def list_tests(id: UUID, app: TheApp, member: SignedIn) -> TestsPage:
    """Every test, in the order practitioners run them, with its newest result for this trainee."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        who, case = judge_trainee(db, id, house)
        runs = evidence.runs(db, id, most=RUNS_LOOKED_AT)
        return TestsPage(
            trainee=who,
            uncleared=case.uncleared,
            tests=tuple(_to_pick(test, case, house, runs) for test in case.syllabus.tests_offered),
            limits=remember_limits(case.history, case.syllabus, on=case.on),
        )


def _to_pick(test: Test, case: JudgedCase, house: House, runs: list[Run]) -> TestToPick:
    mine = [r for r in runs if r.test == test.test]
    ended = score_runs([r for r in mine if r.ended_at][:1], case.syllabus, day_of=house.day_of)
    subjects = subjects_of(test, case.syllabus)
    return TestToPick(
        test=test.test,
        title=test.title,
        about=test.about,
        minutes=test.minutes(rest_s=test.rest_usual_s.value),
        subjects=subjects,
        held=why_held_back(test, case, upright=any(s.upright for s in subjects)),
        last=next(iter(ended), None),
        open_run=next((r.id for r in mine if r.ended_at is None), None),
    )


@router.get("/trainees/{id}/bench/{test}")
def bench_page(
    id: UUID,
    test: str,
    app: TheApp,
    member: SignedIn,
    subject: Annotated[str, Query(max_length=120)] = "",
    begin: Annotated[float | None, Query(ge=-100, le=500, allow_inf_nan=False)] = None,
) -> BenchPage:
    """Prepare a test of a trainee: for `subject` where it is run for one drill, a ladder beginning at
    `begin`.
    """
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        who, case = judge_trainee(db, id, house)
        ready = make_ready(case, test=test, subject=subject, begin=begin)
        runs = evidence.runs_of_test(db, id, test=test, subject=ready.subject_name, most=EARLIER)
        last_rest = evidence.last_rest(db, test)
        the_test, syllabus = ready.test, case.syllabus
        subjects = subjects_of(the_test, syllabus)
        mine = next((s for s in subjects if s.drill == ready.subject_name), None)
        first = ready.sheet.steps[ready.sheet.first]
        done = score_runs([r for r in runs if r.ended_at], syllabus, day_of=house.day_of)
        least, most = round(the_test.rest_least_s.value), round(the_test.rest_most_s.value)
        drill = drill_set_up(ready, syllabus)
        stands = set_dial(drill, case) if drill else None
        dial = {mine.dial.name: stands.setting} if mine and mine.dial and stands else {}
        chosen = case.chosen.get(drill.drill) if drill else None
        begins = settings_at_begin(ready, dial, chosen.settings if chosen else {})
        return BenchPage(
            trainee=who,
            test=the_test,
            subject=mine,
            subjects=subjects,
            title=title_of(the_test, ready.subject),
            sheet=ready.sheet,
            begins=settings_to_begin_at(the_test),
            begin=first.levels[0] if first.levels else None,
            in_body=say_levels_in_body(ready.sheet, dial, case.rulers),
            lines=lines_of(the_test, ready.subject, syllabus),
            dial=dial,
            setting=stands,
            rest_s=min(most, max(least, usual_rest(the_test, case, last_rest))),
            minutes={rest: the_test.minutes(rest_s=rest) for rest in range(least, most + 1, 5)},
            exits=case.standing.drill(the_test.exits_drill) if the_test.exits_drill else None,
            uncleared=case.uncleared,
            held=why_held_back(
                the_test, case, upright=bool(mine and mine.upright), subject=mine.drill if mine else ""
            ),
            pain=PainRule.of(syllabus),
            limits=tuple(r for r in ready.limits if r.test == test),
            open_run=next((r.id for r in runs if r.ended_at is None), None),
            last=newest_comparable(done, ""),
            runs=done,
            for_you=set_up_lines(drill, begins, case),
            for_you_at=say_settings(drill, begins, case),
        )
