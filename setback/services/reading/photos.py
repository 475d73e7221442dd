"""Photos of coupons: checked, turned upright, cleaned of hidden data, and kept in the database."""

from __future__ import annotations

import hashlib

from ...core.contract import Problem
from ...core.pictures import cleaned
from ...store import testing as tests
from ...store.calibrate import calibrations as store
from ...store.prints import log
from ...store.reading import readings
from ...store.rows import insert, update
from .. import apart
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .readings import PhotoView

LIMIT_BYTES = 25_000_000


class PhotoState(View):
    """Whether a photo is on its coupon."""

    id: str
    retired_at: str | None


def add(work: UnitOfWork, id_or_code: str, content: bytes) -> PhotoView:
    """Keep a photo of a coupon.

    Raises
    ------
    Problem
        When the file is no picture, or is too large.
    """
    cleaned = cleaned_apart(content)
    with work.write() as answer:
        row = present(store.coupon(work.db, id_or_code), "coupon")
        if row.gone_at is not None:
            raise Conflict(f"Coupon {row.code} is gone ({row.gone_reason}).")
        photo_id = insert_cleaned(work, *cleaned, coupon_id=row.id)
        return answer(PhotoView.model_validate(readings.photo(work.db, photo_id)))


def add_to_specimen(work: UnitOfWork, id_or_code: str, content: bytes) -> PhotoView:
    """Keep a photo of a specimen, such as where it broke."""
    cleaned = cleaned_apart(content)
    with work.write() as answer:
        specimen = present(tests.specimen(work.db, id_or_code), "specimen")
        photo_id = insert_cleaned(work, *cleaned, specimen_id=specimen.id)
        return answer(PhotoView.model_validate(readings.photo(work.db, photo_id)))


def add_to_print(work: UnitOfWork, id_or_code: str, content: bytes) -> PhotoView:
    """Keep a photo of a print.

    Raises
    ------
    Problem
        When the file is no picture or too large, or is a photo of another print.
    """
    cleaned = cleaned_apart(content)
    with work.write() as answer:
        row = present(log.one_print(work.db, id_or_code), "print")
        other = log.print_with_photo(work.db, hashlib.sha256(cleaned[0]).hexdigest())
        if other is not None:
            message = f"This is a photo of {other} already." if other != row.code else "This photo is here already."
            raise Problem(message, {"photo": message})
        photo_id = insert_cleaned(work, *cleaned, print_id=row.id)
        return answer(PhotoView.model_validate(readings.photo(work.db, photo_id)))


def keep(work: UnitOfWork, coupon_id: str, content: bytes) -> None:
    """Keep a photo of our own simulated camera where a transaction is open already: it is drawn here, and needs no child."""
    insert_cleaned(work, *cleaned(content), coupon_id=coupon_id)


def insert_cleaned(work: UnitOfWork, image: bytes, width: int, height: int, **of: str) -> str:
    """Keep a picture that was cleaned already, in the transaction that is open; its id."""
    photo_id = work.new_id()
    insert(
        work.db,
        "photo",
        id=photo_id,
        **of,
        mime="image/jpeg",
        width_px=width,
        height_px=height,
        sha256=hashlib.sha256(image).hexdigest(),
        image=image,
        taken_at=work.entered(),
        technician_id=work.technician_id(),
    )
    return photo_id


def retire(work: UnitOfWork, photo_id: str) -> PhotoState:
    """Take a photo away from its coupon; it can be brought back."""
    with work.write() as answer:
        present(readings.photo(work.db, photo_id), "photo")
        update(work.db, "photo", photo_id, retired_at=work.now())
        return answer(PhotoState.model_validate(readings.photo(work.db, photo_id)))


def restore(work: UnitOfWork, photo_id: str) -> PhotoState:
    """Put a photo back."""
    with work.write() as answer:
        present(readings.photo(work.db, photo_id), "photo")
        update(work.db, "photo", photo_id, retired_at=None)
        return answer(PhotoState.model_validate(readings.photo(work.db, photo_id)))


def content(work: UnitOfWork, photo_id: str) -> tuple[str, bytes]:
    """MIME type and bytes."""
    return present(readings.photo_bytes(work.db, photo_id), "photo")


def cleaned_apart(content: bytes) -> tuple[bytes, int, int]:
    """A picture turned upright and without hidden data, with its size in pixels; made in a child.

    Raises
    ------
    Problem
        When it is no picture, or is too large.
    """
    if len(content) > LIMIT_BYTES:
        message = f"The photo is larger than {LIMIT_BYTES // 1_000_000} MB. Take it at a lower resolution."
        raise Problem(message, {"photo": message})
    return apart.run(cleaned, content, field="photo")
