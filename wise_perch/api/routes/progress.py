"""Progress: a trainee's measures over time, the road to a goal, load, and what is told early."""

from collections.abc import Mapping
from datetime import date, timedelta
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import load_arranged, load_house
from wise_perch.api.fields import Moment
from wise_perch.api.long_view import LongView, load_long_view
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.api.routes.drills import drill_of
from wise_perch.api.routes.files import as_csv
from wise_perch.core.bench.runs import ScoredRun, score_runs
from wise_perch.core.progress.firsts import SinceWeBegan, since_we_began
from wise_perch.core.progress.load import LoadWeek, say_load_of
from wise_perch.core.progress.measure import MeasureStory, tell_measure
from wise_perch.core.progress.road import Road, find_road
from wise_perch.core.progress.series import every_series
from wise_perch.core.progress.small import SmallMeasure, small_measures
from wise_perch.core.progress.wrong_turns import find_wrong_turns
from wise_perch.core.trade.evidence import Measure
from wise_perch.core.trainee.course_brief import CourseBrief, find_course
from wise_perch.core.trainee.early import WrongTurn, kept_since
from wise_perch.core.trainee.standing_still import Standstill, find_standstills
from wise_perch.core.trainee.stored import Trainee
from wise_perch.core.trainee.work_on import leading_goal
from wise_perch.formats.progress_csv import write_progress
from wise_perch.store import evidence, progress, trainees
from wise_perch.store.pool import transaction

router = APIRouter(tags=["progress"])
RUNS_READ, STRIPS_SHOWN = 60, 24
Day = date


@dataclass(frozen=True, kw_only=True)
class GoalNamed:
    """A goal of the trainee."""

    goal: str
    title: str


@dataclass(frozen=True, kw_only=True)
class DrillMeasured:
    """A drill of which there are readings."""

    drill: str
    title: str
    line: str


@dataclass(frozen=True, kw_only=True)
class ProgressPage:
    """The long view of a trainee. `course`: where they are on the way, as the group page says it. `road` to
    the goal that is looked at; `stay`: that the course is to be kept; `standing_still` with what practice
    would try; `turns`: what is told early; `small`: what leads to the goal, each as a share of its gate;
    `drill`: the measure to show first.
    """

    trainee: Trainee
    on: date
    course: CourseBrief
    goals: tuple[GoalNamed, ...]
    road: Road | None
    stay: str | None
    standing_still: tuple[Standstill, ...]
    turns: tuple[WrongTurn, ...]
    small: tuple[SmallMeasure, ...]
    weeks: tuple[LoadWeek, ...]
    load_said: str
    card: SinceWeBegan
    drills: tuple[DrillMeasured, ...]
    drill: str


