"""What ./perch calls. The hall's own commands are in commands.py; here are the doors that need neither server
nor database, and the tools for whoever changes the house.
"""

import json
import os
import subprocess
import sys
import traceback
from collections.abc import Callable
from pathlib import Path
from typing import Annotated, Any

import typer

from wise_perch import __version__
from wise_perch.commands import commands, plain_trouble
from wise_perch.machine.places import HOME
from wise_perch.machine.progress import say

LAST_TROUBLE = HOME / "last-trouble.log"

app = typer.Typer(
    rich_markup_mode=None,
    add_completion=False,
    no_args_is_help=True,
    pretty_exceptions_enable=False,
    help="Wise Perch: one command for everything.",
)
app.registered_commands += commands.registered_commands


def _version(wanted: bool) -> None:
    if wanted:
        typer.echo(f"Wise Perch {__version__}")
        raise typer.Exit


@app.callback()
def everything(
    version: Annotated[
        bool, typer.Option("--version", callback=_version, is_eager=True, help="say which version this is")
    ] = False,
) -> None:
    """Wise Perch: one command for everything."""


@app.command()
def score(
    file: Path, as_json: Annotated[bool, typer.Option("--json", help="print a JSON list")] = False
) -> None:
    """Score the test runs in a CSV file, without server or database. Columns: docs/formats.md."""
    from wise_perch.formats.junk import Junk
    from wise_perch.formats.score import score_file, summary
    from wise_perch.syllabus.shipped import built_in

    try:
        found = score_file(file, built_in())
    except Junk as junk:
        for line in junk.lines:
            say(line)
        raise typer.Exit(2) from None
    typer.echo(json.dumps(found, ensure_ascii=False, indent=2) if as_json else summary(found))


Door = Callable[..., dict[str, Any]]
Judged = Callable[[dict[str, Any]], str]


def _through(
    door: Door, said: Judged, evidence: Path, profile: Path, on: str, *, tries: Path | None, as_json: bool
) -> None:
    """Ask a door that reads evidence and a profile, and print what it says; junk ends with 2."""
    from datetime import date

    from wise_perch.formats.junk import Junk
    from wise_perch.syllabus.shipped import judged_by

    try:
        day = date.fromisoformat(on)
    except ValueError:
        say(f'--on "{on}" is not a day, as 2026-05-03')
        raise typer.Exit(2) from None
    try:
        found = door(evidence, profile, on=day, in_use=judged_by, tries=tries)
    except Junk as junk:
        for line in junk.lines:
            say(line)
        raise typer.Exit(2) from None
    typer.echo(json.dumps(found, ensure_ascii=False, indent=2) if as_json else said(found))


ProfilePath = Annotated[Path, typer.Option(help="a JSON object; docs/formats.md")]
OnDay = Annotated[str, typer.Option(help="the day to judge, as 2026-05-03")]
TriesPath = Annotated[
    Path | None,
    typer.Option(help="a CSV of tries, so that tests count as the server counts them; docs/formats.md"),
]
AsJson = Annotated[bool, typer.Option("--json", help="print a JSON object")]


@app.command()
def standing(
    evidence: Path, profile: ProfilePath, on: OnDay, tries: TriesPath = None, as_json: AsJson = False
) -> None:
    """Say where a trainee stands, from a CSV of evidence and a profile, without server or database."""
    from wise_perch.formats.standing import standing_file, summary

    _through(standing_file, summary, evidence, profile, on, tries=tries, as_json=as_json)


@app.command()
def plan(
    evidence: Path, profile: ProfilePath, on: OnDay, tries: TriesPath = None, as_json: AsJson = False
) -> None:
    """Plan a week of sessions, from a CSV of evidence and a profile, without server or database."""
    from wise_perch.formats.plan import plan_file, summary

    _through(plan_file, summary, evidence, profile, on, tries=tries, as_json=as_json)


@app.command()
def rehearse(
    evidence: Path,
    profile: ProfilePath,
    on: OnDay,
    tries: TriesPath = None,
    weeks: Annotated[int, typer.Option(min=1, max=52, help="how many weeks")] = 26,
    seeds: Annotated[int, typer.Option(min=1, max=20, help="how many simulated trainees")] = 5,
    as_json: AsJson = False,
) -> None:
    """Put the plan on trial: simulated trainees who begin where this one stands. A model and no promise."""
    from functools import partial

    from wise_perch.formats.rehearsal import rehearse_file, summary

    door = partial(rehearse_file, weeks=weeks, seeds=seeds)
    _through(door, summary, evidence, profile, on, tries=tries, as_json=as_json)


