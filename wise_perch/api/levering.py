"""Levers for one trainee: the body the intake describes, settings in use, limits, and the hand-load of what was done."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from uuid import UUID

from psycopg import Connection

from wise_perch.api.errors import Refused
from wise_perch.api.knowing import NO_FRAME, House, KnownTrainee, evidence_of, know, today_of
from wise_perch.core.body.body_units import in_rulers, rulers_of
from wise_perch.core.body.ladders import Tested, hardest_clean
from wise_perch.core.body.levers import own_body
from wise_perch.core.body.loads import HandLoad, hand_load, share_of
from wise_perch.core.body.outlook import FirstRep, PressTested, Reps, straddle_press, wall_push_up
from wise_perch.core.body.segments import Body, UnlikelyBody
from wise_perch.core.body.words import setup_lines
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Evidence, Form, Measure
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trade.mechanics import Lever
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import say_share
from wise_perch.store import arrangements, levers, trainees
from wise_perch.store.levers import Work


def body_of(profile: Profile | None) -> Body | None:
    """The body of a trainee, or None while stature is not known. Raises Refused (422) for lengths no body has."""
    try:
        return own_body(profile)
    except UnlikelyBody as error:
        raise Refused(422, f"{error} Put the measures right first.") from error


def likely_body(profile: Profile | None) -> Body | None:
    """The body of a trainee, or None while it is not known or can not be."""
    try:
        return own_body(profile)
    except UnlikelyBody:
        return None


def made_from(syllabus: Syllabus, profile: Profile | None) -> str:
    """What a hand-load is worked out from: the syllabus, and the measures it reads."""
    if profile is None or profile.stature_cm is None:
        return f"{syllabus.version} unmeasured"
    own = " ".join(f"{name}={cm:g}" for name, cm in sorted(profile.lengths_cm.items()))
    return f"{syllabus.version} {profile.stature_cm:g} {own}".strip()


def refresh_loads(
    db: Connection, trainee: UUID, syllabus: Syllabus, profile: Profile | None, *, run: UUID | None = None, piece: UUID | None = None
) -> None:
    """Work out the hand-load of everything that has none, or one from other measures; of one run or piece alone where given."""
    stamp = made_from(syllabus, profile)
    waiting = levers.unloaded(db, trainee, made_from=stamp, run=run, piece=piece)
    if not waiting:
        return
    body, mechanics = likely_body(profile), syllabus.mechanics
    # the same drill at the same setting comes again and again: its share is worked out once
    shares: dict[tuple[str, tuple[tuple[str, float], ...]], tuple[float, str] | None] = {}
    found: list[tuple[UUID, HandLoad | None]] = []
    for work in waiting:
        drill = syllabus.drills.get(work.drill or mechanics.test_drills.get(work.test, ""))
        if drill is None:
            found.append((work.id, None))
            continue
        dial = _dial_of(work, drill)
        key = (drill.drill, tuple(sorted(dial.items())))
        if key not in shares:
            shares[key] = share_of(mechanics, drill, body, dial)
        load = hand_load(mechanics, shares[key], measure=Measure(work.measure), value=work.value, window_s=work.window_s)
        found.append((work.id, load))
    levers.keep_loads(db, trainee, found, made_from=stamp)


def _dial_of(work: Work, drill: Drill) -> dict[str, float]:
    """The settings of a piece of work: as recorded, or the step of a test's ladder it was made at."""
    level = {drill.dial.name: work.level} if work.level is not None and drill.dial else {}
    return {**level, **work.dial}


