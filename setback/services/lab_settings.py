"""What one lab sets for itself: its name, how numbers are shown, and what is taken where nobody says otherwise."""

from __future__ import annotations

import os
import secrets
import sqlite3
from pathlib import Path
from typing import Annotated, Literal
from urllib.parse import urlsplit

from pydantic import Field

from ..core.climate.band import AT_LEAST_C
from ..core.contract import Contract, Problem
from ..core.lab_form import NumberForm
from ..store import copies
from ..store.lab import settings as store
from .both_versions import same_version
from .unit_of_work import UnitOfWork

NAME, COOKIE_SECRET = "lab", "cookie_secret"
BASE_ADDRESS = "http://127.0.0.1:8350"
ADDRESS_SETTING = "SETBACK_ADDRESS"
"""The environment's name for the address; it wins over what is set in the lab."""

SheetName = Literal["24", "40", "65"]
DateForm = Literal["29 Nov 2026", "Nov 29, 2026", "2026-11-29"]


class LabSettings(NumberForm):
    """The settings of the whole lab; every one has a usual value."""

    name: str = Field("", max_length=80, description="Stands on cards and certificates")
    currency: str = Field("", max_length=6, description="Sign or short name that stands before prices; empty for none")
    date_form: DateForm = Field("29 Nov 2026", description="How a day is written, by its example")
    band_c: float = Field(
        AT_LEAST_C, ge=1, le=6, description="°C to either side of the coupons a set is proposed to be valid for"
    )
    low_stock_ml: float = Field(
        100,
        ge=0,
        le=5000,
        description="A material in use of which less is left stands in today's list, ml; 0 for never",
    )
    label_sheet: SheetName = Field("24", description="Sheet of labels that usually lies in the printer, by its count")
    base_address: Annotated[str, Field(max_length=200)] = Field(
        "", description="Where QR codes on cards and labels lead; empty for this machine"
    )
    backup_folder: Annotated[str, Field(max_length=400)] = Field(
        "", description="A folder on another disk that gets a copy of each day beside the usual one"
    )


class LabSettingsView(LabSettings):
    """The settings with the version that is edited, and what follows from them."""

    version: int = Field(0, ge=0, description="Counts the changes; 0 while nobody set them")


class LabPlace(Contract):
    """What this machine makes of the settings."""

    address: str = Field(description="Where QR codes lead now")
    address_from: Literal["environment", "lab", "usual"] = Field(description="What the address comes from")
    reaches_others: bool = Field(description="Whether another device could follow it: not the machine's own address")
    copies_folder: str = Field(description="Where the automatic copies lie")


def lab_settings(work: UnitOfWork) -> LabSettingsView:
    """The settings of the lab; the usual ones until somebody sets others."""
    return LabSettingsView.model_validate(store.value(work.db, NAME) or {})


def change(work: UnitOfWork, request: LabSettingsView) -> LabSettingsView:
    """Set them for the whole lab. What is issued or signed keeps its words.

    Raises
    ------
    Problem
        Naming the address that is none, or the folder that is not there or may not be written.
    """
    fields = {}
    tidy = request.model_copy(
        update={
            "name": " ".join(request.name.split()),
            "currency": request.currency.strip(),
            "base_address": request.base_address.strip().rstrip("/"),
            "backup_folder": request.backup_folder.strip(),
        }
    )
    if tidy.base_address and (wrong := _no_address(tidy.base_address)):
        fields["base_address"] = wrong
    if tidy.backup_folder and (wrong := _no_folder(tidy.backup_folder)):
        fields["backup_folder"] = wrong
    if fields:
        raise Problem(next(iter(fields.values())), fields)
    with work.write() as answer:
        work.technician()
        same_version(lab_settings(work), request.version, "The lab's settings", request)
        store.put(work.db, NAME, {**tidy.model_dump(), "version": request.version + 1})
        return answer(lab_settings(work))


def cookie_secret(work: UnitOfWork) -> str:
    """What this lab signs cookies with; drawn once. It opens nothing by itself: what a cookie carries is only kept as a hash."""
    stored = store.value(work.db, COOKIE_SECRET)
    if stored is None:
        stored = secrets.token_hex(32)
        with work.write(by_anybody=True):
            store.put(work.db, COOKIE_SECRET, stored)
    return str(stored)


def number_form(db: sqlite3.Connection) -> NumberForm:
    """In which units and with which decimal mark this lab reads numbers."""
    kept = store.value(db, NAME) or {}
    return NumberForm(**{key: kept[key] for key in NumberForm.model_fields if key in kept})


def base_address(work: UnitOfWork) -> str:
    """Where links on paper lead, without a slash at its end."""
    return (os.environ.get(ADDRESS_SETTING) or lab_settings(work).base_address or BASE_ADDRESS).rstrip("/")


def place(work: UnitOfWork) -> LabPlace:
    """Where QR codes lead, and where the copies lie."""
    address = base_address(work)
    named = lab_settings(work).base_address
    return LabPlace(
        address=address,
        address_from="environment" if os.environ.get(ADDRESS_SETTING) else "lab" if named else "usual",
        reaches_others=(urlsplit(address).hostname or "") not in ("127.0.0.1", "localhost", "::1"),
        copies_folder=str(copies.folder(work.path)),
    )


def _no_address(address: str) -> str | None:
    """What is wrong with an address; None when nothing is."""
    try:
        parts = urlsplit(address)
        sound = parts.scheme in ("http", "https") and parts.hostname and (parts.port is None or parts.port > 0)
    except ValueError:
        sound = False
    if not sound or set(address) & set(" <>\"'") or parts.query or parts.fragment or parts.username:
        return "Give an address as a browser shows it, like https://bench.local:8350."
    return None


def _no_folder(folder: str) -> str | None:
    """Why copies cannot be laid into a folder; None when they can."""
    path = Path(folder)
    if not path.is_absolute():
        return "Give the whole path of the folder, from the root of its disk."
    if not path.is_dir():
        return "There is no such folder. Make it first, or plug its disk in."
    if not os.access(path, os.W_OK | os.X_OK):
        return "Setback may not write into this folder."
    return None