@app.command()
def forecast(
    evidence: Path,
    profile: ProfilePath,
    on: OnDay,
    drill: Annotated[str, typer.Option(help="the drill whose gate is looked ahead to")],
    tries: TriesPath = None,
    as_json: AsJson = False,
) -> None:
    """Say how likely a gate falls within some weeks, from files. A range and no promise."""
    from functools import partial

    from wise_perch.formats.forecast import forecast_file, summary

    _through(
        partial(forecast_file, drill=drill), summary, evidence, profile, on, tries=tries, as_json=as_json
    )


@app.command()
def line(
    keypoints: Path,
    drill: Annotated[str, typer.Option(help="the drill whose line is looked at")],
    stature_cm: Annotated[float | None, typer.Option(help="gives offsets in cm too")] = None,
    as_json: AsJson = False,
) -> None:
    """Judge the line of handstands from key points of pictures, from a file in the COCO format."""
    from wise_perch.formats.junk import Junk
    from wise_perch.formats.line_files import line_file, line_summary
    from wise_perch.syllabus.shipped import built_in

    try:
        found = line_file(keypoints, drill=drill, syllabus=built_in(), stature_cm=stature_cm)
    except Junk as junk:
        for words in junk.lines:
            say(words)
        raise typer.Exit(2) from None
    typer.echo(json.dumps(found, ensure_ascii=False, indent=2) if as_json else line_summary(found))


@app.command()
def hold(series: Path, as_json: AsJson = False) -> None:
    """Find holds in a series of leans, as a film gives them, from a CSV."""
    from wise_perch.formats.junk import Junk
    from wise_perch.formats.line_files import hold_file, hold_summary

    try:
        found = hold_file(series)
    except Junk as junk:
        for words in junk.lines:
            say(words)
        raise typer.Exit(2) from None
    typer.echo(json.dumps(found, ensure_ascii=False, indent=2) if as_json else hold_summary(found))


@app.command(name="class")
def class_night(
    file: Path, as_json: Annotated[bool, typer.Option("--json", help="print a JSON object")] = False
) -> None:
    """Rotate a class from a JSON file: who is where when, without server or database. Fields:
    docs/formats.md.
    """
    from wise_perch.formats.class_files import class_file, class_summary
    from wise_perch.formats.junk import Junk

    try:
        found = class_file(file)
    except Junk as junk:
        for words in junk.lines:
            say(words)
        raise typer.Exit(2) from None
    typer.echo(json.dumps(found, ensure_ascii=False, indent=2) if as_json else class_summary(found))


LENGTHS = ("arm", "trunk", "leg", "hand", "shoulder-to-crown", "forearm", "foot")
Number = Annotated[float | None, typer.Option()]


