"""The Bench before a run: which tests there are for a trainee, and one test made ready."""

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import SignedIn, TheApp
from wise_perch.api.benching import Bench, bench_of
from wise_perch.api.judgement import EARLIER, ScoredRun, comparable, in_body, lines_of, scored_all, title_of
from wise_perch.api.knowing import House, KnownTrainee, house_of
from wise_perch.api.levering import lines_for, settings_said
from wise_perch.core.bench.remembered_limits import RememberedLimit
from wise_perch.core.bench.run_sheet import Sheet
from wise_perch.core.body.body_units import rulers_of
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.gates import Dial
from wise_perch.core.trade.intake import CautionQuestion
from wise_perch.core.trade.protocol import Test, exact_rungs
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.standing import DrillStanding
from wise_perch.core.trainee.stored import Run, Trainee
from wise_perch.store import evidence, levers, trainees
from wise_perch.store.levers import ChosenSetting
from wise_perch.store.pool import transaction

router = APIRouter(tags=["bench"])
RUNS_LOOKED_AT = 60


@dataclass(frozen=True, kw_only=True)
class Subject:
    """A drill a test can be run for. `asked`: its dial setting is written down with the run. `upright`: the right way up."""

    drill: str
    title: str
    gate: str
    dial: Dial | None
    upright: bool


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
        return PainRule(joints=rules.joints, stops_at=rules.pain_stops_at.value, some=rules.pain_some, much=rules.pain_much)


@dataclass(frozen=True, kw_only=True)
class TestToPick:
    """One test as the list of tests shows it. `held`: why it has to wait, or empty. `last`: the newest run of it."""

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
    """What stands before a test starts: the protocol and its sheet, whether exits are proven, and the last runs.

    `minutes`: how long the test usually takes, by the rest between tries in s. `begins`: the settings a ladder may begin at,
    `begin` the one it does. `for_you`: distances and heights worked out from this trainee's size, at the setting `for_you_at`. `last`: the newest run that compares. `held`: why nobody starts it now, or empty.
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


def subjects_of(test: Test, syllabus: Syllabus) -> tuple[Subject, ...]:
    """The drills a test can be run for, as a screen offers them."""
    ladder = {m.ladder.dial for m in test.modes if m.ladder}
    return tuple(
        Subject(
            drill=d.drill,
            title=d.title,
            gate=d.gate.text,
            dial=d.dial if d.dial and d.dial.name not in ladder else None,
            upright=d.drill not in syllabus.inverted,
        )
        for d in syllabus.subjects(test)
    )


def held_back(test: Test, known: KnownTrainee, *, upright: bool) -> str:
    """Why a test has to wait: nothing upside down before the intake's clearance."""
    if known.uncleared and not (test.upright or upright):
        return f"Nothing upside down yet. {known.uncleared[0].advice}"
    return ""


@router.get("/trainees/{id}/tests")
def tests(id: UUID, app: TheApp, coach: SignedIn) -> TestsPage:
    """Every test, in the order practitioners run them, with its newest result for this trainee."""
    with transaction(app.pool, coach=coach) as db:
        house, who = house_of(db), trainees.one(db, id)
        bench = bench_of(db, id, house, test="free-tries")
        runs = evidence.runs(db, id, most=RUNS_LOOKED_AT)
    return TestsPage(
        trainee=who,
        uncleared=bench.known.uncleared,
        tests=tuple(_to_pick(test, bench.known, house, runs) for test in bench.known.syllabus.tests.values()),
        limits=bench.limits,
    )


def _to_pick(test: Test, known: KnownTrainee, house: House, runs: list[Run]) -> TestToPick:
    mine = [r for r in runs if r.test == test.test]
    ended = scored_all([r for r in mine if r.ended_at][:1], house.coach, known.syllabus)
    subjects = subjects_of(test, known.syllabus)
    return TestToPick(
        test=test.test,
        title=test.title,
        about=test.about,
        minutes=test.minutes(rest_s=test.rest_usual_s.value),
        subjects=subjects,
        held=held_back(test, known, upright=any(s.upright for s in subjects)),
        last=next(iter(ended), None),
        open_run=next((r.id for r in mine if r.ended_at is None), None),
    )


