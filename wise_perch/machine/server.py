"""The application's server process and its keeper: started in the background, found again, stopped."""

import json
import os
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from contextlib import suppress
from dataclasses import asdict, dataclass
from pathlib import Path

from wise_perch.machine import front
from wise_perch.machine.places import HOME, ROOT, digest, read_state, write_state
from wise_perch.machine.postgres import listens
from wise_perch.machine.progress import Trouble, say, step

USUAL_PORT = 8420
LOG = HOME / "server.log"
FRONT = "PERCH_FRONT_CADDY"
"""The variable that names caddy to the keeper, where phones are served."""
LOOPBACK = ("127.0.0.1", "localhost", "[::1]")


@dataclass(frozen=True, kw_only=True)
class Address:
    """Where the server listens, the names besides this machine's own that browsers call it by, and how many
    processes answer there. `lan`: phones in the house reach it through a front door at `lan_port`, with a
    domain's `certificate` and `key` or one of our own.
    """

    host: str = "127.0.0.1"
    port: int = USUAL_PORT
    names: tuple[str, ...] = ()
    processes: int = 1
    lan: bool = False
    lan_port: int = front.USUAL_PORT
    certificate: str = ""
    key: str = ""

    @property
    def called(self) -> str:
        """A host that can be asked: an address that stands for all of them is asked on loopback."""
        return "127.0.0.1" if self.host in ("0.0.0.0", "::") else self.host


def remembered() -> Address:
    """The address chosen last, or the usual one."""
    state = read_state().get("address") or {}
    # a version before this one kept the port with the server
    port = state.get("port") or (read_state().get("server") or {}).get("port") or USUAL_PORT
    return Address(
        host=state.get("host", "127.0.0.1"),
        port=int(port),
        names=tuple(state.get("names", ())),
        processes=int(state.get("processes", 1)),
        lan=bool(state.get("lan", False)),
        lan_port=int(state.get("lan_port", front.USUAL_PORT)),
        certificate=str(state.get("certificate", "")),
        key=str(state.get("key", "")),
    )


def front_of(address: Address) -> "front.Front | None":
    """The front door for the house, where phones are served and there is a network; without one the hall's
    own machine goes on, and phones wait for the next start.
    """
    if not address.lan:
        return None
    try:
        host = front.house_address()
    except Trouble as trouble:
        say(f"  No phones for now: {trouble}")
        return None
    return front.Front(
        host=host,
        port=address.lan_port,
        names=address.names,
        certificate=address.certificate,
        key=address.key,
    )


def environment(
    *,
    database: str,
    web: Path,
    demo: str,
    address: Address | None = None,
    door: "front.Front | None" = None,
    caddy: str = "",
) -> dict[str, str]:
    """The variables of a server process; see wise_perch.api.settings. `door`: the house's, which `caddy`
    serves.
    """
    chosen = {
        **os.environ,
        "PYTHONPATH": str(ROOT),
        "PERCH_DATABASE": database,
        "PERCH_WEB": str(web),
        "PERCH_DEMO": demo,
    }
    if address is not None and "PERCH_HOSTS" not in os.environ:
        own = () if address.host in ("0.0.0.0", "::") else (address.host,)
        house = (door.host,) if door else ()
        chosen["PERCH_HOSTS"] = " ".join(dict.fromkeys((*LOOPBACK, *own, *house, *address.names)))
    if door:
        # the door stands on this machine: what it says of who asks is believed
        chosen.update(
            PERCH_OUTSIDE=door.outside, PERCH_TRUST=door.trust, PERCH_PROXIES="127.0.0.1", **{FRONT: caddy}
        )
    return chosen


def command(port: int, *, host: str = "127.0.0.1", shared: bool = False) -> list[str]:
    """The words that start a server process on `port` of `host`, which is `shared` with others like it or its
    own.
    """
    words = [sys.executable, "-m", "wise_perch.machine.serving", host, str(port)]
    return [*words, "shared"] if shared else words


def answers(port: int, host: str = "127.0.0.1") -> bool:
    """Say whether a Wise Perch server answers on this port."""
    with (
        suppress(urllib.error.URLError, OSError, ValueError),
        urllib.request.urlopen(f"http://{host}:{port}/api/health", timeout=3) as answer,
    ):
        return bool(json.load(answer) == {"ok": True})
    return False


