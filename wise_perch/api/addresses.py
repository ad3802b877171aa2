"""Addresses to hand over: whole, as a phone needs them, and as a QR code."""

import io
from dataclasses import dataclass

import segno
from fastapi import Request

from wise_perch.api.auth import App, over_tls


@dataclass(frozen=True, kw_only=True)
class Handed:
    """An address to hand over: its path, the whole of it, its QR code as an SVG, and whether another device
    can reach it. `trust`: where a device gets the certificate it is to trust first; empty where it needs none
    of its own. Shown once, and not kept.
    """

    path: str
    address: str
    qr: str
    reachable: bool
    trust: str


def qr_of(text: str) -> str:
    """A text as a QR code (ISO/IEC 18004), an SVG without a size of its own."""
    out = io.BytesIO()
    segno.make(text, error="m").save(
        out, kind="svg", xmldecl=False, svgns=True, omitsize=True, border=3, dark="#1d2b27", light="#ffffff"
    )
    return out.getvalue().decode()


def hand_over(path: str, request: Request, app: App) -> Handed:
    """A path as an address for another device: where this server is reached in the house, if it is; else by
    the name the request came by.
    """
    outside = app.settings.outside.rstrip("/")
    scheme = "https" if over_tls(request, app.settings) else "http"
    here = f"{scheme}://{request.headers.get('host', '')}"
    base = outside or here
    own = request.url.hostname in ("localhost", "127.0.0.1", "::1")
    return Handed(
        path=path,
        address=f"{base}{path}",
        qr=qr_of(f"{base}{path}"),
        reachable=bool(outside) or not own,
        trust=app.settings.trust,
    )
