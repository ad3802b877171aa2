"""How a skill is made easier, as data: the ways of the trade with their steps, the forms a skill can have,
and what each form stands on.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from wise_perch.core.trade.content import Need, Pillar
from wise_perch.core.trade.decision import Figure, Origin
from wise_perch.core.trade.gates import Dial, Gate

At = Mapping[str, str]
"""Where a skill stands on the ways it has: the name of a step, by the name of its way."""
Choices = Mapping[str, tuple[str, ...]]
"""Steps by the name of their way, any of which will do; ways not named may stand anywhere."""


def fits(at: At, asked: Choices) -> bool:
    """Whether a skill stands on one of the asked steps of every way asked."""
    return all(at.get(way) in steps for way, steps in asked.items())


@dataclass(frozen=True, slots=True, kw_only=True)
class EaseStep:
    """One step of a way. `before` and `after` are said around the skill's name, `words` tell it in a title.

    `gate` and `dial` replace the skill's own on this step. `held`: a wall takes what balance lacks; `raised`:
    a fall from it comes from a height. `only`, `not_with`: the skills it makes sense for.
    """

    step: str
    title: str
    before: str = ""
    after: str = ""
    about: str = ""
    words: tuple[str, ...] = ()
    kit: tuple[str, ...] = ()
    gate: Gate | None = None
    dial: Dial | None = None
    held: bool = False
    raised: bool = False
    only: Choices | None = None
    not_with: Choices | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class EaseWay:
    """One way of making a skill easier; its steps go from the easiest to the hardest. `usual`: where a skill
    stands of which nothing is said.
    """

    way: str
    title: str
    about: str
    origin: Origin
    steps: tuple[EaseStep, ...]
    usual: str = ""

    def place(self, step: str) -> int:
        """How hard a step is, from 0. Raises StopIteration for one that is not there."""
        return next(n for n, s in enumerate(self.steps) if s.step == step)


@dataclass(frozen=True, slots=True, kw_only=True)
class Ease:
    """A way that a form is eased by. `stays`: what is easier still is eased in this too."""

    way: str
    stays: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class SkillForm:
    """A kind of skill: how it is measured unless said otherwise, how it is eased, what it is asked about,
    what it stands on (`base`, and `base_held` for what is done at a wall).

    `unless`: by way, the skills that are not eased so; `without`: steps that make no sense for it; `lighter`:
    drills of the same movement with less weight on the hands, the heaviest first.
    """

    form: str
    title: str
    words: tuple[str, ...]
    pillar: Pillar
    inverted: bool
    gate: Gate
    eases: tuple[Ease, ...]
    asks: tuple[str, ...]
    base: tuple[Need, ...]
    base_held: tuple[Need, ...]
    head: bool = False
    unless: Mapping[str, Choices] | None = None
    without: Choices | None = None
    lighter: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownSkill:
    """A drill that is there already, as a form and where it stands on the ways."""

    drill: str
    form: str
    at: At


@dataclass(frozen=True, slots=True, kw_only=True)
class SideRule:
    """What a skill needs beside its own line. `away`: only away from the wall; `whole`: only where nothing is
    taken off the skill but its surface and lever.
    """

    side: str
    title: str
    need: Need
    why: str
    away: bool = False
    whole: bool = False
    forms: tuple[str, ...] = ()
    only: Choices | None = None


@dataclass(frozen=True, kw_only=True)
class Easing:
    """All of it. `less`: the share of a standard that the step before asks for; `least_hold_s`: no hold is
    asked for less; `first_said`: the order in which words before a name are spoken.
    """

    less: Figure
    least_hold_s: Figure
    first_said: tuple[str, ...]
    ways: tuple[EaseWay, ...]
    forms: tuple[SkillForm, ...]
    known: tuple[KnownSkill, ...]
    sides: tuple[SideRule, ...]

    def way(self, name: str) -> EaseWay:
        """A way by its name. Raises StopIteration."""
        return next(w for w in self.ways if w.way == name)

    def form(self, name: str) -> SkillForm:
        """A form by its name. Raises StopIteration."""
        return next(f for f in self.forms if f.form == name)

    def step(self, way: str, name: str) -> EaseStep:
        """A step by its way and name. Raises StopIteration."""
        return next(s for s in self.way(way).steps if s.step == name)
