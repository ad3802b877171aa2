"""Weeks as they are kept: versions of a plan."""

from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from wise_perch.core.week.week_plan import WeekPlan, Wish


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptPlan:
    """One version of a week's plan: what was wished for, and what was planned. `week` is its Monday."""

    id: UUID
    trainee: UUID
    week: date
    at: datetime
    wish: Wish
    planned: WeekPlan
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanVersion:
    """A version of a plan by its moment."""

    id: UUID
    at: datetime
    note: str
