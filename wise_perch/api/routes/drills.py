"""One bar of the wall bars: what the syllabus says of a drill, how a trainee stands there, and recorded
sets.
"""

from collections.abc import Sequence
from datetime import date
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import judge_trainee, load_arranged, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Moment, NewId, Note
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.core.body.loads import HandLoad
from wise_perch.core.dose.best_known import find_best_known
from wise_perch.core.dose.levers import set_up_lines
from wise_perch.core.dose.setting import DialSetting, say_setting, set_dial, settings_in_use
from wise_perch.core.floor.session_sheet import fail_reasons
from wise_perch.core.floor.walk import FailReason
from wise_perch.core.progress.forecast import Forecast, find_forecast, say_ahead
from wise_perch.core.progress.series import gate_series
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.drill_words import DrillWords, WayWords, say_drill, say_way
from wise_perch.core.trade.evidence import LONGEST_HOLD_S, Evidence, Form, Measure, Reason, Side
from wise_perch.core.trade.gates import Gate, say_amount
from wise_perch.core.trade.poses import View
from wise_perch.core.trade.sets import set_problem
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import JudgedCase
from wise_perch.core.trainee.goals import why_not
from wise_perch.core.trainee.hand_load import LoadReckoner
from wise_perch.core.trainee.lines_seen import ViewSaid, say_views, views_of
from wise_perch.core.trainee.marks import compares_with, fill_of_gate
from wise_perch.core.trainee.standing import DrillStanding
from wise_perch.core.trainee.stored import KeptSet, KeptWaiver
from wise_perch.store import evidence, lines_seen
from wise_perch.store.pool import transaction

router = APIRouter(tags=["trainees"])
SETS_SHOWN, POINTS_SHOWN = 30, 60


@dataclass(frozen=True, kw_only=True)
class Named:
    """A drill by its name and title."""

    drill: str
    title: str


@dataclass(frozen=True, kw_only=True)
class FaultToMend:
    """A fault seen in this drill, the cue for it, and the drills that mend it."""

    title: str
    cue: str
    drills: tuple[Named, ...]


@dataclass(frozen=True, kw_only=True)
class Point:
    """One piece of evidence in the history of a gate: `fill` is the share of the gate it fills."""

    day: date
    value: float
    n: int | None
    form: Form
    fill: float


@dataclass(frozen=True, kw_only=True)
class DrillPage:
    """One drill of one trainee: how it stands, what opens it, what the syllabus says of it, its history and
    newest sets.

    `ways`: the ways its evidence may be measured, the gate's first, with `way_words` for each. `set_words`
    by the set's id. `history` in order of days, of the gate's measure only. `hand_loads` by the set's id.
    `best_known`: what the next dose leans on, with its day, in words. `setting`: where its dial stands for
    this trainee, with what that is in their own lengths and load; `for_you`: what their own size makes of
    it; `lever`: the position it is worked out by, or empty; `reasons`: why a set may fail;
    `views`: from where its line is looked at, and when it last was. `ahead`: the
    chances of its gate, while it is not met, with `ahead_said`.
    """

    standing: DrillStanding
    why_not: str
    drill: Drill
    words: DrillWords
    line: str
    kit: tuple[str, ...]
    faults: tuple[FaultToMend, ...]
    opens: tuple[Named, ...]
    waiver: KeptWaiver | None
    ways: tuple[Gate, ...]
    way_words: tuple[WayWords, ...]
    history: tuple[Point, ...]
    sets: tuple[KeptSet, ...]
    set_words: dict[UUID, str]
    hand_loads: dict[UUID, HandLoad]
    best_known: str
    setting: DialSetting | None
    for_you: tuple[str, ...]
    lever: str
    reasons: tuple[FailReason, ...]
    views: tuple[ViewSaid, ...]
    ahead: Forecast
    ahead_said: str


Setting = Annotated[float, Field(allow_inf_nan=False)]