@dataclass(frozen=True)
class Levering:
    """All that levers need of a trainee. `chosen`: the settings picked for each drill."""

    known: KnownTrainee
    body: Body | None
    chosen: Mapping[str, levers.ChosenSetting]
    pieces: Sequence[Evidence]
    on: date

    @property
    def mass_known(self) -> bool:
        """Somebody has weighed the trainee."""
        return bool(self.known.frame.profile and self.known.frame.profile.mass_kg)

    def tested(self, drill: Drill) -> Tested | None:
        """The hardest setting of a drill that went clean, by the drill itself and those that differ only in their gate."""
        if drill.dial is None:
            return None
        kin = [d.drill for d in self.known.syllabus.drills.values() if d.drill == drill.drill or (drill.family and d.family == drill.family)]
        stale = self.known.syllabus.rules.stale_after_days.value
        return hardest_clean(self.pieces, drills=kin, dial=drill.dial, on=self.on, stale_after_days=stale)

    def begin(self, drill: Drill) -> float | None:
        """Where a drill's dial begins; for low confidence where the shy begin."""
        if drill.dial is None:
            return None
        profile = self.known.frame.profile
        shy = bool(profile and profile.confidence is not None and profile.confidence <= self.known.syllabus.rules.low_confidence.value)
        start = drill.dial.shy if shy and drill.dial.shy else drill.dial.start
        return start.value if start else None

    def set_to(self, drill: Drill) -> dict[str, float]:
        """The dial settings a drill is done at now: as chosen, else at the tested limit, else where it begins."""
        if chosen := self.chosen.get(drill.drill):
            return dict(chosen.settings)
        if drill.dial is None:
            return {}
        tested = self.tested(drill)
        setting = tested.setting if tested else self.begin(drill)
        return {} if setting is None else {drill.dial.name: setting}


def lever_or_refuse(syllabus: Syllabus, name: str) -> Lever:
    """The lever of this name. Raises Refused (404)."""
    found = syllabus.mechanics.lever(name)
    if found is None:
        raise Refused(404, "There is no such lever.")
    return found


def checked(lever: Lever, settings: Mapping[str, float]) -> dict[str, float]:
    """Settings that the lever has knobs for and that lie within them. Raises Refused (422)."""
    for name, value in settings.items():
        knob = lever.knob(name)
        if knob is None:
            raise Refused(422, f"{lever.title} has no setting named {name[:60]}.")
        if not knob.least <= value <= knob.most:
            raise Refused(422, f"{knob.title} of {value:g} lies outside {knob.least:g} to {knob.most:g} {knob.unit}.")
    return dict(settings)


def outlooks(levering: Levering) -> tuple[FirstRep, ...]:
    """How near the first reps are, where there is evidence to say so; the fold as it was last set for a press."""
    syllabus, body = levering.known.syllabus, levering.body
    if body is None:
        return ()
    usual = syllabus.mechanics.outlook
    found = [wall_push_up(_reps_done(levering, body), syllabus.mechanics)]
    if levering.mass_known:
        fold = _last_set(levering, "fold", usual.fold_deg.value)
        straddle = _last_set(levering, "straddle", usual.straddle_deg.value)
        found.append(straddle_press(body, _press_tested(levering), syllabus.mechanics, fold_deg=fold, straddle_deg=straddle))
    return tuple(x for x in found if x)


def _last_set(levering: Levering, knob: str, usual: float) -> float:
    """A knob as it was last chosen for any drill of the press, else as usual."""
    lever = levering.known.syllabus.mechanics.lever("press")
    chosen = [c for name, c in levering.chosen.items() if lever and name in lever.drills and knob in c.settings]
    return max(chosen, key=lambda c: c.at).settings[knob] if chosen else usual


def _reps_done(levering: Levering, body: Body) -> list[Reps]:
    """Clean sets of push-line reps at a share that is known, that are not stale."""
    syllabus, done = levering.known.syllabus, []
    for piece in levering.pieces:
        drill = syllabus.drills.get(piece.drill)
        fresh = 0 <= (levering.on - piece.day).days <= syllabus.rules.stale_after_days.value
        if drill is None or not fresh or piece.measure is not Measure.REPS or piece.form is not Form.CLEAN or piece.value < 1:
            continue
        lever = syllabus.mechanics.of_drill(drill.drill, drill.family)
        if lever is None or lever.group != "push" or not piece.dial:
            continue
        if share := share_of(syllabus.mechanics, drill, body, piece.dial):
            at = ", ".join(f"{name.replace('-', ' ')} {value:g} cm" for name, value in piece.dial.items())
            done.append(Reps(reps=int(piece.value), share=share[0], words=f"{drill.title}, {at}", day=piece.day))
    return done


def _press_tested(levering: Levering) -> PressTested | None:
    drills = [d for d in levering.known.syllabus.drills.values() if d.drill in levering.known.syllabus.mechanics.outlook.press_drills]
    found = [t for d in drills if (t := levering.tested(d)) and not t.old]
    best = min(found, key=lambda t: t.setting, default=None)
    return None if best is None else PressTested(surface_cm=max(0.0, best.setting), day=best.day)


