"""Ladders of settings, and the settings a coach chooses for a trainee's drills."""

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field
from pydantic.dataclasses import dataclass

from wise_perch.api.auth import TheApp
from wise_perch.api.cases import judge_trainee, load_house
from wise_perch.api.errors import Refused
from wise_perch.api.fields import Moment, NewId
from wise_perch.api.members import Coaching, SignedIn
from wise_perch.api.routes.levers import AskedSettings, Knobs, lever_or_refuse, load_body
from wise_perch.core.body.answers import Answer
from wise_perch.core.body.body_units import in_rulers
from wise_perch.core.body.ladders import SettingsLadder, lay_out_ladder
from wise_perch.core.body.levers import settings_for, solve_one
from wise_perch.core.body.words import value_said
from wise_perch.core.dose.levers import find_tested, settings_problem
from wise_perch.core.dose.setting import set_dial
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.store import chosen_settings
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
    """A ladder of settings with its words. `next_step` is where the dial stands now, and `because` why.
    `full`: what the currency is at the next drill, as a value with its name.
    """

    drill: str
    settings: dict[str, float]
    title: str
    ladder: SettingsLadder
    words: tuple[StepWords, ...]
    tested: str
    full: float | None
    full_title: str
    next_step: str
    because: str


@router.post("/trainees/{id}/levers/{lever}/ladder")
def ladder(id: UUID, lever: str, asked: AskedLadder, app: TheApp, member: SignedIn) -> LadderPage:
    """The ladder of settings of a drill's dial, the other knobs as asked. Nothing is kept."""
    with transaction(app.pool, member=member) as db:
        _, case = judge_trainee(db, id, load_house(db))
        syllabus, body = case.syllabus, case.body
        if body is None:
            raise Refused(409, "Enter stature first: everything here is worked out from it.")
        found, drill = (
            lever_or_refuse(syllabus, lever, asked.settings),
            _drill_of_lever(syllabus, asked.drill, lever),
        )
        if drill.dial is None or found.knob(drill.dial.name) is None or found.currency is None:
            raise Refused(422, f"{drill.title} has no dial here.")
        settings = settings_for(found, body, asked.settings)
        stands = set_dial(drill, case)
        tested = find_tested(drill, case)
        made = lay_out_ladder(
            found,
            body,
            dial=drill.dial,
            settings=settings,
            kit=case.kit,
            tested=tested,
            stands=stands.setting if stands else None,
        )
        unit = "°" if drill.dial.unit == "deg" else " cm"
        note = syllabus.mechanics.figures[found.currency.figure]
        words = tuple(
            StepWords(
                setting=f"{s.setting:g}{unit}",
                value=value_said(note, s.value, mass_known=bool(case.profile and case.profile.mass_kg)),
                in_body="" if drill.dial.unit == "deg" else in_rulers(s.setting, case.rulers),
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
            because=stands.because[0].text if stands and stands.because else "",
        )


def _next_step(made: SettingsLadder, words: tuple[StepWords, ...]) -> str:
    n = next((n for n, s in enumerate(made.steps) if s.next), None)
    if n is None:
        return "The hardest step is behind." if made.tested and made.steps else ""
    extra = [x for x in (words[n].in_body, made.steps[n].stack) if x]
    made_of = f" ({'; '.join(extra)})" if extra else ""
    return f"{words[n].setting}{made_of}: {words[n].value}"


def _drill_of_lever(syllabus: Syllabus, name: str, lever: str) -> Drill:
    drill = syllabus.drills.get(name)
    if drill is None:
        raise Refused(404, "There is no such drill in the syllabus.")
    found = syllabus.mechanics.of_drill(drill.drill, drill.family)
    if found is None or found.lever != lever:
        raise Refused(422, f"{drill.title} is not set up by this lever.")
    return drill


@router.post("/trainees/{id}/settings", status_code=201)
def use_setting(id: UUID, new: NewSetting, app: TheApp, member: Coaching) -> dict[str, UUID]:
    """Use these settings for a drill from now on; sending the same again changes nothing."""
    with transaction(app.pool, member=member) as db:
        syllabus, _, body = load_body(db, id)
        drill = syllabus.drills.get(new.drill)
        lever = syllabus.mechanics.of_drill(drill.drill, drill.family) if drill else None
        if drill is None or lever is None:
            raise Refused(404, "There is no such drill with settings in the syllabus.")
        if problem := settings_problem(lever, new.settings):
            raise Refused(422, problem)
        settings = settings_for(lever, body, new.settings)
        found = solve_one(lever.views[0].model, body, settings)
        if not isinstance(found, Answer):
            raise Refused(422, f"This setting cannot be used: {found.because}.")
        chosen_settings.keep_setting(db, id=new.id, trainee=id, drill=new.drill, settings=settings, at=new.at)
    return {"id": new.id}
