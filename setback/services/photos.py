"""Photos of coupons: checked, turned upright, cleaned of hidden data, and kept in the database."""

from __future__ import annotations

import hashlib
import io
import warnings

from ..core.contract import Problem
from ..store import calibrations as store
from ..store import readings, tests
from ..store.rows import insert, update
from .bench import Bench, Conflict, View, present
from .readings import PhotoView

LIMIT_BYTES = 25_000_000
LONGEST_PX = 2000


class PhotoState(View):
    id: str
    retired_at: str | None


def add(bench: Bench, id_or_code: str, content: bytes) -> PhotoView:
    """Keep a photo of a coupon.

    Raises
    ------
    Problem
        When the file is no picture, or is too large.
    """
    cleaned = _cleaned(content)
    with bench.write() as answer:
        row = present(store.coupon(bench.db, id_or_code), "coupon")
        if row.gone_at is not None:
            raise Conflict(f"Coupon {row.code} is gone ({row.gone_reason}).")
        photo_id = _insert(bench, *cleaned, coupon_id=row.id)
        return answer(PhotoView.model_validate(readings.photo(bench.db, photo_id)))


def add_to_specimen(bench: Bench, id_or_code: str, content: bytes) -> PhotoView:
    """Keep a photo of a specimen, such as where it broke."""
    cleaned = _cleaned(content)
    with bench.write() as answer:
        specimen = present(tests.specimen(bench.db, id_or_code), "specimen")
        photo_id = _insert(bench, *cleaned, specimen_id=specimen.id)
        return answer(PhotoView.model_validate(readings.photo(bench.db, photo_id)))


def keep(bench: Bench, coupon_id: str, content: bytes) -> None:
    """Keep a photo where a transaction is open already."""
    _insert(bench, *_cleaned(content), coupon_id=coupon_id)


def _insert(bench: Bench, image: bytes, width: int, height: int, **of: str) -> str:
    photo_id = bench.new_id()
    insert(
        bench.db, "photo", id=photo_id, **of, mime="image/jpeg", width_px=width, height_px=height,
        sha256=hashlib.sha256(image).hexdigest(), image=image, taken_at=bench.now(),
        technician_id=bench.technician_id(),
    )  # fmt: skip
    return photo_id


def retire(bench: Bench, photo_id: str) -> PhotoState:
    """Take a photo away from its coupon; it can be brought back."""
    with bench.write() as answer:
        present(readings.photo(bench.db, photo_id), "photo")
        update(bench.db, "photo", photo_id, retired_at=bench.now())
        return answer(PhotoState.model_validate(readings.photo(bench.db, photo_id)))


def restore(bench: Bench, photo_id: str) -> PhotoState:
    with bench.write() as answer:
        present(readings.photo(bench.db, photo_id), "photo")
        update(bench.db, "photo", photo_id, retired_at=None)
        return answer(PhotoState.model_validate(readings.photo(bench.db, photo_id)))


def content(bench: Bench, photo_id: str) -> tuple[str, bytes]:
    """MIME type and bytes."""
    return present(readings.photo_bytes(bench.db, photo_id), "photo")


def _cleaned(content: bytes) -> tuple[bytes, int, int]:
    from PIL import Image, ImageOps, UnidentifiedImageError

    if len(content) > LIMIT_BYTES:
        said = f"The photo is larger than {LIMIT_BYTES // 1_000_000} MB. Take it at a lower resolution."
        raise Problem(said, {"photo": said})
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(content), formats=("JPEG", "PNG", "WEBP")) as opened:
                upright = ImageOps.exif_transpose(opened).convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Warning, Image.DecompressionBombError):
        said = "This is no picture that can be read. Give a JPEG, PNG or WebP photo."
        raise Problem(said, {"photo": said}) from None
    upright.thumbnail((LONGEST_PX, LONGEST_PX))
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=88)
    return out.getvalue(), upright.width, upright.height
