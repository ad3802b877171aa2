"""Where a trainee stands: every gate met, proven, stale or waived, every drill open or closed and why, the
perch of each line.

Two steps, so that a day's change costs nothing: `marks` (a module of its own) boils evidence down to what
never depends on today's date, and `standing` reads those marks on a given day.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cached_property

from wise_perch.core.trade.content import Drill, Line, Need, Pillar, Rules
from wise_perch.core.trade.evidence import Measure
from wise_perch.core.trade.gates import stage_gate
from wise_perch.core.trade.intake import Profile, awaits_clearance
from wise_perch.core.trade.session_lookup import joints_of
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trade.words import say_day
from wise_perch.core.trainee.marks import Best, TraineeMarks, is_enough
from wise_perch.core.trainee.stored import Waiver
from wise_perch.core.trainee.wall import NOTHING, GateReading, State, Wall, read_wall
from wise_perch.core.trainee.wording import say_reading, say_shortfall, wait_sentence


@dataclass(frozen=True, slots=True, kw_only=True)
class Wait:
    """One unmet need of a closed drill: any one of `any_of`, at least `state`, and the sentence that says so.

    `state` is "enough" where drills make up for each other, "cleared" where the coach's confirmation is
    awaited, "caution" where the intake closes it for good.
    """

    any_of: tuple[str, ...]
    state: str
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class StageStanding:
    """A working stage on the way to the gate, and whether clean evidence has reached it."""

    text: str
    origin: str
    reached: bool
    best: Best | None


@dataclass(frozen=True, slots=True, kw_only=True)
class DrillStanding:
    """One bar of the wall bars. `fill` from 0 to 1 says how much of the gate the clean evidence fills,
    `exceeds` without a top.

    `figure` is the short reading on the bar, `shortfall` the sentence; `evidence` the newest passes that say
    so; `prove_by` and `stale_on` are days; `easy` when it is no longer worth its time.
    """

    drill: str
    title: str
    about: str
    line: str
    pillar: Pillar
    gate: str
    origin: str
    measure: Measure
    state: State
    waiver: Waiver | None
    fill: float
    exceeds: float
    figure: str
    shortfall: str
    best: Best | None
    evidence: tuple[Best, ...]
    stages: tuple[StageStanding, ...]
    confidence: int | None
    last_day: date | None
    last_pass: date | None
    prove_by: date | None
    stale_on: date | None
    easy: bool
    open: bool
    waits: tuple[Wait, ...]
    opens: tuple[str, ...]
    inverted: bool
    guarded: bool
    optional: bool
    out_of_order: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LineStanding:
    """One bay: rungs from the lowest up, the perch, and the drills ahead of and behind it."""

    line: str
    title: str
    about: str
    rungs: tuple[tuple[DrillStanding, ...], ...]
    perch: str | None
    perch_rung: int
    ahead: tuple[str, ...]
    behind: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class Standing:
    """The whole of the wall bars on one day, said in full."""

    on: date
    lines: tuple[LineStanding, ...]


class WallBars:
    """The wall bars on one day. A drill is put into words when it is first asked for: most questions ask for
    few of them.
    """

    def __init__(self, wall: Wall, *, waivers: Mapping[str, Waiver], shut: Mapping[str, Wait]) -> None:
        """Stand before a wall already read. `shut`: drills that the intake keeps closed."""
        self.wall, self.on = wall, wall.on
        self._waivers, self._shut = waivers, shut
        self._said: dict[str, DrillStanding] = {}
        self._perches: dict[str, int] = {}

    def __eq__(self, other: object) -> bool:
        """Whether two say the same."""
        return isinstance(other, WallBars) and (self.on, self.lines) == (other.on, other.lines)

    __hash__ = None  # type: ignore[assignment]

    def drill(self, name: str) -> DrillStanding:
        """How one drill stands. Raises KeyError for a name that is not on any line."""
        found = self._said.get(name)
        if found is None:
            line, height = self.wall.syllabus.place_of[name]
            found = self._said[name] = _drill_standing(
                self.wall.syllabus.drills[name],
                self.wall,
                line.line,
                self._waivers.get(name),
                shut=self._shut.get(name),
                above_perch=height > self.perch_rung(line) + 1,
            )
        return found

    def every(self) -> Mapping[str, DrillStanding]:
        """Every drill by its name."""
        return _Every(self)

    def perch_rung(self, line: Line) -> int:
        """The height of a line's perch; -1 where not even the lowest rung is met."""
        if line.line not in self._perches:
            self._perches[line.line] = _perch_rung(line.rungs, self.wall.gates)
        return self._perches[line.line]

    def ahead(self, line: Line) -> tuple[str, ...]:
        """The drills of a line that are to be met next."""
        return _drills_ahead(line.rungs, self.wall.gates, self.perch_rung(line))

    @cached_property
    def lines(self) -> tuple[LineStanding, ...]:
        """Every line in full."""
        return tuple(self._say_line(line) for line in self.wall.syllabus.lines)

    def _say_line(self, line: Line) -> LineStanding:
        rungs = tuple(tuple(self.drill(d.drill) for d in rung) for rung in line.rungs)
        perch_rung = self.perch_rung(line)
        here = [d.drill for d in rungs[perch_rung] if d.state is not State.NOT_YET] if perch_rung >= 0 else []
        return LineStanding(
            line=line.line,
            title=line.title,
            about=line.about,
            rungs=rungs,
            perch=here[0] if here else None,
            perch_rung=perch_rung,
            ahead=self.ahead(line),
            behind=tuple(d.drill for d in line.rungs[perch_rung - 1]) if perch_rung >= 1 else (),
        )

    def say(self) -> Standing:
        """All of it in full."""
        return Standing(on=self.on, lines=self.lines)


