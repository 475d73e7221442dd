"""To whom a lab is served: what serving a workshop needs, said before anything listens."""

from __future__ import annotations

import os
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from urllib.parse import urlsplit

from ..api.access import Workshop
from ..services.lab_settings import ADDRESS_SETTING, lab_settings
from ..services.unit_of_work import UnitOfWork
from ..store.database import connect
from ..store.people import has_lead
from . import tls

ANY = frozenset({"0.0.0.0", "::"})


class Refused(Exception):
    """Why a lab is not served like this, and what to do."""


@dataclass(frozen=True)
class Serving:
    """How a lab is served."""

    host: str
    port: int
    tls: tuple[Path, Path] | None
    workshop: Workshop | None
    warning: str | None = None

    @property
    def address(self) -> str:
        """What somebody opens."""
        scheme = "https" if self.tls else "http"
        host = f"[{self.host}]" if ":" in self.host else self.host
        return f"{scheme}://{host}:{self.port}"


def to_workshop(
    database: Path,
    host: str,
    port: int,
    *,
    certificate: tuple[Path, Path] | None,
    behind_proxy: bool,
    names: tuple[str, ...],
    now: datetime | None = None,
) -> Serving:
    """Serve a lab to several people at an address.

    Raises
    ------
    Refused
        When nobody could sign in, or no certificate keeps passwords from being read on the way.
    """
    if not database.is_file():
        raise Refused(f"There is no database at {database}. Start once without --host, or restore a backup.")
    db = connect(database)
    try:
        if not has_lead(db):
            raise Refused(
                "Nobody could sign in: there is no account of a lead. Add one first: setback user add INITIALS --role lead"
            )
        settings = lab_settings(UnitOfWork(db))
    finally:
        db.close()
    configured = [urlsplit(place).hostname for place in (settings.base_address, os.environ.get(ADDRESS_SETTING, ""))]
    hosts = {name.lower() for name in (*names, *configured) if name} | ({host} - ANY)
    if behind_proxy:
        return Serving(host, port, None, Workshop(frozenset(hosts), behind_proxy=True))
    folder = tls.folder_of(database)
    files = certificate or (folder / "server.pem", folder / "server.key")
    if certificate is None and not files[0].exists():
        raise Refused(
            "Passwords would go over the network for all to read: there is no certificate. Make one with "
            f"setback tls-certificate {host if host not in ANY else 'NAME'}, give one with --certificate and --key, "
            "or serve behind a proxy with --behind-proxy."
        )
    moment = now or datetime.now(UTC)
    try:
        usable = tls.usable(*files, moment)
    except tls.Unusable as error:
        raise Refused(str(error)) from None
    workshop = Workshop(frozenset(hosts | usable.names), certificate_ends=usable.ends.isoformat(timespec="seconds"))
    return Serving(host, port, files, workshop, usable.warning(moment))
