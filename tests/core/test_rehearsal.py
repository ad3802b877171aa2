"""The plan on trial: simulated trainees who do what it says get better, and see nothing that is not
recorded.
"""

from dataclasses import replace
from datetime import timedelta
from random import Random

import pytest

from bench.rehearsal import KINDS, begin
from tests.core.planning import SYLLABUS, a_case, done
from tests.core.test_standing import TODAY
from wise_perch.core.rehearsal.learner import Learner, World, chance, draw_world, learner_like
from wise_perch.core.rehearsal.notebook import train_by_notebook
from wise_perch.core.rehearsal.rehearse import Rehearsed, rehearse, train_by_plan
from wise_perch.core.trade.evidence import Measure
from wise_perch.core.trade.gates import Gate

WEEKS = 8


def run(name: str, *, seed: int, weeks: int = WEEKS, by_plan: bool = True) -> Rehearsed:
    kind = KINDS[name]
    learner, case = begin(kind, name, seed)
    train = train_by_plan if by_plan else train_by_notebook
    return rehearse(learner, train, case, days=kind.days, weeks=weeks)


@pytest.mark.parametrize("name", ["beginner", "comes back", "presser"])
def test_whoever_follows_the_plan_gets_better(name: str) -> None:
    """Over eight weeks gates are newly met, no fewer than with a notebook, most sets go as asked, hands are
    loaded, and the way to the goal is walked about as far or farther; bench/rehearsal.py compares both over
    many worlds.
    """
    plan, notebook = run(name, seed=3), run(name, seed=3, by_plan=False)
    assert plan.gates >= max(2, notebook.gates)
    assert plan.steps >= 0.8 * notebook.steps
    assert plan.share_as_asked is not None
    assert plan.share_as_asked >= 0.7
    assert plan.weeks_without_change <= 6
    assert len({w.sets for w in plan.weeks}) == WEEKS, "no two weeks are alike"
    assert all(w.load_s > 0 for w in plan.weeks)
    assert all(w.sets for w in plan.weeks)


def test_the_same_seed_gives_the_same_weeks_and_another_one_others() -> None:
    """A rehearsal can be repeated, and does not lean on one world."""
    first, again, other = (run("at the wall", seed=seed, weeks=3) for seed in (1, 1, 2))
    assert first == again
    assert [w.load_s for w in first.weeks] != [w.load_s for w in other.weeks]


def test_what_is_left_fades_and_what_is_worked_grows() -> None:
    """Work near what goes today teaches, easy work hardly does, and months without take something back."""
    still = World(growth=1, fading=1, noise=0, fear=0)

    def somebody() -> Learner:
        return Learner(SYLLABUS, still, Random(1), {"shape": 1.0})

    drill, day = SYLLABUS.drills["hollow-hold"], TODAY
    near, easy, idle = somebody(), somebody(), somebody()
    before = near.fill(drill)
    near.learn(drill, [0.9, 0.9, 0.9], day)
    easy.learn(drill, [0.3, 0.3, 0.3], day)
    assert near.fill(drill) > before
    assert easy.fill(drill) == before
    idle.learn(drill, [0.9, 0.9, 0.9], day)
    grown = idle.fill(drill)
    idle.wake(day + timedelta(days=60), since=day)
    assert idle.fill(drill) < grown


def test_work_carries_what_stands_on_it_and_only_what_was_gained_fades() -> None:
    """The low climb helps the wall walk that stands on it, and nothing beside; a drill that was never done
    does not get worse with the months.
    """
    world = World(growth=1, fading=1, noise=0, fear=0)
    learner = Learner(SYLLABUS, world, Random(1), {"shape": 3.0, "strength": 3.0, "confidence": 3.0})
    climb, walk, hop = (SYLLABUS.drills[n] for n in ("low-wall-climb", "wall-walk", "side-hops"))
    before = {d.drill: learner.fill(d) for d in (walk, hop)}
    learner.wake(TODAY + timedelta(days=90), since=TODAY)
    assert {d.drill: learner.fill(d) for d in (walk, hop)} == before
    learner.ability["strength"] = learner.ability["shape"] = 3.0
    learner.learn(climb, [0.9, 0.9, 0.9], TODAY + timedelta(days=90))
    assert learner.own["wall-walk"] > 0
    assert learner.own["side-hops"] == 0


def test_a_gate_that_is_just_filled_is_passed_as_often_as_it_asks() -> None:
    """Seven of ten is seven of ten; five of five takes somebody who hardly ever misses."""
    seven = Gate(measure=Measure.RATE, value=7, of=10, origin="ours")
    assert chance(1.0, seven) == pytest.approx(0.7)
    assert chance(1.0, replace(seven, value=5, of=5)) == pytest.approx(0.97)
    assert chance(0.5, seven) < 0.7 < chance(2.0, seven)


def test_a_simulated_trainee_begins_where_a_real_one_stands() -> None:
    """What is on record goes, and what was never reached does not."""
    case = a_case(done("hollow-hold", 30, ago=3), done("tuck-hollow-hold", 30, ago=3))
    learner = learner_like(case, Random(1))
    assert learner.fill(SYLLABUS.drills["hollow-hold"]) == pytest.approx(1, rel=0.35)
    assert learner.fill(SYLLABUS.drills["free-hold-10"]) < 0.2


def test_worlds_differ() -> None:
    """Growth, fading, noise and fear are drawn anew for each."""
    drawn = [draw_world(Random(n)) for n in range(40)]
    assert max(w.growth for w in drawn) > 1.2 > 0.8 > min(w.growth for w in drawn)
    assert max(w.fear for w in drawn) > 0.4
