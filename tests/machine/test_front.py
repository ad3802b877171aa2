"""The front door for phones, what keeps it, and the release archive."""

import subprocess
import sys
from pathlib import Path

import httpx
import pytest

from wise_perch.machine import browser_side, front, server
from wise_perch.machine.keeper import Keeper
from wise_perch.machine.places import ROOT
from wise_perch.machine.postgres import free_port
from wise_perch.machine.progress import Trouble
from wise_perch.machine.release import RUN_ALONE, write_release


def a_door(tmp_path: Path, **more: str) -> front.Front:
    return front.Front(
        host="127.0.0.1", port=free_port(), trust_port=free_port(), folder=tmp_path / "front", **more
    )


def test_debians_caddy_takes_what_is_written_and_its_certificate_is_told_by_its_sum(tmp_path: Path) -> None:
    """Served for real: the page that a phone opens once gives the certificate whose SHA-256 it shows, and
    TLS by it is good for whoever trusts it and for nobody else.
    """
    door = a_door(tmp_path)
    front.write_config(door, behind=free_port())
    caddy = subprocess.Popen(
        front.command(front.find_caddy(), folder=door.folder),
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    try:
        front.wait_for(door)
        page = httpx.get(door.trust)
        given = httpx.get(f"{door.trust}hall.crt").content
        said = subprocess.run(
            ["openssl", "x509", "-noout", "-fingerprint", "-sha256"],
            input=given,
            capture_output=True,
            check=True,
        ).stdout.decode()
        assert said.strip().partition("=")[2] in page.text
        trusted = tmp_path / "trusted.crt"
        trusted.write_bytes(given)
        # nothing answers behind it: the door says so itself
        import ssl

        known = ssl.create_default_context(cafile=str(trusted))
        assert httpx.get(f"{door.outside}/", verify=known).status_code == 502
        with pytest.raises(httpx.ConnectError, match="certificate"):
            httpx.get(f"{door.outside}/")
    finally:
        caddy.terminate()
        caddy.wait()


def test_a_domains_certificate_is_used_as_it_is(tmp_path: Path) -> None:
    """With a certificate of a domain phones use its name, and there is nothing to trust first."""
    made = a_door(tmp_path, certificate="/srv/full.pem", key="/srv/key.pem")
    door = front.Front(
        host=made.host,
        port=8443,
        names=("hall.example.org",),
        certificate=made.certificate,
        key=made.key,
        folder=made.folder,
    )
    assert (door.outside, door.trust) == ("https://hall.example.org:8443", "")
    front.write_config(door, behind=8420)
    written = door.config.read_text("utf-8")
    assert 'tls "/srv/full.pem" "/srv/key.pem"' in written
    assert "tls internal" not in written
    assert "hall.crt" not in written


def test_without_a_network_the_hall_goes_on(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    """A machine that comes up without its network serves itself, and says why no phone comes in."""

    def nowhere() -> str:
        raise Trouble("This machine is in no network that phones could reach it by.")

    monkeypatch.setattr(front, "house_address", nowhere)
    assert server.front_of(server.Address(lan=True)) is None
    assert "No phones for now" in capsys.readouterr().err
    assert server.front_of(server.Address()) is None


def test_a_front_door_that_cannot_open_takes_nothing_else_down(tmp_path: Path) -> None:
    """The server is kept though the door beside it ends at once; told to end, both do."""
    stands = tmp_path / "stands"
    serves = [
        sys.executable,
        "-c",
        f"import pathlib, time; pathlib.Path({str(stands)!r}).touch(); time.sleep(60)",
    ]
    keeper = Keeper(serves, front=[sys.executable, "-c", "raise SystemExit(1)"])
    from threading import Thread
    from time import monotonic, sleep

    running = Thread(target=keeper._keep, args=(0, *keeper.kept[0]))
    door = Thread(target=keeper._keep, args=(1, *keeper.kept[1]))
    running.start()
    door.start()
    until = monotonic() + 60
    while not (stands.exists() and 1 in keeper.children and keeper.children[1].poll() is not None):
        assert monotonic() < until
        sleep(0.02)
    assert (keeper.over.is_set(), keeper.children[0].poll(), keeper.status) == (False, None, 0)
    keeper._end()
    running.join(60)
    door.join(60)
    assert not running.is_alive()
    assert not door.is_alive()


def test_a_release_brings_the_pages_built_and_no_node(tmp_path: Path) -> None:
    """Unpacked, the pages are taken as they are: the stamp fits the sources beside them, and the lock has no
    Node. Nothing of this machine is in it.
    """
    file = tmp_path / "release.tar.gz"
    write_release(file)
    (tmp_path / "there").mkdir()
    subprocess.run(["tar", "xzf", file, "-C", tmp_path / "there"], check=True)
    (top,) = (tmp_path / "there").iterdir()
    assert browser_side.DIST.relative_to(ROOT) == Path("web/dist")
    asks = "from wise_perch.machine import browser_side as b; print(b.digest(*b.SOURCES))"
    wanted = subprocess.run(
        [sys.executable, "-c", asks],
        cwd=top,
        env={"PYTHONPATH": str(top)},
        capture_output=True,
        check=True,
        text=True,
    )
    assert (top / "web" / "dist" / ".perch-stamp").read_text("utf-8") == wanted.stdout.strip()
    lock = (top / RUN_ALONE).read_text("utf-8")
    assert "nodejs" not in lock
    assert "fastapi==" in lock
    assert (top / "perch").stat().st_mode & 0o100
    for left_out in (".git", ".perch", "web/node_modules"):
        assert not (top / left_out).exists(), left_out