@app.command()
def lever(
    kind: Annotated[
        str,
        typer.Argument(
            help="handstand, push-up, pike, knees-on-bench, right-angle, wall, push-travel or press"
        ),
    ],
    stature_cm: Number = None,
    mass_kg: Number = None,
    arm_cm: Annotated[
        float | None,
        typer.Option(help="top of the shoulder to the middle fingertip; own lengths replace estimates"),
    ] = None,
    trunk_cm: Number = None,
    leg_cm: Number = None,
    hand_cm: Number = None,
    shoulder_to_crown_cm: Number = None,
    forearm_cm: Number = None,
    foot_cm: Number = None,
    hands_cm: Annotated[float | None, typer.Option(help="push-up: what the hands stand on")] = None,
    feet_cm: Annotated[float | None, typer.Option(help="push-up: what the feet stand on")] = None,
    knees: Annotated[bool, typer.Option("--knees", help="push-up on the knees")] = False,
    hands_to_feet_cm: Annotated[
        float | None, typer.Option(help="along the floor; to the knees on a bench")
    ] = None,
    surface_cm: Number = None,
    facing: Annotated[str | None, typer.Option(help="wall: back or chest")] = None,
    hands_to_wall_cm: Number = None,
    pad_cm: Annotated[float | None, typer.Option(help="above the floor; negative is a deficit")] = None,
    fold_deg: Number = None,
    straddle_deg: Annotated[float | None, typer.Option(help="half the angle between the legs")] = None,
    as_json: Annotated[bool, typer.Option("--json", help="print a JSON object")] = False,
) -> None:
    """Work out a position for a body's own size, without server or database. Figures: docs/formats.md."""
    from wise_perch.formats.junk import Junk
    from wise_perch.formats.lever import lever_figures
    from wise_perch.formats.lever import summary as said
    from wise_perch.syllabus.files import our_intake

    asked: dict[str, float | None] = {
        "hands-cm": hands_cm,
        "feet-cm": feet_cm,
        "knees": 1.0 if knees else None,
        "hands-to-feet-cm": hands_to_feet_cm,
        "surface-cm": surface_cm,
        "hands-to-wall-cm": hands_to_wall_cm,
        "pad-cm": pad_cm,
        "fold-deg": fold_deg,
        "straddle-deg": straddle_deg,
    }
    lengths = dict(
        zip(
            LENGTHS,
            (arm_cm, trunk_cm, leg_cm, hand_cm, shoulder_to_crown_cm, forearm_cm, foot_cm),
            strict=True,
        )
    )
    try:
        found = lever_figures(
            kind,
            stature_cm=stature_cm,
            mass_kg=mass_kg,
            own_cm={name: cm for name, cm in lengths.items() if cm is not None},
            options={name: value for name, value in asked.items() if value is not None},
            words={} if facing is None else {"facing": facing},
            intake=our_intake(),
        )
    except Junk as junk:
        for line in junk.lines:
            say(line)
        raise typer.Exit(2) from None
    typer.echo(json.dumps(found, ensure_ascii=False, indent=2, allow_nan=False) if as_json else said(found))


@app.command(context_settings={"allow_extra_args": True, "ignore_unknown_options": True})
def test(context: typer.Context) -> None:
    """Run the whole test suite; further words go to pytest."""
    from wise_perch.machine import browser_side
    from wise_perch.machine.places import ROOT

    with plain_trouble():
        browser_side.ensure_built()
    words = context.args or ["-n", "2", "--dist", "worksteal"]
    raise typer.Exit(
        subprocess.run(
            [sys.executable, "-m", "pytest", *words],
            cwd=ROOT,
            check=False,
            env={**os.environ, "PYTHONHASHSEED": "0"},
        ).returncode
    )


@app.command()
def check() -> None:
    """Lint, types, generated types, import direction."""
    from wise_perch.machine.checks import run_all

    with plain_trouble():
        well = run_all()
    say("All checks pass." if well else "Some checks fail; see above.")
    raise typer.Exit(0 if well else 1)


@app.command()
def types() -> None:
    """Generate the browser side's types from the api, and the JSON Schemas of files."""
    from wise_perch.machine import checks, npm_packages

    with plain_trouble():
        npm_packages.ensure_packages()
        checks.generate_types(checks.SCHEMA)
        for kept, module in checks.SCHEMAS.items():
            checks.generate_schema(kept, module)


@app.command()
@app.command("bench", hidden=True)
def figures() -> None:
    """Measure the figures of docs/figures.md, each beside a bare reference in the same run."""
    from wise_perch.machine import browser_side
    from wise_perch.machine.places import ROOT

    with plain_trouble():
        browser_side.ensure_built()
    raise typer.Exit(subprocess.run([sys.executable, "-m", "bench"], cwd=ROOT, check=False).returncode)


def main() -> None:
    """Run a command. Whatever goes wrong is said in a sentence, and the whole of it goes into a file."""
    try:
        app()
    except KeyboardInterrupt:
        say("Broken off. Nothing kept is lost.")
        sys.exit(130)
    except Exception:
        HOME.mkdir(exist_ok=True)
        LAST_TROUBLE.write_text(traceback.format_exc(), "utf-8")
        say("  Something went wrong that was not foreseen. Nothing kept is lost.")
        say(f"  What happened is in {LAST_TROUBLE}.")
        sys.exit(1)


if __name__ == "__main__":
    main()