class NewSet(BaseModel):
    """One set of a drill. `value` in the unit of its measure; for a rate it is k of `n`. Without `measure` it
    is the gate's. `asked`: what the set asked for; without it the set was open. `reason`: why it failed,
    where somebody says so.
    """

    model_config = ConfigDict(extra="forbid")
    id: NewId
    at: Moment
    value: float = Field(allow_inf_nan=False)
    asked: float | None = Field(default=None, allow_inf_nan=False)
    n: int | None = Field(default=None, ge=1, le=1000)
    measure: Measure | None = None
    mode: Annotated[str, Field(max_length=120)] | None = None
    window_s: Annotated[float, Field(gt=0, le=LONGEST_HOLD_S, allow_inf_nan=False)] | None = None
    form: Form
    side: Side | None = None
    confidence: int | None = Field(default=None, ge=1, le=5)
    dial_value: Setting | None = None
    reason: Reason | None = None
    note: Note = ""


def drill_of(syllabus: Syllabus, name: str) -> Drill:
    """The drill of this name in a trainee's syllabus. Raises Refused (404)."""
    found = syllabus.drills.get(name)
    if found is None:
        raise Refused(404, "There is no such drill in the syllabus.")
    return found


@router.get("/trainees/{id}/drills/{drill}")
def drill_page(id: UUID, drill: str, app: TheApp, member: SignedIn) -> DrillPage:
    """One drill of one trainee."""
    with transaction(app.pool, member=member) as db:
        _, case = judge_trainee(db, id, load_house(db))
        wanted = drill_of(case.syllabus, drill)
        kept = tuple(evidence.sets(db, id, drill, most=SETS_SHOWN))
        stands, reckoner = case.standing.drill(drill), LoadReckoner(case.syllabus, case.body)
        lever = case.syllabus.mechanics.of_drill(wanted.drill, wanted.family)
        loads = {
            s.id: reckoner.load(
                wanted, measure=s.measure, value=s.value, n=s.n, window_s=s.window_s, dial=s.dial
            )
            for s in kept
        }
        titles = {name: Named(drill=name, title=d.title) for name, d in case.syllabus.drills.items()}
        faults = {f.fault: f for f in case.syllabus.content.faults}
        history = case.history.of(wanted.drill)
        series = gate_series(wanted, history, stature_cm=case.stature_cm)
        ahead = find_forecast(series, on=case.on)
        return DrillPage(
            standing=stands,
            why_not=why_not(stands, case.wall),
            drill=wanted,
            words=say_drill(wanted, case.syllabus.content),
            line=stands.line,
            kit=tuple(case.syllabus.content.kit[item] for item in wanted.kit),
            faults=tuple(
                FaultToMend(title=f.title, cue=f.cue, drills=tuple(titles[n] for n in f.drills))
                for f in (faults[name] for name in wanted.faults)
            ),
            opens=tuple(titles[n] for n in stands.opens),
            waiver=next((w for w in case.arrangement.waivers if w.drill == drill), None),
            ways=case.syllabus.ways(drill),
            way_words=tuple(say_way(way) for way in case.syllabus.ways(drill)),
            history=_history_points(history, wanted),
            sets=kept,
            set_words={s.id: _say_set(s, wanted) for s in kept},
            hand_loads={id: load for id, load in loads.items() if load},
            best_known=_say_best(wanted, case),
            setting=set_dial(wanted, case),
            for_you=set_up_lines(wanted, settings_in_use(wanted, case), case),
            lever=lever.lever if lever else "",
            reasons=fail_reasons(case.syllabus.sessions),
            ahead=ahead,
            ahead_said=say_ahead(ahead, series.gate, stands.state),
            views=say_views(wanted, case.syllabus, lines_seen.of_drill(db, id, drill), on=case.on),
        )


def _say_best(drill: Drill, case: JudgedCase) -> str:
    """The best known of a drill as it is said, with how long it has been left where that is a gap."""
    best = find_best_known(drill, case)
    if best is None:
        return ""
    left = f"; left for {best.gap_days // 7} weeks since" if best.gap_days else ""
    return f"{best.words.removeprefix('best known ')}{left}"


