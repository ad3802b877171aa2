"""Breaking down a goal: what is proposed for a skill, and what a coach's own choice of it makes."""

from collections.abc import Sequence
from dataclasses import replace

from fastapi import APIRouter, Depends
from psycopg import Connection
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import House, known_of, load_house, make_case
from wise_perch.api.errors import Refused
from wise_perch.api.members import SignedIn, assistant_of
from wise_perch.api.routes.syllabus import write_edits
from wise_perch.core.body.drawn import Drawn, draw_drill, draw_in_use, ends_of, usual_body
from wise_perch.core.body.loads import share_of
from wise_perch.core.trade.bay_draft import draft_line
from wise_perch.core.trade.bay_steps import BayPlace, TooBig, find_big_steps, highest_met, say_places
from wise_perch.core.trade.breakdown import BASE, SHARE, BayRung, Breakdown, Wanted, break_down, read_title
from wise_perch.core.trade.content import Pillar
from wise_perch.core.trade.drill_words import LABELS
from wise_perch.core.trade.easing import Easing
from wise_perch.core.trade.edits import Edit
from wise_perch.core.trade.evidence import MEASURE_UNITS, Measure
from wise_perch.core.trade.gates import Gate
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import say_share
from wise_perch.core.trainee.case import judge_marks
from wise_perch.core.trainee.pillars import PILLAR_WORDS
from wise_perch.core.trainee.wall import RANK, State
from wise_perch.store import cases, trainees
from wise_perch.store.pool import transaction
from wise_perch.syllabus.shipped import built_in, read_text

router = APIRouter(prefix="/syllabus", tags=["syllabus"])
MOST_RUNGS, LONGEST = 40, 120


class Named(BaseModel):
    """A skill as a coach names it. What is left out is read from the title."""

    model_config = ConfigDict(extra="forbid")
    title: str = Field(min_length=2, max_length=LONGEST)
    form: str | None = None
    at: dict[str, str] | None = None
    gate: Gate | None = None
    pillar: Pillar | None = None


class Bay(BaseModel):
    """A skill with the rungs as the coach has them, from the goal down, and the sides left out."""

    model_config = ConfigDict(extra="forbid")
    wanted: Wanted
    rungs: list[BayRung] = Field(min_length=1, max_length=MOST_RUNGS)
    dropped: list[str] = Field(default=[], max_length=MOST_RUNGS)


STANDARDS = (Measure.HOLD, Measure.REPS, Measure.RATE, Measure.DISTANCE, Measure.LOWERING)
"""What the standard of a skill may be measured in."""


@dataclass(frozen=True, kw_only=True)
class EasingPage:
    """The ways and the forms, what a standard may be measured in (with its unit), and what a line may
    build.
    """

    easing: Easing
    measures: dict[str, str]
    units: dict[str, str]
    pillars: dict[str, str]


@dataclass(frozen=True, kw_only=True)
class BayLook:
    """What a bay comes to: the edit that makes it a line and a goal, what is wrong with it, steps that are
    too big, who would stand where (empty unless asked for), and how each rung looks, in the usual lengths.
    """

    edit: Edit
    problems: tuple[str, ...]
    too_big: tuple[TooBig, ...]
    standing: str
    drawings: tuple[Drawn | None, ...]


@router.get("/easing", dependencies=[Depends(assistant_of)])
async def easing_ways() -> EasingPage:
    """The ways of making a skill easier, and the forms a skill can have: the same for every coach."""
    return EasingPage(
        easing=built_in().easing,
        measures={m.value: LABELS[m] for m in STANDARDS},
        units={m.value: MEASURE_UNITS[m] for m in Measure},
        pillars={str(pillar): words for pillar, words in PILLAR_WORDS.items()},
    )


