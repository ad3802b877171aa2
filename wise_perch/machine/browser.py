"""The browser that the tests, the pictures and the measurements drive: Debian's Chromium."""

import shutil


def find_chromium() -> str:
    """The path of a headless Chromium. The shell draws the same pages without a window around them, in a
    third less time; where it is not installed the whole browser does as well.
    """
    return shutil.which("chromium-headless-shell") or "/usr/bin/chromium"
