"""How large a file may be that comes in, and what a scan may be of."""

from __future__ import annotations

from pydantic import Field

from ..climate.imports import LARGEST_BYTES as LARGEST_LOG_BYTES
from ..reading.photos import LIMIT_BYTES as LARGEST_PHOTO_BYTES
from ..reading.pictures import SCANNER_DPI
from ..unit_of_work import View


class FileLimits(View):
    """The most that is taken of a file, bytes; and the resolutions a scan is chosen from."""

    scanner_dpi: list[int] = Field(list(SCANNER_DPI), description="Resolutions that scanners have, dots per inch")
    photo_bytes: int = Field(LARGEST_PHOTO_BYTES, description="Of a photo")
    log_bytes: int = Field(LARGEST_LOG_BYTES, description="Of a temperature logger's file")
