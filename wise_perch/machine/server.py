"""The application's server process: started in the background, found again, stopped."""

import json
import os
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from contextlib import suppress
from pathlib import Path

from wise_perch.machine.places import HOME, ROOT, digest, read_state, write_state
from wise_perch.machine.postgres import free_port
from wise_perch.machine.progress import Trouble, step

USUAL_PORT = 8420
LOG = HOME / "server.log"


def environment(*, database: str, web: Path, demo: str) -> dict[str, str]:
    """The variables of a server process; see wise_perch.api.settings."""
    return {
        **os.environ,
        "PYTHONPATH": str(ROOT),
        "PERCH_DATABASE": database,
        "PERCH_WEB": str(web),
        "PERCH_DEMO": demo,
    }


def command(port: int) -> list[str]:
    """The words that start a server process on `port` of loopback."""
    words = [sys.executable, "-m", "uvicorn", "--factory", "wise_perch.api.app:from_environment"]
    return [
        *words,
        "--host",
        "127.0.0.1",
        "--port",
        str(port),
        "--no-access-log",
        "--no-server-header",
        "--timeout-graceful-shutdown",
        "5",
    ]


def answers(port: int) -> bool:
    """Say whether a Wise Perch server answers on this port."""
    with (
        suppress(urllib.error.URLError, OSError, ValueError),
        urllib.request.urlopen(f"http://127.0.0.1:{port}/api/health", timeout=3) as answer,
    ):
        return bool(json.load(answer) == {"ok": True})
    return False


def _is_ours(pid: int) -> bool:
    """Say whether the process is still the server we started: process numbers are used again."""
    try:
        words = Path(f"/proc/{pid}/cmdline").read_bytes().split(b"\0")
        return (
            b"wise_perch.api.app:from_environment" in words
            and Path(f"/proc/{pid}/stat").read_text("ascii", errors="replace").rsplit(")", 1)[1].split()[0]
            != "Z"
        )
    except OSError:
        return False


def ensure_running(*, database: str, web: Path, demo: str) -> int:
    """Give the port of a server that runs this very code and data, starting one if there is none."""
    settings = environment(database=database, web=web, demo=demo)
    wanted = digest(ROOT / "wise_perch", web / ".perch-stamp", skip=("__pycache__",)) + "|".join(
        settings[k] for k in ("PERCH_DATABASE", "PERCH_DEMO")
    )
    state = read_state().get("server") or {}
    if state and _is_ours(state["pid"]) and state["code"] == wanted and answers(state["port"]):
        return int(state["port"])
    stop_if_running()
    port = free_port(state.get("port", USUAL_PORT))
    with step("starting the server"), LOG.open("ab") as log:
        process = subprocess.Popen(
            command(port),
            cwd=ROOT,
            env=settings,
            stdin=subprocess.DEVNULL,
            stdout=log,
            stderr=log,
            start_new_session=True,
            close_fds=True,
        )
        write_state(server={"pid": process.pid, "port": port, "code": wanted})
        wait_until_it_answers(port, process)
    return port


def wait_until_it_answers(port: int, process: "subprocess.Popen[bytes]", *, seconds: float = 60) -> None:
    """Wait for a server process. Raises Trouble if it ends or stays silent."""
    deadline = time.monotonic() + seconds
    while not answers(port):
        if process.poll() is not None or time.monotonic() > deadline:
            raise Trouble(f"The server did not start; nothing is lost. Its log is {LOG}.")
        time.sleep(0.05)


def stop_if_running() -> bool:
    """Stop the server; say whether it ran."""
    state = read_state().get("server")
    if not state or not _is_ours(state["pid"]):
        return False
    os.kill(state["pid"], signal.SIGTERM)
    deadline = time.monotonic() + 10
    while _is_ours(state["pid"]):
        if time.monotonic() > deadline:
            os.kill(state["pid"], signal.SIGKILL)
        time.sleep(0.05)
    return True
