"""The sheets of all tests: no sequence of inputs loses a try, exceeds the tries or ends without a reason."""

import json
import os
import shutil
import subprocess
import sys
from collections import Counter
from dataclasses import asdict, replace
from itertools import pairwise
from pathlib import Path
from random import Random
from typing import Any

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from tests.core.test_standing import TODAY
from wise_perch.core.bench.layout import lay_out
from wise_perch.core.bench.run_sheet import Sheet, walk_run
from wise_perch.core.bench.sound_tests import find_test_faults
from wise_perch.core.body.kit import KitItem, rungs_of_kit
from wise_perch.core.scoring import judge_tries
from wise_perch.core.scoring.verdict import RunFacts
from wise_perch.core.trade.evidence import Form, Side, Try
from wise_perch.core.trade.protocol import Rung, exact_rungs, try_problem
from wise_perch.core.trade.protocol import Test as BenchTest
from wise_perch.machine.browser_side import ensure_packages
from wise_perch.machine.places import WEB
from wise_perch.syllabus.shipped import built_in

SYLLABUS = built_in()
TESTS = SYLLABUS.tests
KIT = [
    KitItem(kind="pad", thickness_cm=5, count=3),
    KitItem(kind="pad", thickness_cm=3, count=2),
    KitItem(kind="plate", thickness_cm=2.5, count=4),
]
FIFTEEN = [
    "free-tries",
    "wall-landings",
    "heel-float",
    "toe-float",
    "wall-hold",
    "push-floor",
    "timed-lowering",
    "feet-in-pike",
    "press-start",
    "stalder-target",
    "rep-maximum",
    "simple-hold",
    "overhead-reach",
    "fold",
    "wrist-bend",
]


def sheet_of(test: BenchTest, subject: str = "", *, kit: bool = False, **more: Any) -> Sheet:
    drill = next((d for d in SYLLABUS.subjects(test) if d.drill == subject or not subject), None)
    made = {m.mode: rungs_of_kit(m.ladder, KIT) for m in test.modes if m.ladder} if kit else None
    return lay_out(test, subject=drill, rungs=made, **more)


def test_all_fifteen_are_there_in_the_order_they_are_run() -> None:
    """Fifteen tests, the open floor first and mobility last."""
    assert list(TESTS) == FIFTEEN


@pytest.mark.parametrize("name", FIFTEEN)
def test_each_test_is_sound(name: str) -> None:
    """Its data fits its scoring, its modes lead somewhere, its keys are its own."""
    assert find_test_faults(TESTS[name]) == []
    assert TESTS[name].setup
    assert TESTS[name].cautions
    assert TESTS[name].instead


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (lambda t: replace(t, scoring="guessing"), "no way of scoring"),
        (lambda t: replace(t, rules={}), "asks for the rules"),
        (lambda t: replace(t, drills={}), "asks for the drills"),
        (lambda t: replace(t, decisions={}), "its decisions are"),
        (lambda t: replace(t, modes=()), "it needs modes"),
        (lambda t: replace(t, modes=(replace(t.modes[0], then="nowhere"),)), "leads to nowhere"),
        (lambda t: replace(t, modes=(replace(t.modes[0], marks=()),)), "has no outcome"),
        (
            lambda t: replace(
                t, modes=(replace(t.modes[0], marks=(replace(t.modes[0].marks[0], key="z"),)),)
            ),
            "the key z is taken",
        ),
        (lambda t: replace(t, rest_usual_s=replace(t.rest_usual_s, value=900)), "its rest goes"),
    ],
)
def test_an_unsound_test_is_named(change: Any, said: str) -> None:
    """Each fault in a test's data comes as a sentence."""
    assert any(said in what for what in find_test_faults(change(TESTS["heel-float"])))


# --- floats -------------------------------------------------------------------------------------------------


