"""All that judgement reads: the house a coach keeps, and of each trainee what was arranged, done and told."""

import json
from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from typing import Any
from uuid import UUID

from psycopg import Connection
from psycopg.rows import dict_row

from wise_perch.core.body.kit import KitItem
from wise_perch.core.trade.evidence import Evidence, Form, Measure, Reason, Side, Try, teller_of
from wise_perch.core.trade.intake import Profile
from wise_perch.core.trainee.hall import Hall
from wise_perch.core.trainee.pain import Ache
from wise_perch.core.trainee.stored import Arrangement, ChosenSetting, Coach, EndedRun, KeptWaiver, Trainee
from wise_perch.core.trainee.to_decide import OpenRun
from wise_perch.store.errors import NotFound
from wise_perch.store.evidence import type_try
from wise_perch.store.queries import queries

SQL = queries("cases")


@dataclass(frozen=True, slots=True, kw_only=True)
class HouseRow:
    """A coach, the hall, the text of its syllabus (empty for ours), and its kit."""

    coach: Coach
    hall: Hall
    text: str
    kit: tuple[KitItem, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Arranged:
    """What is known of a trainee beside evidence. `aches`: the newest word on each joint; `cues`: of
    each drill the one that worked last."""

    trainee: Trainee
    arrangement: Arrangement
    chosen: dict[str, ChosenSetting]
    aches: tuple[Ache, ...]
    cues: dict[str, str]


def house(db: Connection) -> HouseRow:
    """Give the house this transaction acts in. Raises NotFound if it acts as nobody."""
    with db.cursor(row_factory=dict_row) as cursor:
        row = cursor.execute(SQL["house"]).fetchone()
    if row is None:
        raise NotFound("There is no such coach.")
    text, kit = row.pop("text"), tuple(KitItem(**item) for item in row.pop("kit"))
    found = row.pop("hall")
    hall = Hall(**{**found, "id": UUID(found["id"])})
    return HouseRow(coach=Coach(**row), hall=hall, text=text, kit=kit)


def arrangements(db: Connection, trainees: Sequence[UUID], *, time_zone: str) -> dict[UUID, Arranged]:
    """Give what is known of each of these trainees beside evidence; days on the coach's own calendar."""
    with db.cursor(row_factory=dict_row) as cursor:
        rows = cursor.execute(
            SQL["arrangements"], {"trainees": list(trainees), "time_zone": time_zone}
        ).fetchall()
    return {row["id"]: _arranged_of(row) for row in rows}


def _arranged_of(row: dict[str, Any]) -> Arranged:
    side = row["stepping_side"]
    return Arranged(
        trainee=Trainee(
            id=row["id"], name=row["name"], stepping_side=Side(side) if side else None, note=row["note"]
        ),
        arrangement=Arrangement(
            schools=row["schools"],
            goals=tuple(row["goals"]),
            waivers=tuple(
                KeptWaiver(
                    id=UUID(w["id"]), drill=w["drill"], reason=w["reason"], day=date.fromisoformat(w["day"])
                )
                for w in row["waivers"]
            ),
            profile=profile_of(row["profile"]) if row["profile"] else None,
            lines=row["lines"],
        ),
        chosen={
            drill: ChosenSetting(settings=c["settings"], day=date.fromisoformat(c["day"]))
            for drill, c in row["chosen"].items()
        },
        aches=tuple(Ache(**{**a, "day": date.fromisoformat(a["day"])}) for a in row["aches"]),
        cues=row["cues"],
    )


def profile_of(raw: dict[str, Any]) -> Profile:
    """An intake as it is kept."""
    return Profile(
        **{**raw, "experience": tuple(raw.get("experience", ())), "kit": tuple(raw.get("kit", ()))}
    )


def sets(
    db: Connection,
    trainees: Sequence[UUID],
    *,
    time_zone: str,
    since: date | None = None,
    before: date | None = None,
    drills: Collection[str] | None = None,
) -> dict[UUID, list[Evidence]]:
    """Give every set that counts, of each of these trainees: from the day `since` on, from `before` a day, of
    these `drills`, as far as those are given.
    """
    found: dict[UUID, list[Evidence]] = defaultdict(list)
    values: dict[str, Any] = {
        **{"trainees": list(trainees), "time_zone": time_zone},
        **{"since": since, "before": before, "drills": None if drills is None else list(drills)},
    }
    if drills is not None:
        statement = SQL["sets_of_drills"]
    else:
        statement = SQL["sets_of_days"] if since or before else SQL["sets"]
    rows = db.execute(statement, values).fetchall()
    for trainee, *columns in rows:
        found[trainee].append(evidence_of_row(*columns))
    return found


MEASURES, FORMS = {m.value: m for m in Measure}, {f.value: f for f in Form}
SIDES, REASONS = {s.value: s for s in Side}, {r.value: r for r in Reason}
"""Words of the database as the core's types: looked up, since a whole history passes here."""


@lru_cache(maxsize=4096)
def read_dial(text: str) -> Mapping[str, float]:
    """A setting from its JSON. Few different ones come again and again, and are shared: nobody changes
    them.
    """
    found: Mapping[str, float] = json.loads(text)
    return found


NO_DIAL: Mapping[str, float] = {}


def evidence_of_row(
    drill: str,
    day: date,
    measure: str,
    value: float,
    asked: float | None,
    n: int | None,
    form: str,
    side: str | None,
    mode: str | None,
    window_s: float | None,
    confidence: int | None,
    dial: str | None,
    reason: str | None,
    source: str,
) -> Evidence:
    """A piece of evidence from the columns of `sets`; most have no dial, and an empty one is not sent."""
    return Evidence(
        drill=drill,
        day=day,
        measure=MEASURES[measure],
        value=value,
        asked=asked,
        n=n,
        form=FORMS[form],
        side=SIDES[side] if side else None,
        mode=mode,
        window_s=window_s,
        confidence=confidence,
        dial=read_dial(dial) if dial else NO_DIAL,
        reason=REASONS[reason] if reason else None,
        by=teller_of(source),
    )


def ended_runs(
    db: Connection, trainees: Sequence[UUID], *, time_zone: str, since: date | None = None
) -> dict[UUID, list[EndedRun]]:
    """Give every ended run with at least one try, oldest first, of each of these trainees, from the day
    `since` on where it is given.
    """
    tries: dict[UUID, list[Try]] = defaultdict(list)
    first: dict[UUID, dict[str, Any]] = {}
    values = {"trainees": list(trainees), "time_zone": time_zone, "since": since}
    with db.cursor(row_factory=dict_row) as cursor:
        for row in cursor.execute(SQL["ended_tries"], values):
            first.setdefault(row["run"], row)
            figures = {name: row[name] for name in ("number", "outcome", "value", "mode", "level")}
            tries[row["run"]].append(Try(**figures, **type_try(row)))
    found: dict[UUID, list[EndedRun]] = defaultdict(list)
    for id, row in first.items():
        about = {name: row[name] for name in ("run", "test", "subject", "dial", "confidence", "day")}
        found[row["trainee"]].append(EndedRun(**about, tries=tuple(tries[id])))
    return found


def days_done(
    db: Connection, trainees: Sequence[UUID], *, time_zone: str, since: date
) -> dict[UUID, tuple[date, ...]]:
    """Give the days from one on, in order, on which anything was recorded of each of these trainees."""
    values = {"trainees": list(trainees), "time_zone": time_zone, "since": since}
    return {trainee: tuple(days) for trainee, days in db.execute(SQL["days_done"], values)}


def open_runs(db: Connection, trainees: Sequence[UUID], *, time_zone: str) -> dict[UUID, OpenRun]:
    """Give the newest open run of each of these trainees that has one."""
    rows = db.execute(SQL["open_runs"], {"trainees": list(trainees), "time_zone": time_zone})
    return {
        trainee: OpenRun(run=str(id), test=test, day=day, tries=tries)
        for trainee, id, test, day, tries in rows
    }