@dataclass(frozen=True)
class Dialled:
    """Where a drill's dial stands for a trainee: `setting`, `words` in their own lengths, and what their size makes of it."""

    setting: float | None
    words: str
    lines: tuple[str, ...]
    lever: str


def dialled_of(db: Connection, trainee: UUID, known: KnownTrainee, drill: Drill, pieces: Sequence[Evidence], *, on: date) -> Dialled:
    """Say where a drill's dial stands for a trainee and what their own size makes of it."""
    syllabus, profile = known.syllabus, known.frame.profile
    lever = syllabus.mechanics.of_drill(drill.drill, drill.family)
    body = likely_body(profile)
    levering = Levering(known, body, levers.settings(db, trainee), pieces, on)
    set_to = levering.set_to(drill)
    setting = set_to.get(drill.dial.name) if drill.dial else None
    words = ""
    if setting is not None and drill.dial:
        words = f"{setting:g}{'°' if drill.dial.unit == 'deg' else ' cm'}"
        own = in_rulers(setting, rulers_of(syllabus.intake, profile)) if drill.dial.unit != "deg" else ""
        words += f", {own}" if own else ""
    return Dialled(setting, words, lines_for(known, drill, set_to), lever.lever if lever else "")


def settings_said(known: KnownTrainee, drill: Drill | None, settings: Mapping[str, float]) -> str:
    """Settings as they are said: "hands to feet 84 cm, surface 0 cm"."""
    lever = known.syllabus.mechanics.of_drill(drill.drill, drill.family) if drill else None
    knobs = [(lever.knob(name), value) for name, value in settings.items()] if lever else []
    return ", ".join(f"{k.title.lower()} {value:g}{'°' if k.unit == 'deg' else ' cm'}" for k, value in knobs if k)


def lines_for(known: KnownTrainee, drill: Drill | None, settings: Mapping[str, float]) -> tuple[str, ...]:
    """What a trainee's own size makes of a drill's set-up at these settings; nothing while it is not known."""
    mechanics, body = known.syllabus.mechanics, likely_body(known.frame.profile)
    lever = mechanics.of_drill(drill.drill, drill.family) if drill else None
    if lever is None or body is None:
        return ()
    return setup_lines(mechanics, lever, body, {name: value for name, value in settings.items() if lever.knob(name)})


@dataclass(frozen=True)
class ShareShown:
    """What a rung puts on the hands, as it is said, and the setting it is for: "77 %", "hands to feet 95 cm"."""

    share: str
    at: str


def push_shares(levering: Levering) -> dict[str, ShareShown]:
    """What each rung of the push line puts on the hands at the setting in use."""
    syllabus, body = levering.known.syllabus, levering.body
    found: dict[str, ShareShown] = {}
    if body is None:
        return found
    for drill in syllabus.drills.values():
        lever = syllabus.mechanics.of_drill(drill.drill, drill.family)
        if syllabus.line_of[drill.drill] in syllabus.mechanics.share_lines:
            set_to = levering.set_to(drill)
            if share := share_of(syllabus.mechanics, drill, body, set_to):
                at = set_to.get(drill.dial.name) if drill.dial and lever and lever.group else None
                words = f"{drill.dial.name.replace('-', ' ')} {at:g} cm" if drill.dial and at is not None else ""
                found[drill.drill] = ShareShown(say_share(share[0]), words)
    return found


def levering_of(db: Connection, trainee: UUID, house: House) -> Levering:
    """Gather what levers need of a trainee."""
    on = today_of(house.coach)
    pieces = evidence_of(db, [trainee], house)[trainee]
    known = know(db, trainee, house, on=on, pieces=pieces)
    return Levering(known, body_of(known.frame.profile), levers.settings(db, trainee), pieces, on)


def sized(db: Connection, trainee: UUID, house: House) -> tuple[Syllabus, Profile, Body]:
    """The body alone, for a move of the dial: no evidence is read. Raises Refused (409) while stature is not known."""
    trainees.one(db, trainee)
    frame = arrangements.of(db, [trainee], time_zone=house.coach.time_zone).get(trainee, NO_FRAME)
    made = body_of(frame.profile)
    if frame.profile is None or made is None:
        raise Refused(409, "Enter stature first: everything here is worked out from it.")
    return house.by(frame.schools), frame.profile, made
