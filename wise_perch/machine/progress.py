"""What the command says while it works. Standard output is kept for data, so progress goes to standard
error.
"""

import sys
from collections.abc import Iterator
from contextlib import contextmanager
from time import monotonic


class Trouble(Exception):
    """Something on this machine stands in the way; the text says what, what is safe, and what to do."""


def say(text: str) -> None:
    """Say one line."""
    sys.stderr.write(f"{text}\n")
    sys.stderr.flush()


@contextmanager
def step(text: str) -> Iterator[None]:
    """Say what is being done, and how long it took if that was long enough to wonder."""
    say(f"  {text} ...")
    begun = monotonic()
    yield
    if (took := monotonic() - begun) > 2:
        say(f"    done in {took:.0f} s")
