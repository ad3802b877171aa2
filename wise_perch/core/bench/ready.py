"""A test made ready for one trainee: its sheet by the coach's kit and settings, and by what is known of the
trainee.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from wise_perch.core.bench.layout import lay_out
from wise_perch.core.bench.remembered_limits import RememberedLimit, begin_at, remember_limits
from wise_perch.core.bench.run_sheet import Sheet
from wise_perch.core.body.kit import rungs_of_kit
from wise_perch.core.trade.content import Drill
from wise_perch.core.trade.evidence import Side
from wise_perch.core.trade.gates import Dial
from wise_perch.core.trade.protocol import Test, exact_rungs
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import JudgedCase


class NotRun(Exception):
    """There is no such test, or it is not run for that drill; the sentence says which."""


@dataclass(frozen=True, kw_only=True)
class Subject:
    """A drill a test can be run for. `dial`: its setting is written down with the run. `upright`: the right
    way up.
    """

    drill: str
    title: str
    gate: str
    dial: Dial | None
    upright: bool


@dataclass(frozen=True)
class ReadyTest:
    """One test for one trainee, laid out. `limits`: what earlier tests left."""

    test: Test
    subject: Drill | None
    sheet: Sheet
    limits: tuple[RememberedLimit, ...]

    @property
    def subject_name(self) -> str:
        """The drill's name, or empty."""
        return self.subject.drill if self.subject else ""


def make_ready(case: JudgedCase, *, test: str, subject: str = "", begin: float | None = None) -> ReadyTest:
    """Make a test ready: settings that the kit makes, beginning where the trainee's own limits and nerve say,
    or at `begin`.

    Raises: NotRun for a test or drill that is not there.
    """
    the_test, drill = find_test(case.syllabus, test, subject)
    kept = remember_limits(case.history, case.syllabus, on=case.on)
    starts = begin_at(
        the_test,
        kept,
        drill=drill.drill if drill else "",
        confidence=case.profile.confidence if case.profile else None,
        shy_up_to=case.syllabus.rules.low_confidence.value,
    )
    if begin is not None:
        starts[the_test.modes[0].mode] = begin
    sheet = lay_out(
        the_test,
        subject=drill,
        rungs={m.mode: rungs_of_kit(m.ladder, case.kit) for m in the_test.modes if m.ladder},
        starts=starts,
        early_below=case.float_switch_s,
        first_side=case.stepping_side or Side.RIGHT,
    )
    return ReadyTest(the_test, drill, sheet, kept)


def find_test(syllabus: Syllabus, test: str, subject: str) -> tuple[Test, Drill | None]:
    """Find a test and the drill it is run for; without a name the first there is. Raises NotRun."""
    found = syllabus.tests.get(test)
    if found is None:
        raise NotRun(f'There is no test "{test[:60]}".')
    drills = syllabus.subjects(found)
    if not (found.subjects or found.every):
        if subject:
            raise NotRun(f"{found.title} is not run for one drill.")
        return found, None
    drill = next((d for d in drills if d.drill == subject), None) if subject else next(iter(drills), None)
    if drill is None:
        raise NotRun(f'{found.title} is not run for "{subject[:60]}".')
    return found, drill


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


def why_held_back(test: Test, case: JudgedCase, *, upright: bool, subject: str = "") -> str:
    """Why a test has to wait: nothing upside down before the intake's clearance, nor of `subject` what the
    intake keeps closed; empty where it does not.
    """
    if case.uncleared and not (test.upright or upright):
        return f"Nothing upside down yet. {case.uncleared[0].advice}"
    waits = case.drills[subject].waits if subject in case.drills else ()
    shut = next((w for w in waits if w.state in ("cleared", "caution")), None)
    return f"{shut.sentence}." if shut else ""


def drill_set_up(ready: ReadyTest, syllabus: Syllabus) -> Drill | None:
    """The drill a test is set up as: the tested one, or the one whose position it takes."""
    test, drills = ready.test, syllabus.drills
    names = [
        ready.subject_name,
        syllabus.mechanics.test_drills.get(test.test, ""),
        *test.drills.values(),
        *test.subjects,
    ]
    return next((drills[name] for name in names if name in drills), None)


def settings_at_begin(
    ready: ReadyTest, dial: Mapping[str, float], chosen: Mapping[str, float]
) -> dict[str, float]:
    """The settings a test begins with: its own, the first step of its ladder, and what else was chosen for
    the drill.
    """
    ladder, first = ready.test.modes[0].ladder, ready.sheet.steps[ready.sheet.first]
    begins = {**dial, **({ladder.dial: first.levels[0]} if ladder and first.levels else {})}
    return {**(dict(chosen) if begins else {}), **begins}


def usual_rest(test: Test, case: JudgedCase, last: int | None) -> int:
    """The rest as it was the last time; before there was one, as the coach has it for the open floor or as
    the test says, s.
    """
    if last is not None:
        return last
    open_floor = test.test == case.syllabus.free_tries.test
    return round(case.rest_s if open_floor else test.rest_usual_s.value)


def settings_to_begin_at(test: Test) -> tuple[float, ...]:
    """The settings a test's ladder may begin at."""
    ladder = test.modes[0].ladder
    return tuple(r.level for r in exact_rungs(ladder)) if ladder else ()
