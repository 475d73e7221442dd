"""Where the program says what went wrong: on standard error, and of a server in files that follow one another."""

from __future__ import annotations

import logging
import logging.config
from logging.handlers import RotatingFileHandler
from pathlib import Path

FORMAT = "%(asctime)s %(levelname)s %(name)s: %(message)s"
FILES, FILE_BYTES = 5, 5_000_000
REQUESTS = "setback.requests"


def set_up(level: str = "WARNING") -> None:
    """Set up logging for the whole program.

    Parameters
    ----------
    level : str
        The least that is written: DEBUG, INFO, WARNING or ERROR.
    """
    logging.config.dictConfig(
        {
            "version": 1,
            "disable_existing_loggers": False,
            "formatters": {"line": {"format": FORMAT}},
            "handlers": {"stderr": {"class": "logging.StreamHandler", "formatter": "line"}},
            "root": {"level": level, "handlers": ["stderr"]},
        }
    )


def log_file(path: Path) -> Path:
    """Where the server of a database writes its log."""
    return path.with_name(f"{path.stem}-log") / "setback.log"


class _Quiet(RotatingFileHandler):
    """A disk that takes no log takes no words about that either: health says that it is full."""

    def handleError(self, record: logging.LogRecord) -> None:
        """Nothing: the request goes on."""


def keep_in_file(path: Path) -> Path | None:
    """Write a server's requests, and whatever is said on standard error, to a file beside its database too.

    Five files of five megabytes follow one another. None where the folder cannot be written: the server runs without.
    """
    file = log_file(path)
    try:
        file.parent.mkdir(exist_ok=True)
        handler = _Quiet(file, maxBytes=FILE_BYTES, backupCount=FILES - 1, encoding="utf-8", delay=False)
    except OSError as error:
        logging.getLogger(__name__).warning("No log is kept in %s: %s", file, error)
        return None
    handler.setFormatter(logging.Formatter(FORMAT))
    logging.getLogger().addHandler(handler)
    requests = logging.getLogger(REQUESTS)
    requests.setLevel(logging.INFO)
    # Each request is a line of the file, not of the terminal.
    requests.propagate = False
    requests.addHandler(handler)
    return file
