"""How the product speaks: what sixty generated people are told, and what the demo's files of content say, is
free of the ills that once puzzled coaches.
"""

import re
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from random import Random
from typing import Any

import pytest

from tests.core.planning import SYLLABUS, asked_for, planned, somebody, wished
from wise_perch.core.floor.session_sheet import lay_out_session
from wise_perch.core.trainee.brief import make_brief
from wise_perch.core.trainee.standing_still import find_standstills
from wise_perch.core.trainee.work_on import what_to_work_on

PEOPLE = 60
ILLS = {
    "anew": r"\banew\b",
    "can not": r"\bcan not\b",
    "holds it back": r"\bholds? it back\b",
    "holds up rungs": r"\bholds up\b",
    "k more of n": r"\b\d+ more of \d+",
    "to go, for a shortfall": r"\d\S* to go\b",
    "counts more": r"\bin counts more\b",
    "makes it proven": r"\bmakes it proven\b",
    "nothing of its family": r"\bnothing of its family\b",
    "a bare p": r"\bp = 0?\.\d",
    "more than two decimals": r"\d\.\d{3,}",
    "a percentage of almost nothing": r"\b([3-9]\d\d|2[1-9]\d|20[1-9]|\d{4,}) %",
    "a percentage with decimals": r"\d\.\d+ %",
    "two full stops": r"(?<!\.)\.\.(?!\.)",
    "a space before a stop": r"\s[.,;](?=\s|$)",
    "None": r"\bNone\b(?! of|:)",
}
RUNG = r"\b[Rr]ungs?\b"
MOST_WORDS = 25


def sentences(value: Any) -> Iterator[str]:
    """Every text of more than one word in what the core gives, however deep it lies."""
    if isinstance(value, str):
        if " " in value.strip():
            yield value
    elif isinstance(value, dict):
        for part in value.values():
            yield from sentences(part)
    elif isinstance(value, list | tuple):
        for part in value:
            yield from sentences(part)
    elif is_dataclass(value):
        for field in fields(value):
            yield from sentences(getattr(value, field.name))


def told(seed: int) -> tuple[set[str], set[str]]:
    """What is said of somebody: all of it, and what the Floor says while a session runs."""
    luck = Random(seed)
    goals = luck.sample([g.goal for g in SYLLABUS.content.goals], k=luck.choice((1, 1, 2, 3)))
    asked = asked_for(*somebody(luck), goals=goals)
    case = asked.case
    minutes = luck.choice((15, 40, 55, 75))
    week = planned(asked, wished(minutes, minutes, minutes, place=luck.choice(("hall", "home"))))
    sheets = [lay_out_session(day, case) for day in week.days if day.blocks]
    every = {
        *sentences(case.standing.say()),
        *sentences(case.goals),
        *sentences(make_brief(case, open_run=None)),
        *sentences(what_to_work_on(case)),
        *sentences(find_standstills(case)),
        *sentences(week),
        *sentences(sheets),
    }
    return every, set(sentences(sheets))


@pytest.fixture(scope="module")
def said() -> tuple[set[str], set[str]]:
    every: set[str] = set()
    live: set[str] = set()
    for seed in range(PEOPLE):
        all_of_it, on_the_floor = told(seed)
        every |= all_of_it
        live |= on_the_floor
    assert len(every) > 2_000
    return every, live


@pytest.mark.parametrize("ill", ILLS)
def test_nothing_that_is_said_has_an_ill(said: tuple[set[str], set[str]], ill: str) -> None:
    """No sentence of sixty people has it, whoever they are and wherever it stands."""
    found = sorted(s for s in said[0] if re.search(ILLS[ill], s))
    assert found == [], found[:5]


def test_the_content_has_no_ill() -> None:
    """What stands in the files of content: abouts, cues, cautions, doses, tests, words of sessions."""
    texts = [*sentences(SYLLABUS.content), *sentences(SYLLABUS.tests), *sentences(SYLLABUS.sessions)]
    texts += [*sentences(SYLLABUS.intake), *sentences(SYLLABUS.easing)]
    found = [(ill, t) for t in texts for ill, pattern in ILLS.items() if re.search(pattern, t)]
    assert found == []


def test_a_trainee_hears_of_steps_and_not_of_rungs(said: tuple[set[str], set[str]]) -> None:
    """On the Floor, in reasons and in advice it is a step or a drill."""
    assert sorted(s for s in said[0] if re.search(RUNG, s)) == []


def test_a_sentence_on_a_live_screen_is_short(said: tuple[set[str], set[str]]) -> None:
    """One idea a sentence: none on the Floor has more than twenty-five words, and none a semicolon."""
    parts = {p for text in said[1] for p in re.split(r"(?<=[.?!])\s", text)}
    assert sorted(p for p in parts if len(p.split()) > MOST_WORDS) == []
    assert sorted(p for p in parts if ";" in p) == []
