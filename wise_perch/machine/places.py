"""Where things lie: everything a machine makes for itself is in the project's own .perch folder."""

import hashlib
import json
import os
from pathlib import Path
from typing import Any

from wise_perch.machine.progress import Trouble

ROOT = Path(__file__).resolve().parents[2]
HOME = ROOT / ".perch"
WEB = ROOT / "web"
DIST = WEB / "dist"
STATE = HOME / "state.json"


def read_state() -> dict[str, Any]:
    """Read what this machine remembers (ports, passwords, process ids); empty at first."""
    try:
        return dict(json.loads(STATE.read_text("utf-8")))
    except FileNotFoundError:
        return {}
    except (ValueError, OSError) as error:
        raise Trouble(
            f"{STATE} cannot be read ({error}). Nothing was changed. Move it away and run ./perch start: the"
            " data is found without it."
        ) from None


def write_state(**changes: object) -> dict[str, Any]:
    """Remember more, for this user's eyes only; None forgets. A crash in between leaves the old file
    whole.
    """
    state = {key: value for key, value in {**read_state(), **changes}.items() if value is not None}
    HOME.mkdir(exist_ok=True)
    draft = STATE.with_suffix(".new")
    draft.touch(mode=0o600)
    draft.write_text(json.dumps(state, indent=1), "utf-8")
    draft.replace(STATE)
    return state


def digest(*folders: Path, skip: tuple[str, ...] = ()) -> str:
    """Hash the names and contents of every file below these folders (or of single files)."""
    found = hashlib.sha256()
    for folder in folders:
        for path in [folder] if folder.is_file() else sorted(folder.rglob("*")):
            if path.is_file() and not any(part in skip for part in path.parts):
                found.update(f"{path.relative_to(ROOT)}\0".encode() + path.read_bytes() + b"\0")
    return found.hexdigest()


def is_root() -> bool:
    """Say whether this process runs as root, which PostgreSQL refuses to."""
    return os.geteuid() == 0
