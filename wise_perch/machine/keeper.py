"""Keeps a server running: starts it again when it ends by itself, starts PostgreSQL again, and writes the
day's backup. Run as `python -m wise_perch.machine.keeper HOST PORT` with the server's PERCH_ variables.
"""

import ctypes
import os
import signal
import subprocess
import sys
import threading
from time import monotonic
from types import FrameType

from wise_perch.machine import backups, hall_data, server
from wise_perch.machine.progress import Trouble, say

LOOK_S = 5.0
"""How often PostgreSQL is looked after."""
BACKUP_S = 900.0
"""How often it is looked whether a day's backup is due."""
PAUSES_S = (0.2, 1.0, 2.0, 5.0, 10.0, 30.0)
"""Before each start again; the last one stays. A server that ran for a while begins at the first."""
WELL_S = 60.0
PR_SET_PDEATHSIG = 1


def _die_with_keeper() -> None:
    """A server whose keeper is killed ends too, or it would hold the port with nobody looking after it."""
    ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, signal.SIGTERM)


class Keeper:
    """One server process, and what it stands on."""

    def __init__(self, words: list[str]) -> None:
        """Keep the process that `words` start."""
        self.words = words
        self.over = threading.Event()
        self.child: subprocess.Popen[bytes] | None = None

    def stop(self, _signum: int, _frame: FrameType | None) -> None:
        """Stop for good; what a signal does."""
        self.over.set()
        if self.child is not None:
            self.child.terminate()

    def run(self) -> int:
        """Run until told to stop. Gives the exit status: a server that cannot even start is not tried
        again.
        """
        threading.Thread(target=self._look_after_data, daemon=True).start()
        falls, first = 0, True
        while not self.over.is_set():
            begun = monotonic()
            # S603: the words are this module's own
            self.child = subprocess.Popen(self.words, preexec_fn=_die_with_keeper)
            if self.over.is_set():
                self.child.terminate()
            status = self.child.wait()
            lived = monotonic() - begun
            if self.over.is_set():
                break
            if first and status > 0 and lived < LOOK_S:
                return status
            first = False
            falls = 0 if lived > WELL_S else falls + 1
            how = f"signal {-status}" if status < 0 else f"status {status}"
            say(f"The server ended by itself ({how}) after {lived:.0f} s; it is started again.")
            self.over.wait(PAUSES_S[min(falls, len(PAUSES_S) - 1)])
        return 0

    def _look_after_data(self) -> None:
        cluster = hall_data.known_cluster()
        if cluster is None:
            return
        database = os.environ["PERCH_DATABASE"].rpartition("/")[2]
        looked_at = -BACKUP_S
        while not self.over.wait(LOOK_S):
            try:
                if not cluster.running():
                    say("PostgreSQL had ended; it is started again.")
                    cluster.start()
                if monotonic() - looked_at >= BACKUP_S:
                    looked_at = monotonic()
                    if file := backups.daily(cluster, database):
                        say(f"Backup of the day: {file}")
            except (Trouble, OSError) as trouble:
                say(f"{trouble}")
            except Exception as error:
                say(f"Looking after the data failed: {error!r}")


def main() -> int:
    """Keep the server of HOST and PORT."""
    host, port = sys.argv[1], int(sys.argv[2])
    keeper = Keeper(server.command(port, host=host))
    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, keeper.stop)
    return keeper.run()


if __name__ == "__main__":
    sys.exit(main())