@router.get("/trainees/{id}/progress")
def progress_page(
    id: UUID, app: TheApp, member: SignedIn, goal: Annotated[str, Query(max_length=120)] = ""
) -> ProgressPage:
    """The long view of a trainee; `goal`: another one of theirs than the leading one."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        view = load_long_view(db, id, house)
        case = view.case
        kept = progress.kept_days(
            db,
            first=kept_since(case.syllabus.sessions.wrong_turns, on=case.on),
            last=case.on,
            time_zone=house.hall.time_zone,
            trainee=id,
        )
        heard = progress.silenced(db, trainee=id).get(id, frozenset())
    standing = next((g for g in case.goals if g.goal == goal), None) or leading_goal(case.goals)
    road = find_road(standing or case.goals[0], case) if case.goals else None
    small = small_measures(standing, case)
    days, standstills = kept.get(id), find_standstills(case)
    return ProgressPage(
        trainee=view.trainee,
        on=case.on,
        course=find_course(case, standstills, sorted({p.day for p in case.history.every()})),
        goals=tuple(GoalNamed(goal=g.goal, title=g.title) for g in case.goals),
        road=road,
        stay=standing.stay_the_course if standing else None,
        standing_still=standstills,
        turns=find_wrong_turns(
            case,
            planned=days.planned if days else (),
            done=days.done if days else (),
            events=view.events,
            weeks=view.weeks,
            silenced=heard,
        ),
        small=small,
        weeks=view.weeks,
        load_said=say_load_of(view.weeks, ramp=case.syllabus.sessions.ramp.value),
        card=since_we_began(case),
        drills=_measured(view),
        drill=_first_shown(small, view),
    )


def _measured(view: LongView) -> tuple[DrillMeasured, ...]:
    done = {p.drill for p in view.case.history.every()}
    return tuple(
        DrillMeasured(drill=d.drill, title=d.title, line=line.title)
        for line, _, d in view.case.syllabus.placed()
        if d.drill in done
    )


def _first_shown(small: tuple[SmallMeasure, ...], view: LongView) -> str:
    """What leads to the goal and was measured most, then what a reached goal asked for; without either what
    was measured on most days of late.
    """
    most = max(small, key=lambda m: len(m.points), default=None)
    if most and most.points:
        return most.drill
    case = view.case
    named = {g.goal: g.drills for g in case.syllabus.content.goals}
    for g in case.goals:
        for drill in named.get(g.goal, ()):
            if case.history.of(drill):
                return drill
    lately = case.history.all_since(case.on - timedelta(days=int(case.syllabus.sessions.recent_days.value)))
    days: dict[str, set[date]] = {}
    for p in lately:
        if p.drill in case.syllabus.drills and not p.at_least:
            days.setdefault(p.drill, set()).add(p.day)
    return max(days, key=lambda d: (len(days[d]), case.syllabus.place_of[d][1], d), default="")


@router.get("/trainees/{id}/progress/measures/{drill}")
def measure_story(
    id: UUID,
    drill: str,
    app: TheApp,
    member: SignedIn,
    way: Annotated[str, Query(max_length=200)] = "",
    on: Day | None = None,
    since: Day | None = None,
) -> MeasureStory:
    """One measure of one drill; `on`: as it stood on an earlier day, `since`: from that day on alone."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        view = load_long_view(db, id, house)
        wanted = drill_of(view.case.syllabus, drill)
        day = None if on is None or on >= view.case.on else on
        return tell_measure(wanted, view.case, way=way, events=view.events, on=day, since=since)


@router.get("/trainees/{id}/progress/strips")
def test_strips(id: UUID, app: TheApp, member: SignedIn) -> tuple[ScoredRun, ...]:
    """Every test of single tries, newest first, for its strip."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        _, syllabus = load_arranged(db, id, house)
        runs = score_runs(evidence.runs(db, id, most=RUNS_READ), syllabus, day_of=house.day_of)
    single = syllabus.free_tries.test
    tried = [r for r in runs if r.verdict.n and (r.run.test == single or r.mode.measure is Measure.RATE)]
    return tuple(tried[:STRIPS_SHOWN])


@router.get(
    "/trainees/{id}/progress.csv",
    response_class=Response,
    responses={200: {"content": {"text/csv": {}}}},
)
def progress_csv(id: UUID, app: TheApp, member: SignedIn, semicolons: bool = False) -> Response:
    """Every series of a trainee as a table."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        case_of = load_long_view(db, id, house)
    case = case_of.case
    series = [
        s
        for d in case.syllabus.drills.values()
        for s in every_series(
            d, case.syllabus.ways(d.drill), case.history.of(d.drill), stature_cm=case.stature_cm
        )
    ]
    text = write_progress(case_of.trainee.name, series, case.syllabus, semicolons=semicolons)
    return as_csv(text, f"progress-{case.on}.csv")


class HeardTurn(BaseModel):
    """A turn that is silenced, or heard of again."""

    model_config = ConfigDict(extra="forbid")
    turn: Annotated[str, Field(min_length=1, max_length=200, pattern=r"^[^\x00-\x1f]+$")]
    silenced: bool
    at: Moment


@router.put("/trainees/{id}/turns")
def silence_turn(id: UUID, heard: HeardTurn, app: TheApp, member: Coaching) -> Mapping[str, bool]:
    """Silence what was told early, or hear of it again; the newest word stands."""
    with transaction(app.pool, member=member) as db:
        trainees.one(db, id)
        progress.silence(db, trainee=id, turn=heard.turn, silenced=heard.silenced, at=heard.at)
    return {"silenced": heard.silenced}
