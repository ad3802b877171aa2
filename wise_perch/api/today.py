"""Between store and core: what Today shows of every trainee, kept ready."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from uuid import UUID

from psycopg import Connection
from pydantic import TypeAdapter

from wise_perch.api.cases import House, load_cases
from wise_perch.core.trainee.brief import TodayBrief, make_brief
from wise_perch.core.trainee.case import (
    Case,
    Past,
    gather_evidence,
    judge_marks,
    know_the_past,
    stature_of,
)
from wise_perch.core.trainee.marks import Marks, mark_evidence
from wise_perch.core.trainee.pain import Ache
from wise_perch.core.trainee.stored import Arrangement
from wise_perch.core.trainee.to_decide import URGENCY, OpenRun
from wise_perch.store import briefs, cases

MARKS = TypeAdapter(dict[str, dict[str, Marks]])


@dataclass(frozen=True, slots=True, kw_only=True)
class TimelessCase:
    """What never depends on the day: what was arranged and told, what past tests say, and the open run."""

    arrangement: Arrangement
    aches: tuple[Ache, ...]
    past: Past
    open_run: OpenRun | None = None


TIMELESS = TypeAdapter(TimelessCase)
BRIEF = TypeAdapter(TodayBrief)
Fresh = Mapping[UUID, tuple[dict[str, dict[str, Marks]], TimelessCase]]


def refresh_briefs(db: Connection, house: House, *, on: date) -> int:
    """Make the briefs again that are no longer true, and say how many. Only trainees with new evidence have
    theirs read.
    """
    coach, version = house.coach, house.syllabus.version
    old = briefs.old(db, syllabus=version, day=on, rest_s=coach.rest_s)
    fresh = _read_again(db, [b.trainee for b in old if b.marks is None], house)
    made = []
    for b in old:
        again = b.marks is None or b.tests is None
        if again:
            marks, timeless = fresh[b.trainee]
        else:
            marks, timeless = (
                MARKS.validate_python(b.marks, strict=False),
                TIMELESS.validate_python(b.tests, strict=False),
            )
        today = _make_brief(marks, timeless, house, on)
        made.append(
            briefs.Brief(
                trainee=b.trainee,
                evidence_version=b.evidence_version,
                syllabus=version,
                day=on,
                rest_s=coach.rest_s,
                urgency=URGENCY[today.matters[0].kind],
                marks=MARKS.dump_python(marks, mode="json", exclude_defaults=True) if again else None,
                tests=TIMELESS.dump_python(timeless, mode="json") if again else None,
                today=BRIEF.dump_python(today, mode="json"),
            )
        )
    if made:
        briefs.keep(db, made)
    return len(made)


def _read_again(db: Connection, trainees: Sequence[UUID], house: House) -> Fresh:
    if not trainees:
        return {}
    # a day far ahead: what is kept never depends on the day it is read on
    loaded = load_cases(db, trainees, house, on=date.max)
    open_runs = cases.open_runs(db, trainees, time_zone=house.coach.time_zone)
    found = {}
    for id, one in loaded.items():
        evidence = gather_evidence(one.case)
        found[id] = (
            mark_evidence(evidence, one.case.syllabus, stature_cm=stature_of(one.case)),
            TimelessCase(
                arrangement=one.case.arrangement,
                aches=tuple(one.case.told_aches),
                past=know_the_past(one.case, evidence),
                open_run=open_runs.get(id),
            ),
        )
    return found


def _make_brief(
    marks: dict[str, dict[str, Marks]], timeless: TimelessCase, house: House, on: date
) -> TodayBrief:
    case = Case(
        on=on,
        syllabus=house.by(timeless.arrangement.schools),
        arrangement=timeless.arrangement,
        told_aches=timeless.aches,
        rest_s=house.coach.rest_s,
        float_switch_s=house.coach.float_switch_s,
    )
    return make_brief(judge_marks(case, marks, timeless.past), open_run=timeless.open_run)
