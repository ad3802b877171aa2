"""Ladders of settings, and the settings a coach chooses for a trainee's drills."""

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import SignedIn, TheApp
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Moment, NewId
from wise_perch.api.knowing import house_of
from wise_perch.api.levering import checked, lever_or_refuse, levering_of, sized
from wise_perch.api.routes.levers import AskedSettings, Knobs
from wise_perch.core.body.answers import Answer
from wise_perch.core.body.body_units import in_rulers, rulers_of
from wise_perch.core.body.ladders import SettingsLadder, lay_out_ladder
from wise_perch.core.body.levers import settings_for, solve_one
from wise_perch.core.body.words import value_said
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.store import kit, trainees
from wise_perch.store import levers as kept
from wise_perch.store.pool import transaction

router = APIRouter(tags=["levers"])


class AskedLadder(AskedSettings):
    """The drill whose dial makes the ladder, and the settings of the other knobs."""

    drill: Annotated[str, Field(max_length=120)]


class NewSetting(BaseModel):
    """Settings to use for a drill from now on."""

    model_config = ConfigDict(extra="forbid")
    id: NewId
    at: Moment
    drill: Annotated[str, Field(max_length=120)]
    settings: Knobs


@dataclass(frozen=True, kw_only=True)
class StepWords:
    """How a step is said: its setting, its value, and the setting in the trainee's own lengths."""

    setting: str
    value: str
    in_body: str


@dataclass(frozen=True, kw_only=True)
class LadderPage:
    """A ladder of settings with its words. `full`: what the currency is at the next drill, as a value with its name."""

    drill: str
    settings: dict[str, float]
    title: str
    ladder: SettingsLadder
    words: tuple[StepWords, ...]
    tested: str
    full: float | None
    full_title: str
    next_step: str


@router.post("/trainees/{id}/levers/{lever}/ladder")
def steps(id: UUID, lever: str, asked: AskedLadder, app: TheApp, coach: SignedIn) -> LadderPage:
    """The ladder of settings of a drill's dial, the other knobs as asked. Nothing is kept."""
    with transaction(app.pool, coach=coach) as db:
        house = house_of(db)
        trainees.one(db, id)
        levering, own_kit = levering_of(db, id, house), kit.every(db)
    syllabus, body = levering.known.syllabus, levering.body
    if body is None:
        raise Refused(409, "Enter stature first: everything here is worked out from it.")
    found, drill = lever_or_refuse(syllabus, lever), _drill(syllabus, asked.drill, lever)
    if drill.dial is None or found.knob(drill.dial.name) is None or found.currency is None:
        raise Refused(422, f"{drill.title} has no dial here.")
    settings = settings_for(found, body, checked(found, asked.settings))
    made = lay_out_ladder(found, body, dial=drill.dial, settings=settings, kit=own_kit, tested=levering.tested(drill), begin=levering.begin(drill))
    own = rulers_of(syllabus.intake, levering.known.frame.profile)
    unit = "°" if drill.dial.unit == "deg" else " cm"
    note = syllabus.mechanics.figures[found.currency.figure]
    words = tuple(
        StepWords(
            setting=f"{s.setting:g}{unit}",
            value=value_said(note, s.value, mass_known=levering.mass_known),
            in_body="" if drill.dial.unit == "deg" else in_rulers(s.setting, own),
        )
        for s in made.steps
    )
    return LadderPage(
        drill=drill.drill,
        settings=settings,
        title=found.currency.title,
        ladder=made,
        words=words,
        tested="" if made.tested is None else f"{made.tested.setting:g}{unit}: {made.tested.words}",
        full=found.currency.full.value if found.currency.full else None,
        full_title=found.currency.full_title,
        next_step=_next_step(made, words),
    )


def _next_step(made: SettingsLadder, words: tuple[StepWords, ...]) -> str:
    n = next((n for n, s in enumerate(made.steps) if s.next), None)
    if n is None:
        return "The hardest step is behind." if made.tested and made.steps else ""
    extra = [x for x in (words[n].in_body, made.steps[n].stack) if x]
    made_of = f" ({'; '.join(extra)})" if extra else ""
    return f"{words[n].setting}{made_of}: {words[n].value}"


def _drill(syllabus: Syllabus, name: str, lever: str) -> Drill:
    drill = syllabus.drills.get(name)
    if drill is None:
        raise Refused(404, "There is no such drill in the syllabus.")
    found = syllabus.mechanics.of_drill(drill.drill, drill.family)
    if found is None or found.lever != lever:
        raise Refused(422, f"{drill.title} is not set up by this lever.")
    return drill


@router.post("/trainees/{id}/settings", status_code=201)
def use(id: UUID, new: NewSetting, app: TheApp, coach: SignedIn) -> dict[str, UUID]:
    """Use these settings for a drill from now on; sending the same again changes nothing."""
    with transaction(app.pool, coach=coach) as db:
        syllabus, _, body = sized(db, id, house_of(db))
        drill = syllabus.drills.get(new.drill)
        lever = syllabus.mechanics.of_drill(drill.drill, drill.family) if drill else None
        if drill is None or lever is None:
            raise Refused(404, "There is no such drill with settings in the syllabus.")
        settings = settings_for(lever, body, checked(lever, new.settings))
        found = solve_one(lever.views[0].model, body, settings)
        if not isinstance(found, Answer):
            raise Refused(422, f"This setting can not be used: {found.because}.")
        kept.keep_setting(db, id=new.id, trainee=id, drill=new.drill, settings=settings, at=new.at)
    return {"id": new.id}
