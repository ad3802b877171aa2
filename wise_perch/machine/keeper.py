"""Keeps a server running: starts each of its processes again when it ends by itself, starts PostgreSQL again,
and writes the day's backup. Run as `python -m wise_perch.machine.keeper HOST PORT [PROCESSES]` with the
server's PERCH_ variables.
"""

import ctypes
import os
import signal
import subprocess
import sys
import threading
from time import monotonic
from types import FrameType

from wise_perch.machine import backups, front, hall_data, server
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
    """The processes of a server, and what they stand on."""

    def __init__(self, words: list[str], *, processes: int = 1, front: list[str] | None = None) -> None:
        """Keep so many processes that `words` start, and one that `front` starts where phones are served."""
        self.kept = [(words, True)] * processes + ([(front, False)] if front else [])
        self.over = threading.Event()
        self.status = 0
        self.children: dict[int, subprocess.Popen[bytes]] = {}

    def stop(self, _signum: int, _frame: FrameType | None) -> None:
        """Stop for good; what a signal does."""
        self._end()

    def _end(self) -> None:
        self.over.set()
        for child in list(self.children.values()):
            child.terminate()

    def run(self) -> int:
        """Run until told to stop. Gives the exit status: a server that cannot even start is not tried
        again.
        """
        threading.Thread(target=self._look_after_data, daemon=True).start()
        # a thread for each: a process ends with the thread that started it
        threads = [threading.Thread(target=self._keep, args=(n, *kept)) for n, kept in enumerate(self.kept)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        return self.status

    def _keep(self, number: int, words: list[str], vital: bool) -> None:
        """Keep one process; where a `vital` one cannot even start, nothing is kept."""
        falls, first = 0, True
        while not self.over.is_set():
            begun = monotonic()
            # S603: the words are this module's own
            child = subprocess.Popen(words, preexec_fn=_die_with_keeper)
            self.children[number] = child
            if self.over.is_set():
                child.terminate()
            status = child.wait()
            lived = monotonic() - begun
            if self.over.is_set():
                break
            if vital and first and status > 0 and lived < LOOK_S:
                self.status = status
                self._end()
                break
            first = False
            falls = 0 if lived > WELL_S else falls + 1
            how = f"signal {-status}" if status < 0 else f"status {status}"
            what = "server" if vital else "front door for phones"
            say(f"The {what} ended by itself ({how}) after {lived:.0f} s; it is started again.")
            self.over.wait(PAUSES_S[min(falls, len(PAUSES_S) - 1)])

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
    """Keep the server of HOST and PORT, with so many PROCESSES, and the front door where one is named."""
    host, port, processes = sys.argv[1], int(sys.argv[2]), int((*sys.argv[3:], "1")[0])
    caddy = os.environ.get(server.FRONT, "")
    keeper = Keeper(
        server.command(port, host=host, shared=processes > 1),
        processes=processes,
        front=front.command(caddy) if caddy else None,
    )
    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, keeper.stop)
    return keeper.run()


if __name__ == "__main__":
    sys.exit(main())
