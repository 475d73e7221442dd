"""Where the program says what went wrong: one format, on standard error, set up once by the command."""

from __future__ import annotations

import logging.config

FORMAT = "%(asctime)s %(levelname)s %(name)s: %(message)s"


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
            # The server counts its queue aloud whenever a page asks for several things at once.
            "loggers": {"waitress.queue": {"level": "ERROR"}},
        }
    )