class _Every(Mapping[str, DrillStanding]):
    """Every drill by its name, each put into words when it is asked for."""

    def __init__(self, bars: WallBars) -> None:
        self._bars, self._drills = bars, bars.wall.syllabus.drills

    def __getitem__(self, name: str) -> DrillStanding:
        return self._bars.drill(name)

    def __contains__(self, name: object) -> bool:
        return name in self._drills

    def __iter__(self) -> Iterator[str]:
        return iter(self._drills)

    def __len__(self) -> int:
        return len(self._drills)


NOT_CLEARED = Wait(
    any_of=(),
    state="cleared",
    sentence=(
        "What the intake's cautions ask for, a licensed clinician's word or a guardian's, and then the"
        " coach's confirmation"
    ),
)


def standing(
    trainee_marks: TraineeMarks,
    syllabus: Syllabus,
    *,
    on: date,
    waivers: Mapping[str, Waiver] | None = None,
    shut: Mapping[str, Wait] | None = None,
    lines: Mapping[str, float] | None = None,
) -> WallBars:
    """Read the marks on day `on`: states, open and closed with reasons, perches, what is ahead and behind.

    `waivers` by drill; `shut`: drills that the intake keeps closed; `lines`: of each drill how far off its
    best kept line is, degrees.
    """
    wall = read_wall(trainee_marks, syllabus, on=on, waivers=waivers, lines=lines)
    return standing_of(wall, waivers=waivers, shut=shut)


def shut_by_cautions(syllabus: Syllabus, profile: Profile | None) -> dict[str, Wait]:
    """What the intake's cautions keep shut: before the word that they ask for nothing upside down, nor what
    loads a joint that they name; and what a yes closes whatever the word.
    """
    found: dict[str, Wait] = {}
    uncleared = awaits_clearance(syllabus.intake, profile)
    joints = {j for q in uncleared for j in q.joints}
    for name, drill in syllabus.drills.items() if uncleared else ():
        if name in syllabus.inverted or joints & set(joints_of(syllabus, drill)):
            found[name] = NOT_CLEARED
    for q in syllabus.intake.cautions:
        if profile and profile.cautions.get(q.caution):
            for name in q.closes:
                found.setdefault(
                    name,
                    Wait(
                        any_of=(), state="caution", sentence=f"Closed by the intake. {q.advice.rstrip('.')}"
                    ),
                )
    return found


def standing_of(
    wall: Wall, *, waivers: Mapping[str, Waiver] | None = None, shut: Mapping[str, Wait] | None = None
) -> WallBars:
    """Say what a wall already read comes to. `shut`: drills that the intake keeps closed."""
    return WallBars(wall, waivers=waivers or {}, shut=shut or {})


def _drills_ahead(
    rungs: tuple[tuple[Drill, ...], ...], gates: Mapping[str, GateReading], perch_rung: int
) -> tuple[str, ...]:
    """The unmet drills of the first rung above the perch that has any."""
    for rung in rungs[perch_rung + 1 :]:
        unmet = tuple(d.drill for d in rung if not gates[d.drill].met)
        if unmet:
            return unmet
    return ()


def _perch_rung(rungs: tuple[tuple[Drill, ...], ...], gates: Mapping[str, GateReading]) -> int:
    """The highest rung met with all below it met; -1 if not even the lowest is. An optional drill holds
    nobody back.
    """
    perch = -1
    for i, rung in enumerate(rungs):
        required = [d for d in rung if not d.optional]
        if required and not all(gates[d.drill].met for d in required):
            break
        if any(gates[d.drill].met for d in rung):
            perch = i
    return perch


