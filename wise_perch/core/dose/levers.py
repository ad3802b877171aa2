"""One trainee's levers: what was tested, where drills are set up, what their size makes of it, and how near
first reps are.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import timedelta

from wise_perch.core.body.jumps import Jump, find_jumps
from wise_perch.core.body.ladders import Tested, hardest_clean
from wise_perch.core.body.levers import settings_for
from wise_perch.core.body.loads import share_of
from wise_perch.core.body.outlook import FirstRep, PressTested, Reps, straddle_press, wall_push_up
from wise_perch.core.body.segments import Body
from wise_perch.core.body.words import setup_lines
from wise_perch.core.dose.setting import DialSetting, set_dial, settings_in_use
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Form, Measure
from wise_perch.core.trade.gates import Dial
from wise_perch.core.trade.mechanics import Lever
from wise_perch.core.trade.words import say_day, say_share
from wise_perch.core.trainee.case import JudgedCase


@dataclass(frozen=True, kw_only=True)
class SetUpDrill:
    """A drill that a lever sets up: every knob as it is used now, and where its dial stands with the
    reason.
    """

    drill: str
    title: str
    lever: str
    dial: Dial | None
    gate: str
    settings: dict[str, float]
    stands: DialSetting | None
    chosen: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ShareShown:
    """What a rung puts on the hands, as it is said, and the setting it is for: "77 %", "hands to feet
    95 cm".
    """

    share: str
    at: str


def find_tested(drill: Drill, case: JudgedCase) -> Tested | None:
    """The hardest setting of a drill that went clean, by the drill itself and those that differ only in their
    gate.
    """
    if drill.dial is None:
        return None
    stale = case.syllabus.rules.stale_after_days.value
    kin = case.syllabus.kin_of(drill)
    case.history.fetch(kin)
    pieces = [p for name in kin for p in case.history.of(name)]
    return hardest_clean(pieces, drills=kin, dial=drill.dial, on=case.on, stale_after_days=stale)


def set_up_drills(case: JudgedCase) -> tuple[SetUpDrill, ...]:
    """Every drill that a lever sets up, as it stands for this trainee."""
    found = []
    for drill in case.syllabus.drills.values():
        lever = case.syllabus.mechanics.of_drill(drill.drill, drill.family)
        if lever is None:
            continue
        settings = {name: value for name, value in settings_in_use(drill, case).items() if lever.knob(name)}
        chosen = case.chosen.get(drill.drill)
        found.append(
            SetUpDrill(
                drill=drill.drill,
                title=drill.title,
                lever=lever.lever,
                dial=drill.dial if drill.dial and lever.knob(drill.dial.name) else None,
                gate=drill.gate.text,
                settings=settings_for(lever, case.body, settings) if case.body else settings,
                stands=set_dial(drill, case),
                chosen=f"Chosen on {say_day(chosen.day, case.on)}." if chosen else "",
            )
        )
    return tuple(found)


def say_settings(drill: Drill | None, settings: Mapping[str, float], case: JudgedCase) -> str:
    """Settings as they are said: "hands to feet 84 cm, surface 0 cm"."""
    lever = case.syllabus.mechanics.of_drill(drill.drill, drill.family) if drill else None
    knobs = [(lever.knob(name), value) for name, value in settings.items()] if lever else []
    return ", ".join(
        f"{k.title.lower()} {value:g}{'°' if k.unit == 'deg' else ' cm'}" for k, value in knobs if k
    )


def set_up_lines(drill: Drill | None, settings: Mapping[str, float], case: JudgedCase) -> tuple[str, ...]:
    """What a trainee's own size makes of a drill's set-up at these settings; nothing while it is not
    known.
    """
    mechanics = case.syllabus.mechanics
    lever = mechanics.of_drill(drill.drill, drill.family) if drill else None
    if lever is None or case.body is None:
        return ()
    return setup_lines(
        mechanics, lever, case.body, {name: value for name, value in settings.items() if lever.knob(name)}
    )


def settings_problem(lever: Lever, settings: Mapping[str, float]) -> str | None:
    """Why settings cannot be used: the lever has no such knob, or they lie outside it."""
    for name, value in settings.items():
        knob = lever.knob(name)
        if knob is None:
            return f"{lever.title} has no setting named {name[:60]}."
        if not knob.least <= value <= knob.most:
            return f"{knob.title} of {value:g} lies outside {knob.least:g} to {knob.most:g} {knob.unit}."
    return None


def jumps_in_share(case: JudgedCase) -> tuple[Jump, ...]:
    """Where the next drill of a line is a jump in share for this trainee."""
    return (
        find_jumps(case.syllabus, case.body, set_to=lambda drill: settings_in_use(drill, case))
        if case.body
        else ()
    )


def push_shares(case: JudgedCase) -> dict[str, ShareShown]:
    """What each rung of the push line puts on the hands at the setting in use."""
    syllabus, found = case.syllabus, dict[str, ShareShown]()
    if case.body is None:
        return found
    for drill in syllabus.drills.values():
        lever = syllabus.mechanics.of_drill(drill.drill, drill.family)
        if syllabus.line_of[drill.drill] not in syllabus.mechanics.share_lines:
            continue
        dial = set_dial(drill, case)
        if share := share_of(syllabus.mechanics, drill, case.body, settings_in_use(drill, case)):
            found[drill.drill] = ShareShown(
                share=say_share(share[0]), at=dial.words if dial and lever and lever.group else ""
            )
    return found


def first_reps(case: JudgedCase) -> tuple[FirstRep, ...]:
    """How near the first reps are, where there is evidence to say so; the fold as it was last set for a
    press.
    """
    syllabus, body = case.syllabus, case.body
    if body is None:
        return ()
    usual = syllabus.mechanics.outlook
    found = [wall_push_up(_reps_done(case, body), syllabus.mechanics)]
    if case.profile and case.profile.mass_kg:
        fold = _last_chosen(case, "fold", usual.fold_deg.value)
        straddle = _last_chosen(case, "straddle", usual.straddle_deg.value)
        found.append(
            straddle_press(
                body, _press_tested(case), syllabus.mechanics, fold_deg=fold, straddle_deg=straddle
            )
        )
    return tuple(x for x in found if x)


def _last_chosen(case: JudgedCase, knob: str, usual: float) -> float:
    """A knob as it was last chosen for any drill of the press, else as usual."""
    lever = case.syllabus.mechanics.lever("press")
    chosen = [c for name, c in case.chosen.items() if lever and name in lever.drills and knob in c.settings]
    return max(chosen, key=lambda c: c.day).settings[knob] if chosen else usual


def _reps_done(case: JudgedCase, body: Body) -> list[Reps]:
    """Clean sets of push-line reps at a share that is known, that are not stale."""
    syllabus, done = case.syllabus, []
    fresh = case.on - timedelta(days=int(syllabus.rules.stale_after_days.value))
    for piece in case.history.all_since(fresh):
        drill = syllabus.drills.get(piece.drill)
        if (
            drill is None
            or piece.measure is not Measure.REPS
            or piece.form is not Form.CLEAN
            or piece.value < 1
        ):
            continue
        lever = syllabus.mechanics.of_drill(drill.drill, drill.family)
        if lever is None or lever.group != "push" or not piece.dial:
            continue
        if share := share_of(syllabus.mechanics, drill, body, piece.dial):
            at = ", ".join(f"{name.replace('-', ' ')} {value:g} cm" for name, value in piece.dial.items())
            done.append(
                Reps(reps=int(piece.value), share=share[0], words=f"{drill.title}, {at}", day=piece.day)
            )
    return done


def _press_tested(case: JudgedCase) -> PressTested | None:
    drills = [
        d for d in case.syllabus.drills.values() if d.drill in case.syllabus.mechanics.outlook.press_drills
    ]
    found = [t for d in drills if (t := find_tested(d, case)) and not t.old]
    best = min(found, key=lambda t: t.setting, default=None)
    return None if best is None else PressTested(surface_cm=max(0.0, best.setting), day=best.day)
