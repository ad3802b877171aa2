"""What one computer needs: ports, digests, state that survives a crash."""

import socket
from pathlib import Path

import pytest

from wise_perch.machine import places
from wise_perch.machine.postgres import Cluster, create_database, free_port


def test_a_taken_port_is_left_alone() -> None:
    """If somebody listens on the usual port another free one is given."""
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        assert free_port(port) not in (0, port)
    assert free_port(port) == port


def test_state_is_for_this_user_only_and_keeps_what_it_had(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    """Passwords are readable by their owner alone; a change keeps the rest, and None forgets."""
    monkeypatch.setattr(places, "HOME", tmp_path)
    monkeypatch.setattr(places, "STATE", tmp_path / "state.json")
    assert places.read_state() == {}
    places.write_state(a=1, b=2)
    places.write_state(b=None, c=3)
    assert places.read_state() == {"a": 1, "c": 3}
    assert places.STATE.stat().st_mode & 0o077 == 0


def test_a_digest_follows_names_and_contents(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    """A build is made again when a source changes its content or its name, and not otherwise."""
    monkeypatch.setattr(places, "ROOT", tmp_path)
    (tmp_path / "a").write_text("1", "utf-8")
    first = places.digest(tmp_path)
    assert places.digest(tmp_path) == first
    (tmp_path / "a").write_text("2", "utf-8")
    second = places.digest(tmp_path)
    (tmp_path / "a").rename(tmp_path / "b")
    assert len({first, second, places.digest(tmp_path)}) == 3


def test_a_cluster_listens_on_loopback_and_starts_again(cluster: Cluster) -> None:
    """The cluster runs, is bound to 127.0.0.1 alone, and creating a database twice is harmless."""
    assert cluster.running()
    create_database(cluster, "twice")
    create_database(cluster, "twice")
    conf = (cluster.folder / "postgresql.conf").read_text("utf-8")
    assert "listen_addresses = '127.0.0.1'" in conf
    assert "unix_socket_directories = ''" in conf
