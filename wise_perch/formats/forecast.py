"""The door to forecasts without server or database: evidence in, the chances of one gate out."""

from collections.abc import Mapping, Sequence
from datetime import date
from pathlib import Path
from typing import Any

from wise_perch.core.progress.events import Told, first_fall, gather_events, pauses_in
from wise_perch.core.progress.forecast import Band, Forecast, find_forecast, say_forecast
from wise_perch.core.progress.series import Series, gate_series
from wise_perch.core.trade.gates import Gate
from wise_perch.core.trainee.case import JudgedCase, judge_case
from wise_perch.core.trainee.pain import Ache
from wise_perch.core.trainee.standing_still import stands_still
from wise_perch.formats.case_file import InUse, read_case
from wise_perch.formats.junk import Junk

DIGITS = 4


def forecast_file(
    evidence: Path, profile: Path, *, on: date, in_use: InUse, drill: str, tries: Path | None = None
) -> dict[str, Any]:
    """Forecast one drill's gate as it stands on day `on`, from files alone.

    Args: as `read_case` takes them; `drill` by its name.
    Returns: what docs/formats.md says of `forecast`.
    Raises: Junk if a file cannot be read, naming its lines, or for a drill that is not there.
    """
    read = read_case(evidence, profile, on=on, in_use=in_use, tries=tries).case
    case = judge_case(read)
    found = case.syllabus.drills.get(drill)
    if found is None:
        raise Junk([f"--drill: there is no drill named {drill[:60]} in the syllabus"])
    case.history.fetch([drill])
    series = gate_series(found, case.history.of(drill), stature_cm=case.stature_cm)
    forecast = find_forecast(series, on=on)
    return {
        "drill": drill,
        "gate": found.gate.text,
        "on": on.isoformat(),
        **forecast_as_json(forecast, series.gate),
        "standing_still": _say_still(stands_still(found, case)),
        "events": events_of(series, case, read.told_aches),
    }


def forecast_as_json(found: Forecast, gate: Gate) -> dict[str, Any]:
    """A forecast under the door's names."""
    if not found.known or found.level is None or found.weekly is None:
        return {"known": False, "because": found.because}
    return {
        "known": True,
        "level": round(found.level.middle, DIGITS),
        "level_low": round(found.level.low, DIGITS),
        "level_high": round(found.level.high, DIGITS),
        "weekly": round(found.weekly, DIGITS),
        "chances": {str(w): round(c, DIGITS) for w, c in (found.chances or {}).items()},
        "values": {str(w): _band(b) for w, b in (found.values or {}).items()},
        "said": say_forecast(found, gate),
    }


def _band(b: Band) -> list[float]:
    return [round(b.low, DIGITS), round(b.middle, DIGITS), round(b.high, DIGITS)]


def _say_still(still: bool | None) -> str:
    return "not known" if still is None else "yes" if still else "no"


def events_of(series: Series, case: JudgedCase, aches: Sequence[Ache]) -> list[dict[str, Any]]:
    """What happened to a series: pauses in it, the first day its gate fell, and pain."""
    gap = case.syllabus.sessions.growth.gap_after_days.value
    days = sorted({r.day for r in series.readings if r.day <= case.on})
    fell = first_fall(series, on=case.on)
    found = [
        *pauses_in(days, gap_days=gap),
        *gather_events(Told(aches=aches), case.syllabus, on=case.on),
        *([fell] if fell else []),
    ]
    return [
        {
            "day": e.day.isoformat(),
            **({"until": e.until.isoformat()} if e.until else {}),
            "kind": e.kind,
            "words": e.words,
        }
        for e in sorted(found, key=lambda e: (e.day, e.kind, e.words))
    ]


def summary(found: Mapping[str, Any]) -> str:
    """Say a forecast in lines for a reader."""
    lines = [
        f"{found['drill']}, gate {found['gate']}: {found['said'] if found['known'] else found['because']}"
    ]
    lines += [f"{e['day']}: {e['words']}" for e in found["events"]]
    lines.append(f"standing still: {found['standing_still']}")
    return "\n".join(lines)
