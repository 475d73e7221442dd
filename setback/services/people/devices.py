"""Devices that somebody signed in at: named, and revoked when one is lost."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, StringConstraints

from ...core.contract import Contract
from ...store import people as store
from ...store.rows import update
from ..unit_of_work import UnitOfWork, View, present


class DeviceName(Contract):
    """What people here call a device."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]


class DeviceView(View):
    """A browser that somebody signed in at."""

    id: str
    name: str
    first_used_at: str = Field(description="When somebody first signed in at it")
    last_used_at: str = Field(description="When somebody last did something at it")
    initials: list[str] = Field(description="Of those who signed in at it, the last first")
    is_this: bool = Field(description="The one that asks")


class Devices(View):
    """Devices that were not revoked."""

    items: list[DeviceView]


def devices(work: UnitOfWork, row: store.SignIn) -> Devices:
    """All devices for a lead, those one signed in at for anybody else."""
    rows = store.devices(work.db, "" if row.role == "lead" else row.account_id)
    return Devices(items=[_view(device, row) for device in rows])


def rename(work: UnitOfWork, device_id: str, request: DeviceName, row: store.SignIn) -> Devices:
    """Call a device something that tells it apart."""
    with work.write(by_anybody=True):
        _mine(work, device_id, row)
        update(work.db, "device", device_id, name=request.name)
        return devices(work, row)


def revoke(work: UnitOfWork, device_id: str, row: store.SignIn) -> Devices:
    """Let a device in no more: whoever is signed in at it is out at once, and PINs chosen at it are gone."""
    with work.write(by_anybody=True):
        _mine(work, device_id, row)
        update(work.db, "device", device_id, revoked_at=work.now())
        store.end_sign_ins(work.db, work.now(), device_id=device_id)
        store.forget_pins(work.db, device_id=device_id)
        return devices(work, row)


def _mine(work: UnitOfWork, device_id: str, row: store.SignIn) -> None:
    present(next((device for device in devices(work, row).items if device.id == device_id), None), "device")


def _view(device: store.Device, row: store.SignIn) -> DeviceView:
    return DeviceView.model_validate({**device.model_dump(), "is_this": device.id == row.device_id})
