"""What a coach changes in a syllabus of their own: a rung inserted, a gate or dose set again, a cue written,
a drill retired.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace

from wise_perch.core.trade.content import Amendment, Content, Drill, Goal, Line, Place
from wise_perch.core.trade.own_test import OwnTest
from wise_perch.core.trade.schools import Rungs, changed_drill, move_drill


class EditRefused(ValueError):
    """An edit that cannot be made; the text is a sentence."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Edit:
    """One change of a syllabus: either a drill to `insert` in a line at a `place`, or something about
    `drill`.

    `change` sets its gate, doses, cues or needs; `place` moves it; `retired` takes it out of use or brings it
    back; `add_to_goals` names it as a support of goals, so that one of them leads to it. `new_line` and
    `new_goal` come with `drill`, the one that the goal asks for. `goal` takes the place of one of its name
    or stands last. `own_test` comes with the drill it is for, and takes the place of one of its name;
    `aside` sets `test` aside or takes it back.
    """

    drill: str
    insert: Drill | None = None
    line: str | None = None
    place: Place | None = None
    change: Amendment | None = None
    title: str | None = None
    about: str | None = None
    retired: bool | None = None
    add_to_goals: tuple[str, ...] = ()
    new_line: Line | None = None
    new_goal: Goal | None = None
    goal: Goal | None = None
    own_test: OwnTest | None = None
    test: str = ""
    aside: bool | None = None


def with_edits(content: Content, edits: Iterable[Edit]) -> Content:
    """Make edits one after the other. Raises EditRefused for one that names what is not there."""
    for edit in edits:
        if edit.new_line or edit.new_goal:
            content = _add_new(content, edit)
            continue
        if edit.goal:
            content = _put_goal(content, edit.goal)
            continue
        if edit.own_test or edit.aside is not None:
            content = _alter_tests(content, edit)
            continue
        content = _insert_drill(content, edit) if edit.insert else _alter_line(content, edit)
        if edit.add_to_goals:
            content = replace(content, goals=tuple(_is_supported(g, edit) for g in content.goals))
    return content


def _add_new(content: Content, edit: Edit) -> Content:
    """A line at the end of the lines, a goal at the end of the goals. What stands there already is kept."""
    line, goal = edit.new_line, edit.new_goal
    if line and line.line in {x.line for x in content.lines}:
        raise EditRefused(f"There is a line named {line.line} already.")
    if goal and goal.goal in {g.goal for g in content.goals}:
        raise EditRefused(f"There is a goal named {goal.goal} already.")
    return replace(
        content,
        lines=(*content.lines, line) if line else content.lines,
        goals=(*content.goals, goal) if goal else content.goals,
    )


def _put_goal(content: Content, goal: Goal) -> Content:
    """A goal in the place of the one of its name, or at the end. One that asks for nothing is refused."""
    if not goal.drills:
        raise EditRefused(f"{goal.title or goal.goal} asks for no drill: name at least one.")
    if not goal.title.strip():
        raise EditRefused("A goal needs a title.")
    there = goal.goal in {g.goal for g in content.goals}
    goals = tuple(goal if g.goal == goal.goal else g for g in content.goals)
    return replace(content, goals=goals if there else (*goals, goal))


def _alter_tests(content: Content, edit: Edit) -> Content:
    """A coach's own test put in, or in the place of what it was; a test set aside or taken back."""
    tests, aside = content.own_tests, [name for name in content.tests_aside if name != edit.test]
    if own := edit.own_test:
        there = own.test in {t.test for t in tests}
        tests = tuple(own if t.test == own.test else t for t in tests) if there else (*tests, own)
    if edit.aside:
        aside.append(edit.test)
    return replace(content, own_tests=tests, tests_aside=tuple(aside))


def _is_supported(goal: Goal, edit: Edit) -> Goal:
    if goal.goal not in edit.add_to_goals or edit.drill in goal.supports:
        return goal
    return replace(goal, supports=(*goal.supports, edit.drill))


def _insert_drill(content: Content, edit: Edit) -> Content:
    drill = edit.insert
    names = {d.drill for line in content.lines for rung in line.rungs for d in rung}
    if drill is None or drill.drill in names:
        raise EditRefused(f"There is a drill named {edit.drill} already.")
    if edit.line not in {line.line for line in content.lines}:
        raise EditRefused(f"There is no line named {edit.line}.")
    return _with_line(content, edit.line or "", lambda rungs: move_drill(rungs, drill, edit.place or Place()))


def _alter_line(content: Content, edit: Edit) -> Content:
    home = next(
        (line for line in content.lines for rung in line.rungs for d in rung if d.drill == edit.drill), None
    )
    if home is None:
        raise EditRefused(f"There is no drill named {edit.drill}.")

    def alter(rungs: Rungs) -> None:
        rung = next(r for r in rungs if any(d.drill == edit.drill for d in r))
        at = next(n for n, d in enumerate(rung) if d.drill == edit.drill)
        rung[at] = _alter_drill(rung[at], edit)
        if edit.place:
            move_drill(rungs, rung.pop(at), edit.place)

    return _with_line(content, home.line, alter)


def _alter_drill(d: Drill, edit: Edit) -> Drill:
    if edit.change:
        d = changed_drill(d, edit.change)
    parts = {
        name: value for name in ("title", "about", "retired") if (value := getattr(edit, name)) is not None
    }
    return replace(d, **parts)


def _with_line(content: Content, name: str, alter: Callable[[Rungs], None]) -> Content:
    lines: list[Line] = []
    for line in content.lines:
        if line.line == name:
            rungs = [list(rung) for rung in line.rungs]
            alter(rungs)
            line = replace(line, rungs=tuple(tuple(rung) for rung in rungs if rung))
        lines.append(line)
    return replace(content, lines=tuple(lines))
