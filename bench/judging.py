"""What judgement costs in CPU: from everything that was recorded, and from what is kept of it."""

import time
from collections.abc import Callable, Sequence
from datetime import date, timedelta
from random import Random

from wise_perch.core.trade.evidence import Evidence, Form, Side
from wise_perch.core.trainee.brief import make_brief
from wise_perch.core.trainee.case import Case, judge_case, judge_marks
from wise_perch.core.trainee.known import Known, know
from wise_perch.core.trainee.stored import Arrangement
from wise_perch.core.trainee.to_decide import find_matters
from wise_perch.store.known import KNOWN
from wise_perch.syllabus.shipped import in_use

ON = date(2026, 5, 31)
Said = Callable[..., None]


def history(dice: Random, pieces: int) -> list[Evidence]:
    """Evidence over all drills and two years, somewhat below and above the gates."""
    drills = list(in_use().drills.values())
    found = []
    for _ in range(pieces):
        d = dice.choice(drills)
        gate = d.gate
        share = dice.uniform(0, 1.2)
        value = (
            gate.start - (gate.start - gate.value) * share
            if gate.fewer and gate.start is not None
            else round(share * gate.value)
        )
        found.append(
            Evidence(
                drill=d.drill,
                day=ON - timedelta(days=dice.randrange(700)),
                measure=gate.measure,
                value=value,
                n=gate.of,
                form=Form.CLEAN,
                mode=gate.mode,
                side=dice.choice(list(Side)) if gate.each_side else None,
            )
        )
    return found


def case_of(pieces: Sequence[Evidence], *, goals: int) -> Case:
    """A trainee with so many goals chosen, as the api loads one."""
    chosen = tuple(g.goal for g in in_use().content.goals)[:goals]
    return Case(
        on=ON,
        syllabus=in_use(),
        arrangement=Arrangement(schools={}, goals=chosen, waivers=(), profile=None),
        sets=pieces,
        rest_s=45,
        float_switch_s=5,
    )


def whole_standing(pieces: Sequence[Evidence], *, goals: int) -> None:
    """Every gate state, perch and chosen goal's path, said in full, and what to decide."""
    judged = judge_case(case_of(pieces, goals=goals))
    judged.standing.say()
    find_matters(judged)


def judge_kept(kept: Known, *, goals: int) -> None:
    """A new day's brief by what is kept: every gate's state, the goals' paths, what to decide, the bays."""
    make_brief(judge_marks(case_of((), goals=goals), kept.marks, kept.past), open_run=None)


def cpu_ms(work: Callable[[], object], times: int) -> float:
    """The CPU time of a call, ms."""
    work()
    begun = time.process_time()
    for _ in range(times):
        work()
    return (time.process_time() - begun) / times * 1000


def judging(line: Said) -> None:
    """Print what judgement costs."""
    pieces, two, every = history(Random(3), 2000), 2, len(in_use().content.goals)
    reference = cpu_ms(lambda: sorted(pieces, key=lambda p: (p.drill, p.day)), 50)
    for goals, named in ((two, "two goals"), (every, "all nine")):
        took = cpu_ms(lambda: whole_standing(pieces, goals=goals), 30)  # noqa: B023 - called at once
        line(
            f"standing, 2,000 pieces, {named}",
            f"{took:.1f} ms CPU ({took / reference:.1f} x sorting them)",
            "10 ms",
            good=took < 10,
        )
    few = [history(Random(n), 500) for n in range(20)]
    cold = cpu_ms(lambda: [whole_standing(p, goals=two) for p in few], 3) / 20
    line(
        "standing, 1,000 x 500 pieces, two goals",
        f"{cold:.1f} s CPU ({cold / reference * 1000:.0f} x)",
        "5 s",
        good=cold < 5,
    )
    kept = [know(sets=p, runs=(), syllabus=in_use(), stature_cm=None) for p in few]
    texts = [KNOWN.dump_json(k, exclude_defaults=True) for k in kept]
    warm = cpu_ms(lambda: [judge_kept(k, goals=two) for k in kept], 3) / 20
    read = cpu_ms(lambda: [KNOWN.validate_json(t) for t in texts], 3) / 20
    line(
        "a new day for 1,000, by what is kept of them",
        f"{warm:.1f} s CPU, and {read:.1f} s to read it ({warm / reference * 1000:.0f} x)",
        "1 s",
        good=warm < 1,
    )
