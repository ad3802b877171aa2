"""The door to plans without server or database: evidence and a profile in, a week of sessions with doses and
reasons out.
"""

from collections.abc import Mapping
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from wise_perch.core.body.levers import own_body
from wise_perch.core.body.segments import UnlikelyBody
from wise_perch.core.trade.syllabus import Syllabus
from wise_perch.core.trainee.case import JudgedCase, judge_case
from wise_perch.core.week.plan import plan_week
from wise_perch.core.week.question import HALL, ask_for_week, usual_kit
from wise_perch.core.week.week_plan import (
    Block,
    DayPlan,
    DayWish,
    Drop,
    Pin,
    Refusal,
    UnmetWish,
    WeekPlan,
    Wish,
    monday_of,
)
from wise_perch.formats.case_file import InUse, ProfileFile, read_case
from wise_perch.formats.junk import Junk


def plan_file(
    evidence: Path, profile: Path, *, on: date, in_use: InUse, tries: Path | None = None
) -> dict[str, Any]:
    """Plan a week from day `on`, from files alone.

    Args: as `read_case` takes them.
    Returns: the week as docs/formats.md says; where what is pinned cannot all be had, only the questions.
    Raises: Junk if a file cannot be read or names what is not there.
    """
    read = read_case(evidence, profile, on=on, in_use=in_use, tries=tries)
    try:
        own_body(read.case.arrangement.profile)
    except UnlikelyBody as error:
        raise Junk([f"{profile.name}: {error}"]) from error
    wish, case = _read_wish(read.profile, read.case.syllabus, on, profile), judge_case(read.case)
    return week_as_json(
        plan_week(ask_for_week(case, week=wish.week), wish), case, trainee=read.trainee, week=wish.week
    )


def week_as_json(
    found: WeekPlan | Refusal, case: JudgedCase, *, trainee: str | None, week: date
) -> dict[str, Any]:
    """A planned week as docs/formats.md says it, whether the case came from files or from the store."""
    head = {
        "trainee": trainee,
        "on": case.on.isoformat(),
        "week": week.isoformat(),
        "syllabus": case.syllabus.version,
    }
    if isinstance(found, Refusal):
        return {**head, "feasible": False, "questions": [_question_as_json(q) for q in found.questions]}
    return {**head, "feasible": True, **_week_as_json(found)}


def _read_wish(who: ProfileFile, syllabus: Syllabus, on: date, path: Path) -> Wish:
    kit = {
        **usual_kit(who.profile(), syllabus),
        **{place: tuple(items) for place, items in who.places.items()},
    }
    rules = syllabus.sessions
    usual_minutes = int(rules.usual_minutes.value)
    days = tuple(
        DayWish(**{**d.model_dump(), "minutes": d.minutes or usual_minutes})
        for d in sorted(who.days, key=lambda d: d.day)
    )
    if not days:
        weeks = [monday_of(on), monday_of(on) + timedelta(weeks=1)]
        usual = [[d for n in rules.usual_days if (d := week + timedelta(days=n)) >= on] for week in weeks]
        days = tuple(DayWish(day=d, place=HALL, minutes=usual_minutes) for d in usual[0] or usual[1])
    faults = [f"days: {d.day} lies before --on {on}" for d in days if d.day < on]
    faults += [f"days: {d.day} stands twice" for n, d in enumerate(days) if n and days[n - 1].day == d.day]
    faults += [
        f"days: {d.day} is not in the week of {days[0].day}"
        for d in days
        if monday_of(d.day) != monday_of(days[0].day)
    ]
    faults += [
        f"days: there is no place named {d.place}; say in places what kit is there"
        for d in days
        if d.place not in kit
    ]
    known = {*syllabus.drills, *syllabus.tests}
    faults += [
        f"{part}: there is no drill named {x.drill}"
        for part, xs in (("pins", who.pins), ("drops", who.drops))
        for x in xs
        if x.drill not in known
    ]
    if faults:
        raise Junk([f"{path.name}: {fault}" for fault in faults])
    return Wish(
        week=monday_of(days[0].day),
        days=days,
        kit=kit,
        pins=tuple(Pin(**p.model_dump()) for p in who.pins),
        drops=tuple(Drop(**d.model_dump()) for d in who.drops),
    )