def is_ours(pid: int) -> bool:
    """Say whether the process is the keeper that this very folder started: process numbers are used again,
    and a copied folder remembers the original's.
    """
    try:
        words = Path(f"/proc/{pid}/cmdline").read_bytes().split(b"\0")
        known = b"wise_perch.machine.keeper" in words or b"wise_perch.api.app:from_environment" in words
        return (
            known
            and Path(f"/proc/{pid}/cwd").resolve() == ROOT
            and Path(f"/proc/{pid}/stat").read_text("ascii", errors="replace").rsplit(")", 1)[1].split()[0]
            != "Z"
        )
    except OSError:
        return False


def running() -> Address | None:
    """The address of this folder's server where it runs."""
    state = read_state().get("server")
    return remembered() if state and is_ours(state["pid"]) else None


def ensure_running(*, database: str, web: Path, demo: str, address: Address) -> "front.Front | None":
    """Have a server run this very code and data at `address`, starting it under its keeper if there is none;
    gives the front door where phones are served.

    Raises Trouble where the port is somebody else's: another one would hide the hall from its bookmarks.
    """
    door = front_of(address)
    caddy = front.find_caddy() if door else ""
    settings = environment(database=database, web=web, demo=demo, address=address, door=door, caddy=caddy)
    said = ("PERCH_DATABASE", "PERCH_DEMO", "PERCH_HOSTS", "PERCH_OUTSIDE", "PERCH_PROXIES", FRONT)
    wanted = digest(ROOT / "wise_perch", web / ".perch-stamp", skip=("__pycache__",)) + "|".join(
        (*(settings.get(k, "") for k in said), address.certificate, address.key)
    )
    state = read_state().get("server") or {}
    same = state.get("code") == wanted and remembered() == address
    if same and is_ours(state["pid"]) and answers(address.port, address.called):
        return door
    stop_if_running()
    if listens(address.port, address.host):
        who = "another Wise Perch" if answers(address.port, address.called) else "another program"
        raise Trouble(
            f"Port {address.port} is taken by {who}. Stop that, or choose another port for good: ./perch"
            " start --port NUMBER. It is never changed in silence: bookmarks, calendar feeds and results that"
            " wait in browsers hang on it."
        )
    if door:
        for port in (door.port, *((door.trust_port,) if door.own_authority else ())):
            if listens(port, door.host):
                raise Trouble(
                    f"Port {port} of {door.host} is taken by another program. Stop that, or choose another"
                    " for phones: ./perch start --lan --lan-port NUMBER."
                )
        front.write_config(door, behind=address.port)
    with step("starting the server"), LOG.open("ab") as log:
        own = [address.host, str(address.port), str(address.processes)]
        words = [sys.executable, "-m", "wise_perch.machine.keeper", *own]
        process = subprocess.Popen(
            words,
            cwd=ROOT,
            env=settings,
            stdin=subprocess.DEVNULL,
            stdout=log,
            stderr=log,
            start_new_session=True,
            close_fds=True,
        )
        write_state(
            server={"pid": process.pid, "code": wanted},
            address={**asdict(address), "names": list(address.names)},
        )
        wait_until_it_answers(address.port, process, host=address.called)
        if door:
            front.wait_for(door)
    return door


def wait_until_it_answers(
    port: int, process: "subprocess.Popen[bytes]", *, host: str = "127.0.0.1", seconds: float = 60
) -> None:
    """Wait for a server process. Raises Trouble if it ends or stays silent."""
    deadline = time.monotonic() + seconds
    while not answers(port, host):
        if process.poll() is not None or time.monotonic() > deadline:
            raise Trouble(f"The server did not start; nothing is lost. Its log is {LOG}.")
        time.sleep(0.05)


def stop_if_running() -> bool:
    """Stop the keeper and its server; say whether they ran."""
    state = read_state().get("server")
    if not state or not is_ours(state["pid"]):
        return False
    os.kill(state["pid"], signal.SIGTERM)
    deadline = time.monotonic() + 10
    while is_ours(state["pid"]):
        if time.monotonic() > deadline:
            os.kill(state["pid"], signal.SIGKILL)
        time.sleep(0.05)
    return True