@router.post("/breakdown")
def propose_breakdown(named: Named, app: TheApp, member: SignedIn) -> Breakdown:
    """Propose easier versions of a skill, down to what is there already."""
    with transaction(app.pool, member=member) as db:
        syllabus = load_house(db).syllabus_as_written
    easing = syllabus.easing
    read = read_title(named.title, easing)
    wanted = Wanted(
        title=read.title,
        form=named.form or read.form,
        at=named.at if named.at is not None else read.at,
        gate=named.gate or read.gate,
        pillar=named.pillar,
    )
    if named.form and named.form != read.form and named.gate is None:
        _refuse_unknown(wanted, easing)
        wanted = replace(wanted, gate=easing.form(named.form).gate)
    _refuse_unknown(wanted, easing)
    return _with_shares(break_down(wanted, easing, syllabus), syllabus)


@router.post("/breakdown/look")
def look_at_breakdown(bay: Bay, app: TheApp, member: SignedIn, who: bool = False) -> BayLook:
    """What a bay would make: checks, steps that are too big, and with `who` where everybody would stand."""
    with transaction(app.pool, member=member) as db:
        house = load_house(db)
        syllabus = house.syllabus_as_written
        _refuse_unknown(bay.wanted, syllabus.easing)
        for rung in bay.rungs:
            _refuse_unknown(replace(bay.wanted, at=rung.at or {}), syllabus.easing)
        if bay.rungs[0].drill or not bay.rungs[0].kept:
            raise Refused(422, "The first step of a breakdown is the goal itself.")
        edit = draft_line(
            bay.wanted, bay.rungs, dropped_sides=bay.dropped, easing=syllabus.easing, syllabus=syllabus
        )
        problems = read_text(write_edits(house, [edit])).problems
        return BayLook(
            edit=edit,
            problems=tuple(dict.fromkeys(p.what for p in problems)),
            too_big=find_big_steps(bay.wanted, bay.rungs, syllabus.easing, syllabus),
            standing=say_places(_places(db, house, bay.rungs), bay.rungs) if who else "",
            drawings=tuple(_draw(rung, bay.wanted, syllabus) for rung in bay.rungs),
        )


def _with_shares(b: Breakdown, syllabus: Syllabus) -> Breakdown:
    """The same, with what the hands carry in each drill that a model knows, for a body of the usual size."""
    body = usual_body()

    def told(rung: BayRung) -> BayRung:
        drill = syllabus.drills.get(rung.drill or "")
        share = share_of(syllabus.mechanics, drill, body, {}) if drill else None
        if share is None or rung.way not in (SHARE, BASE):
            return rung
        return replace(rung, said=f"{rung.said}, hands carry {say_share(share[0])}")

    return replace(b, rungs=tuple(told(r) for r in b.rungs))


def _draw(rung: BayRung, wanted: Wanted, syllabus: Syllabus) -> Drawn | None:
    """How a rung looks, from its start to its end: as the drill that it is, or as its form eased so far."""
    if drill := syllabus.drills.get(rung.drill or ""):
        return draw_in_use(syllabus, drill, None, blended=False)
    drawing = syllabus.poses.of_skill(wanted.form, rung.at if rung.at is not None else wanted.at)
    if drawing is None:
        return None
    return ends_of(draw_drill(syllabus.poses, drawing, usual_body(), drill="", title=rung.title))


def _refuse_unknown(wanted: Wanted, easing: Easing) -> None:
    try:
        easing.form(wanted.form)
    except StopIteration:
        raise Refused(422, f"There is no form of skill named {wanted.form}.") from None
    for way, step in wanted.at.items():
        try:
            easing.step(way, step)
        except StopIteration:
            raise Refused(422, f"There is no {step} of {way}.") from None


def _places(db: Connection, house: House, rungs: Sequence[BayRung]) -> list[BayPlace]:
    """Where everybody stands today among what is there already."""
    everybody = trainees.every(db)
    arranged = cases.arrangements(db, [t.id for t in everybody], time_zone=house.hall.time_zone)
    known, found = known_of(db, arranged, house), []
    for t in everybody:
        case = make_case(arranged[t.id], house, on=house.today, sets=(), runs=())
        stands = judge_marks(case, known[t.id].marks, known[t.id].past).standing

        gates = stands.wall.gates
        met = {name for name, read in gates.items() if RANK[read.state] >= RANK[State.MET]}
        found.append(BayPlace(name=t.name, rung=highest_met(rungs, met)))
    return found
