"""Every test from set-up to decision in the real interface, once by keys alone and once by touch alone."""

import re
from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import Server, arrive
from wise_perch.syllabus.shipped import built_in

TESTS = built_in().tests
WHO = "Runa Aske"

Play = tuple[str, dict[str, str], list[tuple[str, Any]], str, str]
"""A drill to choose, fields to fill, what is done, the decision it comes to, and a figure on the page."""

PLAYS: dict[str, Play] = {
    "free-tries": ("", {}, [("mark", "Overshot")] * 10, "both-floats", "10 of 10"),
    "wall-landings": (
        "",
        {},
        [("mark", "Landed softly")] * 7 + [("mark", "Landed with a thud")] * 3,
        "reached",
        "7 of 10",
    ),
    "heel-float": (
        "",
        {},
        [("hold", 3.2), ("window", 4), ("window", 4), ("window", 5)],
        "fewer-touches",
        "in 15 s",
    ),
    "toe-float": ("", {}, [("ceiling", 10)] * 3, "reached", "10.0 s"),
    "wall-hold": ("back-to-wall-hold", {}, [("hold", 31), ("hold", 12)], "reached", "30 s"),
    "push-floor": (
        "",
        {},
        [
            ("mark", "Pressed"),
            ("mark", "Missed"),
            ("mark", "Go on to lowering"),
            ("mark", "In control"),
            ("end", ""),
        ],
        "train-here",
        "missed at",
    ),
    "timed-lowering": (
        "lowering-to-floor",
        {"Pad height, cm": "0"},
        [("hold", 5.5), ("hold", 4), ("hold", 4)],
        "reached",
        "on the flat floor",
    ),
    "feet-in-pike": (
        "",
        {},
        [("mark", "Passed"), ("mark", "Missed"), ("end", "")],
        "train-here",
        "missed at",
    ),
    "press-start": (
        "partial-press-wall",
        {},
        [("mark", "Passed"), ("mark", "Missed"), ("end", "")],
        "train-here",
        "missed at",
    ),
    "stalder-target": (
        "",
        {},
        [("mark", "Passed"), ("mark", "Missed"), ("end", "")],
        "train-here",
        "missed at",
    ),
    "rep-maximum": ("push-up", {}, [("count", 16), ("end", "")], "reached", "16"),
    "simple-hold": ("hollow-hold", {}, [("hold", 31), ("hold", 5)], "reached", "30 s"),
    "overhead-reach": ("", {}, [("number", 8), ("number", 9)], "reached", "10° or less"),
    "fold": ("pancake", {}, [("number", 9), ("number", 12)], "reached", "10 cm or less"),
    "wrist-bend": (
        "",
        {},
        [("number", 85), ("number", 84), ("number", 86), ("number", 83)],
        "reached",
        "80° a side",
    ),
}
KEYS = {
    **{
        "Overshot": "o",
        "Landed softly": "Enter",
        "Landed with a thud": "h",
        "Pressed": "Enter",
        "Passed": "Enter",
        "In control": "Enter",
    },
    **{"Missed": "m", "Go on to lowering": "e"},
}


def test_every_test_has_a_play() -> None:
    """Nothing on the Bench goes undriven."""
    assert list(PLAYS) == list(TESTS)


class ByKeys:
    """A coach with a keyboard and nothing else."""

    def __init__(self, page: Page) -> None:
        self.page = page

    def set_up(self, fields: dict[str, str]) -> None:
        for label, value in fields.items():
            self.page.get_by_label(label).focus()
            self.page.keyboard.press("Control+a")
            self.page.keyboard.type(value)
        self.page.get_by_role("checkbox").focus()
        self.page.keyboard.press("Space")
        expect(self.page.get_by_role("button", name="Begin the test")).to_be_focused()
        self.page.keyboard.press("Space")

    def mark(self, title: str) -> None:
        self.page.keyboard.press(KEYS[title])

    def hold(self, seconds: float) -> None:
        self.page.keyboard.press("Space")
        expect(self.page.get_by_text("· holding")).to_be_visible()
        self.page.clock.fast_forward(int(seconds * 1000))
        self.page.keyboard.press("Space")
        self.page.keyboard.press("Enter")

    def ceiling(self, seconds: float) -> None:
        self.page.keyboard.press("Space")
        expect(self.page.get_by_text("· holding")).to_be_visible()
        self.page.clock.fast_forward(int(seconds * 1000) + 300)
        expect(self.page.get_by_text("how did it end?")).to_be_visible()
        self.page.keyboard.press("Enter")

    def window(self, touches: int) -> None:
        self.page.keyboard.press("Space")
        expect(self.page.get_by_text("· under way")).to_be_visible()
        for _ in range(touches):
            self.page.keyboard.press("t")
        self.page.clock.fast_forward(15_200)
        expect(self.page.get_by_text("how did it end?")).to_be_visible()
        self.page.keyboard.press("Enter")

    def count(self, reps: int) -> None:
        self.page.keyboard.press("Space")
        expect(self.page.get_by_text("· under way")).to_be_visible()
        for _ in range(reps):
            self.page.keyboard.press("t")
        self.page.keyboard.press("Space")
        self.page.keyboard.press("Enter")

    def number(self, value: int) -> None:
        expect(self.page.get_by_role("textbox")).to_be_focused()
        self.page.keyboard.type(str(value))
        self.page.keyboard.press("Enter")

    def end(self, _: str) -> None:
        self.page.keyboard.press("f")

    def decide(self) -> None:
        self.page.keyboard.press("4")
        expect(self.page.get_by_role("button", name="4 sure")).to_have_attribute("aria-pressed", "true")
        self.page.keyboard.press("Enter")