def held(*values: float, mode: str = "seconds", start: int = 1) -> list[Try]:
    return [
        Try(number=n, outcome="counted" if mode == "touches" else "held", value=v, mode=mode)
        for n, v in enumerate(values, start)
    ]


@pytest.mark.parametrize(
    ("below", "value", "mode"),
    [(5, 4.9, "touches"), (5, 5.0, "seconds"), (3, 4.9, "seconds"), (3, 2.9, "touches")],
)
def test_an_early_end_goes_over_to_counting(below: float, value: float, mode: str) -> None:
    """A float that ends before the coach's own figure is measured in touches from there on."""
    now = walk_run(sheet_of(TESTS["heel-float"], early_below=below), held(value))
    assert now.step
    assert (now.step.mode, now.switched) == (mode, mode == "touches")


def test_a_short_last_try_is_part_of_the_average() -> None:
    """With three tries made the average stands, however short the last one was."""
    now = walk_run(sheet_of(TESTS["heel-float"]), held(10, 8, 2))
    assert (now.step, now.over) == (None, "All tries are made.")


def test_who_cannot_leave_the_wall_goes_on_with_a_light_foot() -> None:
    """The coach's own choice moves a run to another way of measuring, from the start or from counting."""
    sheet = sheet_of(TESTS["toe-float"])
    assert sheet.steps[sheet.first].change == "light-foot 1"
    now = walk_run(sheet, held(4, mode="light-foot"))
    assert now.step
    assert (now.step.mode, now.number, now.of) == ("light-foot", 2, 2)


def test_a_try_put_right_later_leaves_the_others_counted() -> None:
    """With the first try corrected from short to long, the windows counted after it still stand."""
    tries = [*held(8), *held(6, 5, mode="touches", start=2)]
    now = walk_run(sheet_of(TESTS["heel-float"]), tries)
    assert now.step
    assert (now.step.mode, now.number, now.of) == ("touches", 3, 3)


# --- ladders ------------------------------------------------------------------------------------------------


def climb(sheet: Sheet, passes: Any, *, most: int = 40) -> tuple[list[Try], str]:
    """Try what the sheet proposes, passing where `passes(mode, level)` says so."""
    tries: list[Try] = []
    while (now := walk_run(sheet, tries)).step and len(tries) < most:
        level = now.step.levels[0]
        outcome = "clean" if passes(now.step.mode, level) else "missed"
        tries.append(Try(number=len(tries) + 1, outcome=outcome, mode=now.step.mode, level=level))
    return tries, now.over


@pytest.mark.parametrize("limit", [40, 30, 17.5, 10, 2.5, 0, -5, -15])
def test_the_floor_finder_finds_the_limit(limit: float) -> None:
    """Whatever height somebody can press from, the proposals end at it, to the notch."""
    tries, over = climb(
        sheet_of(TESTS["push-floor"]), lambda mode, level: mode == "lowering" or level >= limit
    )
    pressed = [
        t.level for t in tries if t.mode == "pressing" and t.outcome == "clean" and t.level is not None
    ]
    assert min(pressed) == limit
    assert over


def test_lowering_begins_where_pressing_ended() -> None:
    """The first height lowered to is the one that was pressed from."""
    tries, _ = climb(sheet_of(TESTS["push-floor"]), lambda _, level: level >= 10)
    lowered = [t.level for t in tries if t.mode == "lowering"]
    assert lowered[0] == 10


def test_lowering_never_goes_more_than_a_step_lower_at_once() -> None:
    """With kit that makes only far-apart heights, lowering ends with a reason and does not jump."""
    far = [KitItem(kind="pad", thickness_cm=12, count=3)]
    test = TESTS["push-floor"]
    sheet = lay_out(test, rungs={m.mode: rungs_of_kit(m.ladder, far) for m in test.modes if m.ladder})
    tries, over = climb(sheet, lambda mode, level: mode == "lowering" or level >= 24)
    lowered = [t.level for t in tries if t.mode == "lowering" and t.level is not None]
    assert lowered == [24]
    assert "more than a step" in over


