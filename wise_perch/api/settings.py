"""The application's settings: one table of name, type, default and help, read from PERCH_ variables."""

from pathlib import Path

from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict

LOOPBACK = ("localhost", "127.0.0.1", "[::1]")
"""What a machine calls itself."""


class Settings(BaseSettings):
    """How one server process is set up. Every field is read from the variable PERCH_<NAME>."""

    model_config = SettingsConfigDict(env_prefix="PERCH_")

    database: str = Field(
        description="postgresql:// address the application connects with, as the role perch_app"
    )
    web: Path | None = Field(
        default=None, description="folder of the built browser side; none serves the api alone"
    )
    session_days: int = Field(default=30, description="days until a session ends by itself")
    demo: str = Field(
        default="",
        description="email and password of the demo coach, shown on the sign-in page; empty without a demo",
    )
    hosts: str = Field(
        default=" ".join(LOOPBACK),
        description="names and addresses a browser may call this server by, separated by spaces; * for any",
    )
    outside: str = Field(
        default="",
        description="the address other devices reach this server by, as https://hall.lan:8443; what a QR"
        " code holds",
    )
    trust: str = Field(
        default="",
        description="the address where a device gets the certificate it is to trust, where that is of an"
        " authority of our own",
    )
    proxies: str = Field(
        default="",
        description="addresses or networks of reverse proxies, separated by spaces, whose X-Forwarded-For and"
        " X-Forwarded-Proto are believed; none by default",
    )
    answer_s: float = Field(default=60.0, description="most seconds a request may take, its body included")
    upload_bytes: int = Field(default=8 * 1024 * 1024, description="largest request body taken, in bytes")
    long_work: bool = Field(default=True, description="whether this process takes up long work of the queue")
    connections: int = Field(default=10, description="most database connections of this process")
