"""The real server on a day that a test chooses: its clock stands where a file says, and goes on from there.

Run by `python -m tests.browser.moved_server PORT FILE`; the file holds a moment in ISO form.
"""

import sys
import threading
import time
from datetime import datetime
from pathlib import Path

import time_machine
import uvicorn

LOOKS_EVERY_S = 0.05


def serve(port: int, told: Path) -> None:
    """Serve until killed, moving to whatever moment the file comes to hold."""
    seen = told.read_text("utf-8")
    clock = time_machine.travel(datetime.fromisoformat(seen), tick=True).start()

    def follow() -> None:
        nonlocal seen
        while True:
            time.sleep(LOOKS_EVERY_S)
            now = told.read_text("utf-8")
            if now and now != seen:
                seen = now
                clock.move_to(datetime.fromisoformat(now))

    threading.Thread(target=follow, daemon=True).start()
    uvicorn.run(
        "wise_perch.api.app:from_environment",
        factory=True,
        host="127.0.0.1",
        port=port,
        access_log=False,
        log_level="warning",
    )


if __name__ == "__main__":
    serve(int(sys.argv[1]), Path(sys.argv[2]))
