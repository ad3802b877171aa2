"""The front door for phones in the hall: Debian's caddy with TLS before the server, on the house's network.

By itself the server is on loopback. With `./perch start --lan` caddy listens for the house, with a
certificate of an authority of its own (made here, kept here) or with a domain's that is given, and passes on
to loopback.
"""

import hashlib
import shutil
import socket
import ssl
import subprocess
import time
from dataclasses import dataclass
from html import escape
from pathlib import Path

from wise_perch.machine.places import HOME
from wise_perch.machine.progress import Trouble, step

FOLDER = HOME / "front"
UNPACKED = FOLDER / "caddy" / "usr" / "bin" / "caddy"
USUAL_PORT = 8443
TRUST_PORT = 8480
"""Where a phone gets the authority's certificate, which it cannot ask for over what it does not trust yet."""
ANYWHERE = ("10.255.255.255", 1)
WAIT_S = 30.0


@dataclass(frozen=True, kw_only=True)
class Front:
    """How the house reaches the server. `host`: this machine's address in it; `names` it is also called by;
    `certificate` and `key`: a domain's, else an authority of our own. `folder`: where what it needs lies.
    """

    host: str
    port: int = USUAL_PORT
    names: tuple[str, ...] = ()
    certificate: str = ""
    key: str = ""
    trust_port: int = TRUST_PORT
    folder: Path = FOLDER

    @property
    def config(self) -> Path:
        """What caddy is told to do."""
        return self.folder / "Caddyfile"

    @property
    def authority(self) -> Path:
        """The certificate of our own authority, which caddy makes when it first starts."""
        return self.folder / "data" / "pki" / "authorities" / "local" / "root.crt"

    @property
    def own_authority(self) -> bool:
        """Whether phones have to be told to trust an authority of ours."""
        return not self.certificate

    @property
    def outside(self) -> str:
        """The address phones use."""
        # a domain's certificate is for its name
        called = self.names[0] if self.certificate and self.names else self.host
        return f"https://{called}:{self.port}"

    @property
    def trust(self) -> str:
        """The address where a phone gets the authority's certificate; empty where it needs none."""
        return f"http://{self.host}:{self.trust_port}/" if self.own_authority else ""


def house_address() -> str:
    """This machine's address in the house: the one it would send from. Nothing is sent. Raises Trouble where
    it is in no network.
    """
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as asks:
        try:
            asks.connect(ANYWHERE)
            found = str(asks.getsockname()[0])
        except OSError:
            found = ""
    if not found or found.startswith("127."):
        raise Trouble(
            "This machine is in no network that phones could reach it by. Connect it to the hall's first, or"
            " start without phones: ./perch start --no-lan"
        )
    return found


def find_caddy() -> str:
    """Debian's caddy: installed, or unpacked from its package into this folder, where none of its service
    is started. Raises Trouble where it cannot be had.
    """
    if found := shutil.which("caddy"):
        return found
    if not UNPACKED.exists():
        with step("fetching caddy, which puts TLS before the server"):
            FOLDER.mkdir(parents=True, exist_ok=True)
            try:
                _download()
                package = next(FOLDER.glob("caddy_*.deb"))
                subprocess.run(["dpkg-deb", "-x", package, FOLDER / "caddy"], check=True, capture_output=True)
                package.unlink()
            except (OSError, subprocess.CalledProcessError, StopIteration):
                raise Trouble(
                    "Phones are served through Debian's caddy, which is not here and could not be fetched."
                    " Ask whoever looks after this machine to run: apt-get install caddy"
                ) from None
    return str(UNPACKED)


def _download() -> None:
    """Have Debian's package here. Lists that are not there yet are read first, which is root's to do."""
    words = ["apt-get", "download", "caddy"]
    if subprocess.run(words, cwd=FOLDER, check=False, capture_output=True).returncode:
        subprocess.run(["apt-get", "update"], check=True, capture_output=True)
        subprocess.run(words, cwd=FOLDER, check=True, capture_output=True)