@router.get("/trainees/{id}/bench/{test}")
def bench(
    id: UUID,
    test: str,
    app: TheApp,
    coach: SignedIn,
    subject: Annotated[str, Query(max_length=120)] = "",
    begin: Annotated[float | None, Query(ge=-100, le=500, allow_inf_nan=False)] = None,
) -> BenchPage:
    """Prepare a test of a trainee: for `subject` where it is run for one drill, a ladder beginning at `begin`."""
    with transaction(app.pool, coach=coach) as db:
        house, who = house_of(db), trainees.one(db, id)
        made = bench_of(db, id, house, test=test, subject=subject, begin=begin)
        runs = evidence.runs_of_test(db, id, test=test, subject=made.subject_name, most=EARLIER)
        last_rest = evidence.last_rest(db, test)
        kept = levers.settings(db, id)
        chosen = kept.get(made.subject_name)
    known, the_test = made.known, made.test
    subjects = subjects_of(the_test, known.syllabus)
    mine = next((s for s in subjects if s.drill == made.subject_name), None)
    first = made.sheet.steps[made.sheet.first]
    done = scored_all([r for r in runs if r.ended_at], house.coach, known.syllabus)
    least, most = round(the_test.rest_least_s.value), round(the_test.rest_most_s.value)
    dial = _setting(mine, done, chosen)
    set_up = _set_up(the_test, made, dial, kept)
    return BenchPage(
        trainee=who,
        test=the_test,
        subject=mine,
        subjects=subjects,
        title=title_of(the_test, made.subject),
        sheet=made.sheet,
        begins=_begins(the_test),
        begin=first.levels[0] if first.levels else None,
        in_body=in_body(made.sheet, dial, rulers_of(known.syllabus.intake, known.frame.profile)),
        lines=lines_of(the_test, made.subject, known.syllabus),
        dial=dial,
        rest_s=min(most, max(least, _usual_rest(the_test, house, last_rest))),
        minutes={rest: the_test.minutes(rest_s=rest) for rest in range(least, most + 1, 5)},
        exits=known.standing.drill(the_test.exits_drill) if the_test.exits_drill else None,
        uncleared=known.uncleared,
        held=held_back(the_test, known, upright=bool(mine and mine.upright)),
        pain=PainRule.of(known.syllabus),
        limits=tuple(r for r in made.limits if r.test == test),
        open_run=next((r.id for r in runs if r.ended_at is None), None),
        last=comparable(done, ""),
        runs=done,
        for_you=lines_for(known, *set_up),
        for_you_at=settings_said(known, *set_up),
    )


def _set_up(test: Test, made: Bench, dial: dict[str, float], kept: dict[str, ChosenSetting]) -> tuple[Drill | None, dict[str, float]]:
    """The drill a test is set up as, and the settings it begins with: its own, and what else was chosen for the drill."""
    drills = made.known.syllabus.drills
    names = [made.subject_name, made.known.syllabus.mechanics.test_drills.get(test.test, ""), *test.drills.values(), *test.subjects]
    drill = next((drills[name] for name in names if name in drills), None)
    ladder, first = test.modes[0].ladder, made.sheet.steps[made.sheet.first]
    begins = {**dial, **({ladder.dial: first.levels[0]} if ladder and first.levels else {})}
    chosen = kept.get(drill.drill) if drill else None
    others = chosen.settings if chosen and begins else {}
    return drill, {**begins, **{name: value for name, value in others.items() if name not in begins}}


def _usual_rest(test: Test, house: House, last: int | None) -> int:
    """The rest as it was the last time; before there was one, as the coach has it for the open floor or as the test says."""
    if last is not None:
        return last
    return house.coach.rest_s if test.due_after_days else round(test.rest_usual_s.value)


def _begins(test: Test) -> tuple[float, ...]:
    ladder = test.modes[0].ladder
    return tuple(r.level for r in exact_rungs(ladder)) if ladder else ()


def _setting(subject: Subject | None, done: tuple[ScoredRun, ...], chosen: ChosenSetting | None) -> dict[str, float]:
    """The dial as it was set the last time or chosen since, else where the drill begins."""
    if subject is None or subject.dial is None:
        return {}
    name = subject.dial.name
    last = next((r.run for r in done if name in r.run.dial), None)
    if chosen and name in chosen.settings and (last is None or chosen.at > last.started_at):
        return {name: chosen.settings[name]}
    if last is not None:
        return {name: last.dial[name]}
    return {} if subject.dial.start is None else {name: subject.dial.start.value}
