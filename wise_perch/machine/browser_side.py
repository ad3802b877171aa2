"""The browser side: npm packages and the build, made again only when their sources changed."""

import gzip
import os
import subprocess
import sys
from pathlib import Path

from wise_perch.machine.places import DIST, HOME, WEB, digest
from wise_perch.machine.progress import Trouble, step

SOURCES = (
    WEB / "src",
    WEB / "public",
    WEB / "index.html",
    WEB / "package-lock.json",
    WEB / "vite.config.ts",
    WEB / "tsconfig.json",
)

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


def _stamp(path: Path) -> str:
    try:
        return path.read_text("utf-8")
    except FileNotFoundError:
        return ""


def ensure_packages() -> None:
    """Install the npm packages of the lock, unless they are there."""
    wanted = digest(WEB / "package-lock.json", WEB / "package.json")
    stamp = WEB / "node_modules" / ".perch-stamp"
    if _stamp(stamp) != wanted:
        with step("installing the browser side's packages"):
            npm("ci", "--no-audit", "--no-fund")
        stamp.write_text(wanted, "utf-8")


PACKED = (".js", ".css", ".svg", ".json")
"""What gets smaller; typefaces are packed already."""


def _compress(folder: Path) -> None:
    """Lay a compressed file beside each built one, so that no request has to wait for it."""
    for path in folder.iterdir():
        if path.suffix in PACKED:
            # no moment in it: the same file is the same bytes
            path.with_name(path.name + ".gz").write_bytes(gzip.compress(path.read_bytes(), 9, mtime=0))


def ensure_built() -> Path:
    """Build the browser side unless it is up to date, and say where it lies."""
    wanted = digest(*SOURCES)
    if _stamp(DIST / ".perch-stamp") != wanted:
        ensure_packages()
        with step("building the browser side"):
            npm("run", "build")
            _compress(DIST / "assets")
        (DIST / ".perch-stamp").write_text(wanted, "utf-8")
    return DIST