def write_config(front: Front, *, behind: int) -> None:
    """Write what caddy is to do: TLS for the house before the server on loopback's port `behind`."""
    trust = front.folder / "trust"
    trust.mkdir(parents=True, exist_ok=True)
    sites = " ".join(f"https://{name}:{front.port}" for name in dict.fromkeys((front.host, *front.names)))
    tls = f'tls "{front.certificate}" "{front.key}"' if front.certificate else "tls internal"
    certificate = (
        f"""
http://{front.host}:{front.trust_port} {{
    handle /hall.crt {{
        root * "{front.authority.parent}"
        rewrite * /root.crt
        header Content-Type application/x-x509-ca-cert
        file_server
    }}
    handle {{
        root * "{trust}"
        file_server
    }}
}}
"""
        if front.own_authority
        else ""
    )
    front.config.write_text(
        f"""# written by ./perch start --lan; what is changed here is written over
{{
    admin off
    storage file_system "{front.folder / "data"}"
    auto_https disable_redirects
    skip_install_trust
    grace_period 2s
    default_sni {front.host}
    pki {{
        ca local {{
            name "Wise Perch, this hall"
            root_cn "Wise Perch, this hall's own authority"
        }}
    }}
}}
{sites} {{
    {tls}
    reverse_proxy 127.0.0.1:{behind} {{
        # what changes in the hall is told at once
        flush_interval -1
    }}
}}
{certificate}""",
        encoding="utf-8",
    )


def command(caddy: str, *, folder: Path = FOLDER) -> list[str]:
    """The words that start caddy by what was written for it."""
    return [caddy, "run", "--config", str(folder / "Caddyfile"), "--adapter", "caddyfile"]


def fingerprint(front: Front) -> str:
    """The authority's SHA-256 as phones show it, to compare."""
    made = ssl.PEM_cert_to_DER_cert(front.authority.read_text("ascii"))
    said = hashlib.sha256(made).hexdigest().upper()
    return ":".join(said[n : n + 2] for n in range(0, len(said), 2))


def wait_for(front: Front) -> None:
    """Wait until caddy answers, and write the page that tells how a phone comes to trust it. Raises
    Trouble.
    """
    deadline = time.monotonic() + WAIT_S
    while True:
        try:
            with socket.create_connection((front.host, front.port), timeout=2):
                if not front.own_authority or front.authority.exists():
                    break
        except OSError:
            pass
        if time.monotonic() > deadline:
            raise Trouble(
                f"The front door at {front.outside} does not answer. The server itself runs on; its log is in"
                " .perch/server.log."
            )
        time.sleep(0.05)
    if front.own_authority:
        (front.folder / "trust" / "index.html").write_text(trust_page(front), encoding="utf-8")


def trust_page(front: Front) -> str:
    """The page a phone opens once, to trust this hall's authority."""
    return f"""<!doctype html>
<html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Trust this hall</title>
<style>
body {{ font: 1.125rem/1.5 sans-serif; margin: 2rem auto; max-width: 34rem; padding: 0 1rem; color: #1d2b27;
    background: #f6f2e9 }}
a {{ color: #1f5b9e; font-weight: bold }}
code {{ overflow-wrap: anywhere }}
</style>
<h1>Trust this hall, once</h1>
<p>What goes between this phone and the hall's machine is locked with a certificate that the hall made itself.
The phone has to be told so before it keeps the app for use without a network.</p>
<ol>
<li><a href="/hall.crt">Take the hall's certificate</a>.</li>
<li>Install it: on most phones in the settings under security, certificates, as one of an authority. On some
the download is a profile: install it in the settings, then switch it on under certificate trust.</li>
<li>Compare its SHA-256 with what stands here and on the hall's machine. If it differs, do not install it:<br>
<code>{fingerprint(front)}</code></li>
<li>Open <a href="{escape(front.outside)}/">{escape(front.outside)}</a>.</li>
</ol>
<p>Whoever holds the hall's machine could answer for other sites with it. Take it off the phone when you leave
the hall.</p>
</html>
"""
