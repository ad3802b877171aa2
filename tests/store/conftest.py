"""A plan and a session as small as they can be."""

from datetime import date, timedelta

from wise_perch.core.floor.walk import Changes, FloorSheet, FloorSlot, Variant
from wise_perch.core.week.week_plan import DayWish, WeekPlan, Wish

MONDAY = date(2026, 6, 1)
NO_WEEK = WeekPlan(
    week=MONDAY,
    days=(),
    left_out=(),
    questions=(),
    shares=(),
    load_s=0,
    load_most_s=400,
    load_words="",
    solved=True,
)


def a_wish(minutes: int = 55, week: date = MONDAY) -> Wish:
    return Wish(
        week=week,
        days=(DayWish(day=week + timedelta(days=1), place="hall", minutes=minutes),),
        kit={"hall": ("wall",)},
    )


def a_sheet(day: date = MONDAY) -> FloorSheet:
    changes = Changes(
        poor_energy=2,
        good_energy=5,
        low_confidence=2,
        stops_at=4,
        clean_to_step=2,
        poor="",
        good="",
        shy="",
        some="",
        much="",
        none_lighter="",
        fewer="",
    )
    slot = FloorSlot(kind="prepare", phase="warm-up", planned="warm", start_s=0, length_s=180)
    return FloorSheet(
        day=day,
        place="hall",
        minutes=20,
        slots=(slot,),
        variants={"warm": Variant(key="warm", title="Warm")},
        changes=changes,
        joints=("left wrist",),
    )
