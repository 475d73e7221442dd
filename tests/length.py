"""How long a simulation or a soak runs: short in ``make test``, full under ``make honesty`` and ``make soak``."""

import os

FULL = os.environ.get("SETBACK_LENGTH") == "full"
