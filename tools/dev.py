"""Server and front end for working on Setback: each starts again by itself when its files change.

The page is at the address that the front end's server prints; it hands what begins with ``/api`` on to the server, which works on
the demo in ``.make/dev.db`` unless ``SETBACK_DB`` names another file.
"""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent
PORT = 8350


def serve() -> None:
    """The server alone, with Flask's reloader: it is started again whenever a Python file changes."""
    from setback.api.app import create_app
    from setback.demo import build
    from setback.logs import set_up

    set_up("INFO")
    path = Path(os.environ.get("SETBACK_DB") or ROOT / ".make" / "dev.db")
    if not path.exists():
        print("Building the demo …", flush=True)
        path.parent.mkdir(parents=True, exist_ok=True)
        build(path)
    # The reloader runs this twice; only the process that serves may work on jobs.
    serving = os.environ.get("WERKZEUG_RUN_MAIN") == "true"
    create_app(path, demo=True, worker=serving).run("127.0.0.1", PORT, debug=True, use_reloader=True)


def main() -> int:
    """Both, until one of them ends or somebody presses Ctrl+C."""
    server = subprocess.Popen([sys.executable, "-m", "tools.dev", "--server"], cwd=ROOT)
    front_end = subprocess.Popen(["npm", "run", "--silent", "dev"], cwd=ROOT / "web")
    both = (server, front_end)
    try:
        while all(one.poll() is None for one in both):
            try:
                front_end.wait(timeout=1)
            except subprocess.TimeoutExpired:
                continue
    except KeyboardInterrupt:
        pass
    finally:
        for one in both:
            one.terminate()
        for one in both:
            one.wait()
    return 0


if __name__ == "__main__":
    if "--server" in sys.argv:
        serve()
    else:
        sys.exit(main())