def _say_set(s: KeptSet, drill: Drill) -> str:
    """A set as it is said: "30 s · clean · left · hands to wall 40 cm · confidence 4"."""
    figure = say_amount(s.value, s.measure, s.n) + (f" in {s.window_s:g} s" if s.window_s else "")
    dial = [say_setting(name, at, drill.dial.unit if drill.dial else "cm") for name, at in s.dial.items()]
    return " · ".join(
        filter(
            None,
            (
                figure,
                f"asked {say_amount(s.asked, s.measure)}" if s.asked is not None else "",
                s.form.value,
                s.side.value if s.side else "",
                *dial,
                f"confidence {s.confidence}" if s.confidence else "",
                f"failed for {s.reason.value}" if s.reason else "",
            ),
        )
    )


def _history_points(pieces: Sequence[Evidence], d: Drill) -> tuple[Point, ...]:
    own = [p for p in pieces if compares_with(p, d.gate)]
    return tuple(
        Point(day=p.day, value=p.value, n=p.n, form=p.form, fill=fill_of_gate(p.value, p.n, d.gate))
        for p in own[-POINTS_SHOWN:]
    )


@router.post("/trainees/{id}/drills/{drill}/sets", status_code=201)
def add_set(id: UUID, drill: str, new: NewSet, app: TheApp, member: Coaching) -> dict[str, UUID]:
    """Keep one set of a drill; sending the same again changes nothing."""
    with transaction(app.pool, member=member) as db:
        _, syllabus = load_arranged(db, id, load_house(db))
        dial = drill_of(syllabus, drill).dial
        way = _way_recorded(new, syllabus.ways(drill))
        problem = set_problem(
            way.measure,
            value=new.value,
            asked=new.asked,
            n=new.n,
            setting=new.dial_value,
            has_dial=dial is not None,
            each_side=way.each_side,
            side=new.side,
        )
        if problem:
            raise Refused(422, problem)
        kept = KeptSet(
            **new.model_dump(exclude={"dial_value", "measure", "mode", "window_s"}),
            drill=drill,
            measure=way.measure,
            mode=way.mode,
            window_s=way.window_s,
            dial={dial.name: new.dial_value} if dial and new.dial_value is not None else {},
            source="live",
            struck_at=None,
        )
        evidence.add_set(db, trainee=id, kept=kept)
    return {"id": new.id}


def _way_recorded(new: NewSet, ways: tuple[Gate, ...]) -> Gate:
    """The way of measuring that is meant. Raises Refused for one this drill does not have."""
    if new.measure is None:
        return ways[0]
    for way in ways:
        if (way.measure, way.mode, way.window_s) == (new.measure, new.mode, new.window_s):
            return way
    raise Refused(
        422,
        f"This drill is not measured so; it is measured as {', or as '.join(w.measure.value for w in ways)}.",
    )


class ToldView(BaseModel):
    """Whether a drill was looked at from a view on a day; sent again, the newest word stands."""

    model_config = ConfigDict(extra="forbid")
    at: Moment
    day: date
    view: View
    seen: bool


@router.post("/trainees/{id}/drills/{drill}/seen", status_code=201)
def tell_view(id: UUID, drill: str, told: ToldView, app: TheApp, member: SignedIn) -> dict[str, str]:
    """Keep from where a line was judged by eye."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        _, syllabus = load_arranged(db, id, house)
        wanted = drill_of(syllabus, drill)
        if told.view not in views_of(wanted, syllabus):
            raise Refused(422, f"Nothing of {wanted.title.lower()} is looked for from the {told.view}.")
        if told.day > house.today:
            raise Refused(422, "That day has not come yet.")
        lines_seen.put(db, trainee=id, day=told.day, drill=drill, view=told.view, seen=told.seen, at=told.at)
    return {"drill": drill}
