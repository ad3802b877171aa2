"""What the line costs: a thousand frames in the core beside numpy's plain sum, a still on the screen beside
one bare call of the model, and how fast the camera is looked at, with the page's long tasks.
"""

import base64
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from playwright.sync_api import Browser, Page, sync_playwright

from bench.first_view import FLAGS, browser, signed_in
from bench.hall import Hall
from wise_perch.core.line.frames import judge_frames
from wise_perch.core.line.points import COCO
from wise_perch.machine.browser import find_chromium
from wise_perch.machine.places import ROOT

FRAMES, TIMES = 1000, 300
STAND_INS = ROOT / "web" / "public" / "stand-ins"
LIVE_S = 15
LONG_TASKS = """
window.long = [];
new PerformanceObserver((list) => { for (const e of list.getEntries()) window.long.push(e.duration); })
  .observe({ type: "longtask", buffered: true });
"""
BARE = """async (name) => {
  const held = window.finderWorker;
  const blob = await (await fetch(`/stand-ins/${name}.jpg`)).blob();
  const found = [];
  for (let n = 0; n < 12; n++) {
    const picture = await createImageBitmap(blob);
    const box = { x: 0, y: 0, w: picture.width, h: picture.height };
    const begun = performance.now();
    const answer = new Promise((done) => held.addEventListener("message", done, { once: true }));
    held.postMessage({ kind: "find", id: 1e6 + n, picture, box }, [picture]);
    await answer;
    found.push(performance.now() - begun);
  }
  found.sort((a, b) => a - b);
  return found[Math.floor(found.length / 2)];
}"""
KEEP_WORKER = """
const Made = window.Worker;
window.Worker = function (...words) { window.finderWorker = new Made(...words); return window.finderWorker; };
"""
FILM = """async (name) => {
  const video = document.createElement("video");
  video.muted = true;
  video.src = `/stand-ins/${name}.webm`;
  await new Promise((done) => { video.onloadeddata = done; });
  const canvas = document.createElement("canvas");
  canvas.width = video.videoWidth;
  canvas.height = video.videoHeight;
  const found = [];
  for (let n = 0; n < Math.floor(video.duration * 10); n++) {
    await new Promise((done) => { video.onseeked = done; video.currentTime = (n + 0.5) / 10; });
    canvas.getContext("2d").drawImage(video, 0, 0);
    found.push(canvas.toDataURL("image/jpeg", 0.85).split(",")[1]);
  }
  return found;
}"""


def frames_in_the_core() -> tuple[float, float]:
    """A thousand frames judged and numpy's sum over the whole array of their points, both in microseconds."""
    draw = np.random.default_rng(17)
    packed = draw.normal(300, 100, (3, 10, FRAMES))
    packed[2] = draw.integers(0, 3, packed[2].shape)
    whole = draw.normal(size=(FRAMES, len(COCO), 3))

    def least(work: Callable[[], object]) -> float:
        found = []
        for _ in range(TIMES):
            begun = time.perf_counter()
            work()
            found.append(time.perf_counter() - begun)
        return 1e6 * min(found)

    return least(lambda: judge_frames(packed)), least(whole.sum)


@dataclass(frozen=True, kw_only=True)
class OfStills:
    """A still from pick to verdict once the model is there, and one bare call on the same picture, ms; the
    longest task of the page meanwhile, ms.
    """

    still: float
    bare: float
    longest: float


def in_the_browser(made: Browser, port: int, hall: Hall, trainee: str) -> OfStills:
    """Measure stills, one after the other."""
    context = signed_in(made, port, hall)
    page = context.new_page()
    page.add_init_script(KEEP_WORKER + LONG_TASKS)
    _open(page, port, trainee)
    _still(page, "banana")
    stills = sorted(_still(page, name) for name in ("straight", "banana", "straight", "banana", "straight"))
    bare = float(page.evaluate(BARE, "straight"))
    longest = max(page.evaluate("window.long"), default=0.0)
    context.close()
    return OfStills(still=stills[len(stills) // 2], bare=bare, longest=float(longest))


def line_live(port: int, hall: Hall, trainee: str) -> tuple[float, float]:
    """Frames looked at in a second by the live camera, and the longest task of the page meanwhile, ms."""
    with browser() as made:
        page = signed_in(made, port, hall).new_page()
        page.goto(f"http://127.0.0.1:{port}/kit")
        film = [base64.b64decode(f) for f in page.evaluate(FILM, "falls-over")]
    return _camera(port, hall, trainee, film)


def _open(page: Page, port: int, trainee: str) -> None:
    page.goto(f"http://127.0.0.1:{port}/trainees/{trainee}/line?drill=free-hold-10")
    page.get_by_label("A drawn picture").wait_for()
    # from here on: how long a page takes to begin is measured elsewhere
    page.evaluate("window.long.length = 0")


def _still(page: Page, name: str) -> float:
    """From the moment a file is picked until its verdict stands, ms."""
    again = page.get_by_role("button", name="Another picture")
    if again.is_visible():
        again.click()
    picker = page.get_by_label("Pick a file")
    picker.wait_for(state="attached")
    begun = time.perf_counter()
    picker.set_input_files(STAND_INS / f"{name}.jpg")
    page.get_by_test_id("said").wait_for()
    return 1000 * (time.perf_counter() - begun)


def _camera(port: int, hall: Hall, trainee: str, film: list[bytes]) -> tuple[float, float]:
    with tempfile.TemporaryDirectory(prefix="perch-camera-") as folder, sync_playwright() as playwright:
        path = Path(folder) / "camera.mjpeg"
        path.write_bytes(b"".join(frame * 3 for frame in film))
        flags = (
            "--use-fake-ui-for-media-stream --use-fake-device-for-media-stream"
            f" --use-file-for-fake-video-capture={path}"
        )
        made = playwright.chromium.launch(
            executable_path=find_chromium(), args=[*FLAGS.split(), *flags.split()]
        )
        context = signed_in(made, port, hall)
        page = context.new_page()
        page.add_init_script(LONG_TASKS)
        _open(page, port, trainee)
        page.get_by_role("button", name="Use the camera").click()
        page.get_by_text("frames a second are looked at").wait_for()
        page.wait_for_timeout(1000 * LIVE_S)
        words = page.get_by_test_id("rate").inner_text()
        longest = max(page.evaluate("window.long"), default=0.0)
        made.close()
    return float(words.split()[0]), float(longest)