def test_a_miss_is_retried_in_between_or_ends() -> None:
    """A miss proposes the height in between; with none left to make, the ladder ends and says so."""
    sheet = sheet_of(TESTS["push-floor"])
    tries = [
        Try(number=n, outcome=o, mode="pressing", level=v)
        for n, o, v in ((1, "clean", 20), (2, "missed", 15))
    ]
    now = walk_run(sheet, tries)
    assert now.step
    assert (now.step.levels[0], now.step.whole) == (17.5, True)
    assert now.step.say == "Passed at 20 cm, missed at 15 cm: one in between, or end here."


def test_a_first_miss_goes_back_a_step() -> None:
    """Missed before anything was passed, the next try is a whole step easier."""
    now = walk_run(sheet_of(TESTS["press-start"]), [Try(number=1, outcome="missed", mode="start", level=40)])
    assert now.step
    assert now.step.levels == (50,)


def test_a_side_is_asked_for_where_there_are_two() -> None:
    """The wrist is measured on both sides in turn, the preferred one first."""
    sheet = sheet_of(TESTS["wrist-bend"], first_side=Side.LEFT)
    tries = [Try(number=n, outcome="measured", value=80, mode="bend") for n in range(1, 4)]
    sides = [now.step.side for n in range(4) if (now := walk_run(sheet, tries[:n])).step]
    assert sides == [Side.LEFT, Side.RIGHT, Side.LEFT, Side.RIGHT]


# --- whatever is done ---------------------------------------------------------------------------------------


def every_sheet() -> list[tuple[BenchTest, Sheet]]:
    found = []
    for test in TESTS.values():
        subjects = SYLLABUS.subjects(test) or (None,)
        found += [(test, lay_out(test, subject=d)) for d in subjects[:3]]
        found += [(test, sheet_of(test, kit=True, early_below=3))]
    return found


@pytest.mark.parametrize(
    ("test", "sheet"), every_sheet(), ids=lambda x: x.test if isinstance(x, BenchTest) else ""
)
def test_a_sheet_leads_everywhere_and_ends(test: BenchTest, sheet: Sheet) -> None:
    """Every way leads to a step or an end, each outcome of each step has a way, and every end has its
    reason.
    """
    assert all(sheet.ends.values())
    for name, step in sheet.steps.items():
        mode = test.mode(step.mode)
        for way in step.ways:
            assert way.to in sheet.steps or way.to in sheet.ends, (name, way)
        for mark in mode.marks:
            for level in step.levels or (None,):
                fitting = [
                    w
                    for w in step.ways
                    if w.outcome in (None, mark.outcome) and w.below is None and w.level in (None, level)
                ]
                assert fitting, (name, mark.outcome, level)
        assert not step.change or step.change in sheet.steps or step.change in sheet.ends


