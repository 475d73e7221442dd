"""How large a file may be that comes in."""

from __future__ import annotations

from pydantic import Field

from ..climate.imports import LARGEST_BYTES as LARGEST_LOG_BYTES
from ..reading.photos import LIMIT_BYTES as LARGEST_PHOTO_BYTES
from ..unit_of_work import View


class FileLimits(View):
    """The most that is taken of a file, bytes."""

    photo_bytes: int = Field(LARGEST_PHOTO_BYTES, description="Of a photo")
    log_bytes: int = Field(LARGEST_LOG_BYTES, description="Of a temperature logger's file")