def _question_as_json(question: UnmetWish) -> dict[str, Any]:
    return {
        "text": question.text,
        "options": list(question.options),
        "day": question.day.isoformat() if question.day else None,
    }


def _week_as_json(found: WeekPlan) -> dict[str, Any]:
    return {
        "work_on": {"drill": found.work_on.drill, "why": found.work_on.sentence} if found.work_on else None,
        "days": [_day_as_json(d) for d in found.days],
        "left_out": [{"drill": x.drill, "title": x.title, "because": x.because} for x in found.left_out],
        "questions": [_question_as_json(q) for q in found.questions],
        "shares": [
            {"pillar": s.pillar, "minutes": round(s.seconds / 60, 1), "holding": s.holding}
            for s in found.shares
        ],
        "hand_load": {"planned_s": found.load_s, "most_s": found.load_most_s, "words": found.load_words},
    }


def _day_as_json(day: DayPlan) -> dict[str, Any]:
    return {
        "day": day.day.isoformat(),
        "place": day.place,
        "time": day.time,
        "minutes": day.minutes,
        "length_min": round(day.length_s / 60, 2),
        "hand_load_s": day.load_s,
        "why_empty": day.why_empty,
        "blocks": [_block_as_json(b) for b in day.blocks],
    }


def _block_as_json(block: Block) -> dict[str, Any]:
    dose = block.dose
    dial = dose.dial if dose else None
    return {
        "kind": block.kind,
        "phase": block.phase,
        "drill": block.drill or None,
        "test": block.test or None,
        "title": block.title,
        "pillar": block.pillar,
        "start_min": round(block.start_s / 60, 2),
        "length_min": round(block.length_s / 60, 2),
        "dose": dose.amount if dose else None,
        "way": dose.way if dose else None,
        "sets": dose.sets if dose else None,
        "each": dose.each if dose else None,
        "first": dose.first if dose else None,
        "open_set": dose.open_set if dose else False,
        "ceiling": dose.ceiling if dose else None,
        "measure": dose.measure.value if dose else None,
        "rest_s": dose.rest_s if dose else None,
        "hand_load_s": round(dose.load_s * dose.sets, 1) if dose else None,
        "dial": dial.dial if dial else None,
        "setting": dial.setting if dial else None,
        "stack": dial.steps[dial.at].stack if dial else None,
        "limit": (
            {
                "setting": round(dial.limit.setting, 1),
                "easy_end": round(dial.limit.easy_end, 1),
                "hard_end": round(dial.limit.hard_end, 1),
                "sets": dial.limit.n,
            }
            if dial and dial.limit
            else None
        ),
        "pinned": block.pinned,
        "because": [{"text": b.text, "origin": b.origin or None} for b in block.because],
        "cues": list(block.cues),
        "cautions": list(block.cautions),
    }


def summary(found: Mapping[str, Any]) -> str:
    """Say the week in a few lines for a reader."""
    lines = [f"{found['trainee'] or 'Trainee'}, week of {found['week']}"]
    for day in found.get("days", ()):
        lines.append(
            f"  {day['day']}, {day['place']}, {day['length_min']:.0f} of {day['minutes']}"
            f" min{': ' + day['why_empty'] if day['why_empty'] else ''}"
        )
        for b in day["blocks"]:
            setting = f", {b['dial'].replace('-', ' ')} {b['setting']:g}" if b["dial"] else ""
            lines.append(
                f"    {b['start_min']:4.0f}'  {b['title']}{': ' + b['dose'] if b['dose'] else ''}{setting}"
            )
    lines += [f"  ? {q['text']}" for q in found["questions"]]
    return "\n".join(lines)
