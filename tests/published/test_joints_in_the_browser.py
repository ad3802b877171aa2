"""Joints found in the browser against the same model run by the library it comes from, outside a browser:
PyPI `mediapipe` 0.10.21 in an environment of this test's own. Left out, and said to be, where it cannot be
installed.
"""

import base64
import json
import subprocess
import sys
from math import hypot
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import (  # noqa: F401
    browser_context_args,
    browser_type_launch_args,
    coach,
    hall,
    patient,
    standing_hall,
)
from tests.browser.test_line import open_line, pick
from wise_perch.machine.places import DIST

WANTED = (
    "mediapipe==0.10.21",
    "absl-py==2.3.1",
    "attrs==25.3.0",
    "flatbuffers==25.2.10",
    "numpy==1.26.4",
    "protobuf==4.25.8",
    "opencv-python-headless==4.11.0.86",
)
STILLS = ("straight", "banana", "closed", "piked")
PARTS = ("shoulder", "elbow", "wrist", "hip", "knee", "ankle")
NUMBERS = dict(zip(PARTS, ((11, 12), (13, 14), (15, 16), (23, 24), (25, 26), (27, 28)), strict=True))
"""The model's own numbers of the left and the right joint."""
LIBRARY = """
import json, sys, types
# what draws and what needs a sound card is not needed to find joints
for name in ("matplotlib", "matplotlib.pyplot", "sounddevice", "jax", "sentencepiece"):
    sys.modules.setdefault(name, types.ModuleType(name))
import cv2, numpy as np
import mediapipe as mp
from mediapipe.tasks.python import BaseOptions
from mediapipe.tasks.python.vision import PoseLandmarker, PoseLandmarkerOptions
made = PoseLandmarker.create_from_options(
    PoseLandmarkerOptions(base_options=BaseOptions(model_asset_path=sys.argv[1]))
)
found = {}
for path in sys.argv[2:]:
    picture = cv2.cvtColor(cv2.imread(path), cv2.COLOR_BGR2RGB)
    high, wide = picture.shape[:2]
    turned = np.ascontiguousarray(picture[::-1, ::-1])
    (points,) = made.detect(mp.Image(image_format=mp.ImageFormat.SRGB, data=turned)).pose_landmarks
    found[path] = [[wide * (1 - p.x), high * (1 - p.y)] for p in points]
print("FOUND" + json.dumps(found))
"""


@pytest.fixture(scope="module")
def library(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """An interpreter with the library, or none."""
    if not (DIST / "pose").is_dir():
        pytest.skip("the model could not be packed here")
    folder = tmp_path_factory.mktemp("library")
    uv = [sys.executable, "-m", "uv"]
    interpreter = folder / "venv" / "bin" / "python"
    for words in (
        [*uv, "venv", "--quiet", "--python", sys.executable, str(folder / "venv")],
        [*uv, "pip", "install", "--quiet", "--no-deps", "--python", str(interpreter), *WANTED],
    ):
        try:
            done = subprocess.run(words, capture_output=True, text=True, check=False, timeout=240)
        except subprocess.TimeoutExpired:
            pytest.skip("the library could not be fetched in time")
        if done.returncode:
            pytest.skip(f"the library cannot be installed here: {done.stderr[-300:]}")
    return interpreter


PIXELS = """async (name) => {
  const picture = await createImageBitmap(await (await fetch(`/stand-ins/${name}.jpg`)).blob());
  const canvas = document.createElement("canvas");
  canvas.width = picture.width;
  canvas.height = picture.height;
  canvas.getContext("2d").drawImage(picture, 0, 0);
  return canvas.toDataURL("image/png").split(",")[1];
}"""


def test_the_browser_finds_the_joints_that_the_library_finds(
    library: Path,
    coach: Page,  # noqa: F811
    tmp_path: Path,
) -> None:
    """Every joint of four drawn bodies within a hundredth of the path from wrist to ankle, from the very
    pixels that the browser has.
    """
    files = []
    for name in STILLS:
        path = tmp_path / f"{name}.png"
        path.write_bytes(base64.b64decode(coach.evaluate(PIXELS, name)))
        files.append(str(path))
    done = subprocess.run(
        [str(library), "-c", LIBRARY, str(DIST / "pose" / "pose_full.task"), *files],
        capture_output=True,
        text=True,
        check=True,
    )
    theirs: dict[str, Any] = json.loads(done.stdout.partition("FOUND")[2])
    sent: list[str] = []
    coach.on("request", lambda r: sent.append(r.post_data or "") if r.url.endswith("/line/judge") else None)
    open_line(coach)
    for name, file in zip(STILLS, files, strict=True):
        before = len(sent)
        pick(coach, name)
        expect(coach.get_by_test_id("said")).to_be_visible()
        assert len(sent) > before
        ours = json.loads(sent[-1])["points"]
        wrist, ankle = ours["left_wrist"], ours["left_ankle"]
        path_px = hypot(wrist[0] - ankle[0], wrist[1] - ankle[1])
        for part, numbers in NUMBERS.items():
            for side, n in zip(("left", "right"), numbers, strict=True):
                x, y, _ = ours[f"{side}_{part}"]
                off = hypot(x - theirs[file][n][0], y - theirs[file][n][1]) / path_px
                assert off < 0.01, (name, side, part, off)