class OnTheBench(RuleBasedStateMachine):
    """A coach at the Bench doing anything the screen offers, in any order, at any time."""

    @initialize(which=st.sampled_from(every_sheet()))
    def begin(self, which: tuple[BenchTest, Sheet]) -> None:
        self.test, self.sheet = which
        self.tries: list[Try] = []
        self.entered = 0
        self.struck = 0

    @property
    def now(self) -> Any:
        return walk_run(self.sheet, self.tries)

    def keep(self, data: Any, mode_name: str, levels: tuple[float, ...], side: Side | None) -> None:
        mode = self.test.mode(mode_name)
        mark = data.draw(st.sampled_from(mode.marks))
        whole = mode.measure in ("reps", "touches", "rate")
        value = (
            data.draw(st.integers(0, 30).map(float) if whole else st.floats(0, 60)) if mark.figure else None
        )
        level = data.draw(st.sampled_from(levels)) if levels else None
        form = data.draw(st.sampled_from([None, *Form]))
        number = max((t.number for t in self.tries), default=0) + 1
        made = Try(
            number=number,
            outcome=mark.outcome,
            value=value,
            mode=mode.mode,
            level=level,
            side=side,
            form=form,
            fell=mark.fell,
        )
        assert try_problem(self.test, made) is None
        self.tries.append(made)
        self.entered += 1

    @precondition(lambda self: self.now.step is not None)
    @rule(data=st.data())
    def make_a_try(self, data: Any) -> None:
        """Try what the sheet says."""
        step = self.now.step
        self.keep(data, step.mode, step.levels, step.side)

    @precondition(lambda self: self.now.step is not None and self.now.step.change in self.sheet.steps)
    @rule(data=st.data())
    def go_on_by_hand(self, data: Any) -> None:
        """Go over to the next way of measuring."""
        step = self.sheet.steps[self.now.step.change]
        self.keep(data, step.mode, step.levels, step.side)

    @precondition(lambda self: self.tries)
    @rule()
    def take_back(self) -> None:
        """Take the last try back."""
        self.tries.pop()
        self.struck += 1

    @precondition(lambda self: self.tries)
    @rule(data=st.data())
    def put_right(self, data: Any) -> None:
        """Correct any try to anything its mode knows."""
        n = data.draw(st.integers(0, len(self.tries) - 1))
        old = self.tries[n]
        mark = data.draw(st.sampled_from(self.test.mode(old.mode).marks))
        value = float(data.draw(st.integers(0, 20))) if mark.figure else None
        self.tries[n] = replace(old, outcome=mark.outcome, value=value, fell=mark.fell)

    @invariant()
    def nothing_is_lost(self) -> None:
        """Every try entered is there unless it was taken back, and the run's judgement counts them all."""
        if not hasattr(self, "test"):
            return
        assert len(self.tries) == self.entered - self.struck
        known = RunFacts(
            day=TODAY, subject=next(iter(SYLLABUS.subjects(self.test)), None), drills=SYLLABUS.drills
        )
        verdict = judge_tries(self.test, self.tries, known)
        assert verdict.n == len(self.tries)
        assert verdict.reasons
        assert verdict.decision in {*self.test.decisions, "no-try"}

    @invariant()
    def the_tries_are_not_exceeded(self) -> None:
        """The sheet never asks for a try beyond the most there are, and is over once they are made."""
        if not hasattr(self, "test"):
            return
        now = self.now
        if now.step:
            assert now.number <= now.of == self.sheet.tries[now.step.mode]
        made = Counter(t.mode for t in self.tries)
        assert all(n <= self.sheet.tries[mode] for mode, n in made.items())

    @invariant()
    def an_end_has_its_reason(self) -> None:
        """A run that is over says why."""
        if hasattr(self, "test") and self.now.step is None:
            assert self.now.over


OnTheBench.TestCase.settings = settings(
    max_examples=120, stateful_step_count=25, suppress_health_check=list(HealthCheck)
)
TestOnTheBench = OnTheBench.TestCase


@pytest.mark.parametrize("name", FIFTEEN)
def test_following_the_sheet_ends_within_the_most_tries(name: str) -> None:
    """Doing what the sheet proposes, well or badly, comes to an end within the tries there are."""
    test = TESTS[name]
    for good in (True, False):
        sheet, tries = sheet_of(test), list[Try]()
        while (now := walk_run(sheet, tries)).step:
            mode = test.mode(now.step.mode)
            mark = next((m for m in mode.marks if m.passed in (None, good)), mode.marks[0])
            value = (10.0 if good else 1.0) if mark.figure else None
            level = now.step.levels[0] if now.step.levels else None
            tries.append(
                Try(
                    number=len(tries) + 1,
                    outcome=mark.outcome,
                    value=value,
                    mode=mode.mode,
                    level=level,
                    side=now.step.side,
                )
            )
            assert len(tries) <= test.most_tries
        assert now.over


