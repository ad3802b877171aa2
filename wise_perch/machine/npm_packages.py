"""The npm packages of the browser side, installed again only when their lock changed."""

import os
import subprocess
import sys
from pathlib import Path

from wise_perch.machine.places import HOME, WEB, digest
from wise_perch.machine.progress import Trouble, step

NO_NETWORK = ("ENOTFOUND", "EAI_AGAIN", "ECONNREFUSED", "ETIMEDOUT", "ENETUNREACH")
"""How npm says that there is no network."""


def npm(*arguments: str) -> None:
    """Run npm in web/, its output kept in .perch/last-step.log. Raises Trouble with the end of it."""
    HOME.mkdir(exist_ok=True)
    log = HOME / "last-step.log"
    venv_bin = str(Path(sys.executable).parent)
    environment = {**os.environ, "PATH": f"{venv_bin}{os.pathsep}{os.environ.get('PATH', '')}"}
    with log.open("w", encoding="utf-8") as out:
        done = subprocess.run(
            ["npm", *arguments],
            cwd=WEB,
            env=environment,
            stdin=subprocess.DEVNULL,
            stdout=out,
            stderr=subprocess.STDOUT,
            check=False,
        )
    if done.returncode != 0:
        said = log.read_text("utf-8", errors="replace")
        tail = "\n".join(said.splitlines()[-20:])
        offline = any(word in said for word in NO_NETWORK)
        why = "The network cannot be reached; it is needed to set up once.\n" if offline else ""
        raise Trouble(
            f"npm {' '.join(arguments)} failed:\n{tail}\n{why}Nothing is lost. Run the same command again"
            " once it is mended."
        )


def read_stamp(path: Path) -> str:
    """What was made from which sources, as it says itself; empty where nothing is made."""
    try:
        return path.read_text("utf-8")
    except FileNotFoundError:
        return ""


def ensure_packages() -> None:
    """Install the npm packages of the lock, unless they are there."""
    wanted = digest(WEB / "package-lock.json", WEB / "package.json")
    stamp = WEB / "node_modules" / ".perch-stamp"
    if read_stamp(stamp) != wanted:
        with step("installing the browser side's packages"):
            npm("ci", "--no-audit", "--no-fund")
        stamp.write_text(wanted, "utf-8")