class ByTouch:
    """A coach with a chalked thumb and nothing else."""

    def __init__(self, page: Page) -> None:
        self.page = page

    def tap(self, name: str) -> None:
        self.page.get_by_role("button", name=name, exact=True).tap()

    def set_up(self, fields: dict[str, str]) -> None:
        for label, value in fields.items():
            self.page.get_by_label(label).tap()
            self.page.get_by_label(label).fill(value)
        self.page.get_by_role("checkbox").tap()
        self.tap("Begin the test")

    def mark(self, title: str) -> None:
        self.tap(title)

    def _start(self) -> None:
        self.page.get_by_role("button", name=re.compile("^Start( early)?$")).tap()

    def hold(self, seconds: float) -> None:
        self._start()
        self.page.clock.fast_forward(int(seconds * 1000))
        self.tap("Stop")
        self.tap("Keep")

    def ceiling(self, seconds: float) -> None:
        self._start()
        self.page.clock.fast_forward(int(seconds * 1000) + 300)
        self.tap("Keep")

    def window(self, touches: int) -> None:
        self._start()
        for _ in range(touches):
            self.tap("Touch")
        self.page.clock.fast_forward(15_200)
        self.tap("Keep")

    def count(self, reps: int) -> None:
        self._start()
        for _ in range(reps):
            self.tap("One more")
        self.tap("Stop")
        self.tap("Keep")

    def number(self, value: int) -> None:
        tens, ones = round(value / 10), value - 10 * round(value / 10)
        for _ in range(tens):
            self.tap("up by 10")
        for _ in range(abs(ones)):
            self.tap("up by 1" if ones > 0 else "down by 1")
        self.tap("Keep")

    def end(self, _: str) -> None:
        self.page.get_by_role("button", name=re.compile("^(End here|Stop the test)")).tap()

    def decide(self) -> None:
        self.tap("4 sure")
        self.tap("See the decision")


@pytest.fixture
def phone(browser: Browser, hall: Server) -> Iterator[Page]:
    """The demo on a phone, signed in."""
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True)
    page = context.new_page()
    arrive(page, hall)
    expect(page.get_by_role("heading", level=1)).to_contain_text("trainees")
    yield page
    context.close()


def play(page: Page, coach: ByKeys | ByTouch, trainee: str, test: str) -> None:
    subject, fields, todo, decision, figure = PLAYS[test]
    page.goto(f"{trainee}/bench/test/{test}{f'?subject={subject}' if subject else ''}")
    expect(page.get_by_role("heading", level=1)).to_have_text(TESTS[test].title)
    expect(page.get_by_text(TESTS[test].cautions[-1])).to_be_visible()
    coach.set_up(fields)
    # the strip is there once the run is
    expect(page.get_by_role("img", name=re.compile("^Tries so far"))).to_be_visible()
    for n, (what, how) in enumerate(todo):
        getattr(coach, what)(how)
        if n == 0:
            expect(page.get_by_text("The tries in words")).to_be_visible()
    if todo[-1][0] != "end":
        coach.decide()
    # the whole page, so that a failure says what stood there instead
    expect(page.get_by_role("main")).to_contain_text(TESTS[test].decisions[decision].title)
    expect(page.get_by_role("heading", level=1)).to_have_text(TESTS[test].decisions[decision].title)
    expect(page.get_by_role("heading", name="Why")).to_be_visible()
    expect(page.get_by_role("region", name="Figures")).to_contain_text(figure)
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth"), f"{test} scrolls sideways"


def address(page: Page) -> str:
    href = page.get_by_role("link", name=WHO, exact=True).get_attribute("href")
    return page.url.rstrip("/") + str(href)


def test_every_test_by_keys_alone(coach: Page) -> None:
    """Each of the fifteen is set up, run and decided without a pointer."""
    trainee = address(coach)
    coach.clock.install()
    for test in TESTS:
        play(coach, ByKeys(coach), trainee, test)


def test_every_test_by_touch_alone(phone: Page) -> None:
    """Each of the fifteen is set up, run and decided by thumb on a phone, and none scrolls sideways."""
    trainee = address(phone)
    phone.clock.install()
    for test in TESTS:
        play(phone, ByTouch(phone), trainee, test)
