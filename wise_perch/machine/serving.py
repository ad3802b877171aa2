"""One server process: python -m wise_perch.machine.serving HOST PORT [shared], with the PERCH_ variables.

Several processes share one address, each with a listening socket of its own, between which the system deals
out connections. One socket handed down to all of them would cost every answer some 40 ms: made without its
protocol being named, it is not taken for TCP, and small answers wait to be acknowledged (Nagle's algorithm).
"""

import socket
import sys

import uvicorn

from wise_perch.machine.progress import say

GRACE_S = 5
"""So long what is under way may take once the process is told to end."""
STARTUP_FAILED = 3


def listening_socket(host: str, port: int, *, shared: bool) -> socket.socket:
    """A socket bound to an address; where it is `shared` others of this user may listen there as well."""
    found = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM, flags=socket.AI_PASSIVE)
    family, kind, _, _, address = found[0]
    made = socket.socket(family, kind, socket.IPPROTO_TCP)
    made.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    if shared:
        made.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEPORT, 1)
    made.bind(address)
    return made


def main() -> int:
    """Serve until told to end."""
    host, port, shared = sys.argv[1], int(sys.argv[2]), "shared" in sys.argv[3:]
    config = uvicorn.Config(
        "wise_perch.api.app:from_environment",
        factory=True,
        # who a request is from is the application's to say: it believes a proxy only where one is named
        proxy_headers=False,
        access_log=False,
        server_header=False,
        timeout_graceful_shutdown=GRACE_S,
    )
    server = uvicorn.Server(config)
    try:
        listens = listening_socket(host, port, shared=shared)
    except OSError as error:
        say(f"{host}:{port} cannot be listened on: {error.strerror}.")
        return STARTUP_FAILED
    server.run(sockets=[listens])
    return 0 if server.started else STARTUP_FAILED


if __name__ == "__main__":
    sys.exit(main())