def _drill_standing(
    d: Drill, wall: Wall, line: str, waiver: Waiver | None, *, shut: Wait | None, above_perch: bool
) -> DrillStanding:
    gate, syllabus, on = wall.gates[d.drill], wall.syllabus, wall.on
    rules, found, state = syllabus.rules, gate.found, gate.state
    needs, asked = syllabus.needs[d.drill], wall.needs_of(d.drill)
    unmet = [i for i, n in enumerate(needs) if not wall.satisfied(n) and (asked is needs or n in asked)]
    waits = tuple(_make_wait(needs[i], wall, wall.texts.needs[d.drill][i]) for i in unmet)
    inverted = d.drill in syllabus.inverted
    if shut:
        waits = (shut, *waits)
    # a waiver opens nothing new in time: the days speak of evidence
    last = found.last_pass
    easy = (
        d.gate.easy_from is not None and found.best is not None and found.best.value >= d.gate.easy_from.value
    )
    return DrillStanding(
        drill=d.drill,
        title=d.title,
        about=d.about,
        line=line,
        pillar=syllabus.pillar_of[d.drill],
        gate=wall.texts.gates[d.drill],
        origin=d.gate.origin,
        measure=d.gate.measure,
        state=state,
        waiver=waiver,
        fill=1.0 if gate.met and state is not State.WAIVED else min(1.0, gate.fill),
        exceeds=gate.fill,
        figure=say_reading(found, gate.reading.gate, met=gate.met and state is not State.WAIVED),
        shortfall=_say_shortfall(gate, waiver, rules, on),
        best=found.best,
        evidence=found.passes,
        stages=_read_stages(d, wall) if d.stages else (),
        confidence=found.confidence,
        last_day=found.last_day,
        last_pass=last,
        # only a day done with confidence can be followed by a second one
        prove_by=(
            found.sure_on + timedelta(days=int(rules.proven_within_days.value))
            if found.sure_on and state is State.MET
            else None
        ),
        stale_on=last + timedelta(days=int(rules.stale_after_days.value) + 1) if last else None,
        easy=easy,
        open=not waits,
        waits=waits,
        opens=syllabus.opens[d.drill],
        inverted=inverted,
        guarded=d.guarded,
        optional=d.optional,
        out_of_order=above_perch and gate.met,
    )


def _say_shortfall(gate: GateReading, waiver: Waiver | None, rules: Rules, on: date) -> str:
    said = say_shortfall(
        gate.found,
        gate.reading.gate,
        side=gate.reading.side,
        met=(gate.met or gate.unlined) and gate.state is not State.WAIVED,
        stale=gate.state is State.STALE or (gate.state is State.WAIVED and gate.found.last_pass is not None),
        on=on,
    )
    asks_line = gate.reading.gate.line_within
    if gate.unlined and asks_line and gate.state is State.NOT_YET:
        return f"{said}. Its line is not shown yet: keep one from the side within {asks_line.value:g}°"
    if gate.state is State.MET and gate.found.shy and len(gate.found.passes) > 1:
        asked = f"{rules.proving_confidence.value:g}"
        return f"{said}. Proven asks for confidence {asked} or more on both days"
    return (
        f"waived on {say_day(waiver.day, on)}: {waiver.reason.removesuffix('.')}; {said}"
        if waiver and gate.state is State.WAIVED
        else said
    )


def _read_stages(d: Drill, wall: Wall) -> tuple[StageStanding, ...]:
    own, gate = wall.marks.get(d.drill, {}), wall.gates[d.drill]
    read = {r.key for r in wall.syllabus.readings[d.drill]}
    found = []
    for n, stage in enumerate(d.stages):
        key = f"stage {n}"
        best = own.get(key, NOTHING).best if key in read else gate.found.best
        asked = stage_gate(stage, d.gate)
        met = gate.met or (best is not None and is_enough(best.value, best.n, asked))
        found.append(
            StageStanding(text=wall.texts.stages[d.drill][n], origin=stage.origin, reached=met, best=best)
        )
    return tuple(found)


def _make_wait(need: Need, wall: Wall, text: str) -> Wait:
    if need.enough is not None:
        drills = {w: wall.syllabus.drills[w] for w in need.any_of}
        shares = {drills[w].title: wall.share(w) for w in need.any_of}
        return Wait(any_of=need.any_of, state="enough", sentence=wait_sentence(need, drills, shares=shares))
    return Wait(any_of=need.any_of, state=need.state, sentence=text)