def test_notches_run_from_easy_to_hard() -> None:
    """A ladder's settings begin at the easiest and end at the hardest, a notch apart."""
    the = TESTS["feet-in-pike"].modes[0].ladder
    assert the
    levels = [r.level for r in exact_rungs(the)]
    assert (levels[0], levels[-1]) == (150, 30)
    assert all(a - b == 5 for a, b in pairwise(levels))
    assert Rung(level=1).stack == ""


# --- the same in the browser --------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def walker(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The browser's own walker, compiled as it stands, with a few lines around it that read runs and write
    where they stand.
    """
    ensure_packages()
    folder = tmp_path_factory.mktemp("walker")
    source = WEB / "src/live/sheet.ts"
    made = [
        *node(),
        str(WEB / "node_modules/typescript/bin/tsc"),
        str(source),
        "--outDir",
        str(folder),
        "--module",
        "es2022",
        "--target",
        "es2022",
    ]
    subprocess.run(
        [*made, "--skipLibCheck", "--moduleResolution", "bundler"], check=False, capture_output=True
    )
    (found,) = folder.rglob("sheet.js")
    (folder / "package.json").write_text('{"type": "module"}')
    ask = folder / "ask.js"
    ask.write_text(
        f"import {{ walk }} from {json.dumps(str(found))};\nlet text = ''; for await (const chunk of"
        " process.stdin) text += chunk;\nconst { sheets, asked } = JSON.parse(text);\nconst said ="
        " asked.map(({ sheet, tries }) => {\n  const now = walk(sheets[sheet], tries);\n  return"
        " [now.step?.mode ?? null, now.step?.levels ?? [], now.over, now.number, now.of,"
        " now.switched];\n});\nconsole.log(JSON.stringify(said));\n"
    )
    return ask


def node() -> list[str]:
    """The node that builds the browser side."""
    found = shutil.which("node", path=f"{Path(sys.executable).parent}{os.pathsep}{os.environ['PATH']}")
    assert found, "the browser side is built with node, so it is here"
    return [found]


def any_tries(test: BenchTest, sheet: Sheet, dice: Random) -> list[Try]:
    """A run of any length: mostly what the sheet asks for, now and then something else."""
    tries: list[Try] = []
    for number in range(1, dice.randrange(1, 14)):
        now = walk_run(sheet, tries)
        mode = test.mode(now.step.mode) if now.step and dice.random() < 0.9 else dice.choice(test.modes)
        mark = dice.choice(mode.marks)
        level = (
            dice.choice(now.step.levels)
            if now.step and now.step.levels
            else dice.choice([None, 7.3, 20])
            if mode.ladder
            else None
        )
        value = dice.choice([0, 2.5, 4.9, 5.0, 8, 12]) if mark.figure else None
        tries.append(
            Try(
                number=number,
                outcome=mark.outcome,
                value=value,
                mode=dice.choice([mode.mode] * 9 + [""]),
                level=level,
            )
        )
    return tries


def test_the_browser_walks_as_the_core_does(walker: Path) -> None:
    """Over a thousand runs, walked here and by the browser's own code, come to the same step, number
    and end.
    """
    dice = Random(7)
    sheets = every_sheet()
    runs = [(n, any_tries(test, sheet, dice)) for n, (test, sheet) in enumerate(sheets) for _ in range(40)]
    expected = []
    for n, tries in runs:
        now = walk_run(sheets[n][1], tries)
        expected.append(
            [
                now.step.mode if now.step else None,
                list(now.step.levels) if now.step else [],
                now.over,
                now.number,
                now.of,
                now.switched,
            ]
        )
    asked = {
        "sheets": [asdict(s) for _, s in sheets],
        "asked": [{"sheet": n, "tries": [asdict(t) for t in tries]} for n, tries in runs],
    }
    done = subprocess.run(
        [*node(), str(walker)], input=json.dumps(asked), capture_output=True, text=True, check=True
    )
    assert len(runs) > 1000
    assert json.loads(done.stdout) == expected
