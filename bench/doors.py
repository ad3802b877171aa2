"""What it costs to open a door (`lever`, `score`, `standing`) on almost nothing: CPU of the whole command,
beside an interpreter that loads the packages they stand on and does nothing.
"""

import json
import os
import subprocess
import tempfile
from pathlib import Path

from wise_perch.machine.places import ROOT

TIMES = 5
PACKAGES = "import numpy, pydantic, typer, yaml"
TRIES = """trainee,test,started_at,try,outcome,seconds,fell,form,note
Somebody,free-tries,2026-11-20T13:00:00+00:00,1,held,4,over,,
Somebody,free-tries,2026-11-20T13:00:00+00:00,2,undershot,,,,
"""
EVIDENCE = "trainee,day,drill,measure,value\nSomebody,2026-11-03,pike-hold,hold,20\n"


def _cpu(*words: str) -> float:
    """CPU seconds of one command, of the lowest of several: what else runs only adds to it."""
    found = []
    for _ in range(TIMES):
        before = os.times()
        subprocess.run(words, cwd=ROOT, check=True, stdout=subprocess.DEVNULL)
        after = os.times()
        found.append(
            after.children_user + after.children_system - before.children_user - before.children_system
        )
    return min(found)


def doors() -> dict[str, tuple[float, float]]:
    """CPU of each door, s, and that of the packages alone."""
    with tempfile.TemporaryDirectory(prefix="perch-doors-") as named:
        folder = Path(named)
        (folder / "tries.csv").write_text(TRIES, "utf-8")
        (folder / "evidence.csv").write_text(EVIDENCE, "utf-8")
        (folder / "profile.json").write_text(
            json.dumps({"goals": ["freestanding-hold"], "stature_cm": 170, "mass_kg": 65}), "utf-8"
        )
        asked = {
            "lever": ("pike", "--hands-to-feet-cm", "90", "--stature-cm", "170", "--mass-kg", "65"),
            "score": (str(folder / "tries.csv"),),
            "standing": (
                str(folder / "evidence.csv"),
                *("--profile", str(folder / "profile.json"), "--on", "2026-11-20"),
            ),
        }
        bare = _cpu(str(ROOT / ".perch" / "venv" / "bin" / "python"), "-c", PACKAGES)
        return {name: (_cpu("./perch", name, *words, "--json"), bare) for name, words in asked.items()}
