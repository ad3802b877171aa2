"""The browser side: npm packages and the build, made again only when their sources changed."""

import gzip
import os
from pathlib import Path

from wise_perch.machine import pose_model
from wise_perch.machine.npm_packages import ensure_packages, npm, read_stamp
from wise_perch.machine.places import DIST, WEB, digest
from wise_perch.machine.progress import step

SOURCES = (
    WEB / "src",
    WEB / "public",
    WEB / "index.html",
    WEB / "package-lock.json",
    WEB / "vite.config.ts",
    WEB / "tsconfig.json",
)

LAID = ".laid"
"""Beside the model: all of it lies there. A release brings it along."""
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
    if read_stamp(DIST / ".perch-stamp") != wanted:
        ensure_packages()
        with step("building the browser side"):
            npm("run", "build")
            _compress(DIST / "assets")
        (DIST / ".perch-stamp").write_text(wanted, "utf-8")
    _lay_pose()
    return DIST


def _lay_pose() -> None:
    """Lay the model that finds joints beside what was built, unless it lies there or cannot be had."""
    there = DIST / "pose"
    if (there / LAID).exists():
        return
    packed = pose_model.ensure_pose()
    if packed is None:
        return
    there.mkdir(exist_ok=True)
    for path in packed.iterdir():
        if not (there / path.name).exists():
            os.link(path, there / path.name)
    (there / LAID).touch()
