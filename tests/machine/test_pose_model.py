"""The model of the line: packed once, checked by hash, absent without harm."""

import pytest

from wise_perch.machine import pose_model
from wise_perch.machine.progress import Trouble


def test_what_is_packed_is_what_it_should_be() -> None:
    """Where it lies here it has the sums that are written down; a byte more would be told."""
    if not pose_model.POSE.is_dir():
        pytest.skip("the model could not be packed here: its packages cannot be reached")
    assert pose_model.is_whole()
    sums = {kind: pose_model._sum(pose_model.POSE / f"pose_{kind}.task") for kind in pose_model.KINDS}
    assert sums == pose_model.KINDS


def test_another_sum_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    if not pose_model.POSE.is_dir():
        pytest.skip("the model could not be packed here: its packages cannot be reached")
    monkeypatch.setattr(pose_model, "KINDS", {"lite": "0" * 64})
    assert not pose_model.is_whole()


def test_without_its_packages_everything_else_goes_on(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    """It is said in words, and nothing is raised."""

    def fails() -> None:
        raise Trouble("the network cannot be reached")

    monkeypatch.setattr(pose_model, "is_whole", lambda: False)
    monkeypatch.setattr(pose_model, "ensure_packages", lambda: None)
    monkeypatch.setattr(pose_model, "_pack", fails)
    assert pose_model.ensure_pose() is None
    said = capsys.readouterr()
    assert "the network cannot be reached" in said.out + said.err
    assert "placed by hand" in said.out + said.err
