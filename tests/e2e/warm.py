"""A process that has loaded the libraries once and becomes a server by forking: the tests start some eighty of them,
and loading takes three quarters of a start. What it forks into is `versomark.site.serve` as the shell starts it.

Reads a line of JSON a server (environment, arguments, where its output goes) and answers with its process id.
"""

import importlib
import json
import os
import pkgutil
import signal
import sys
from contextlib import suppress
from pathlib import Path

HEAVY = [
    "cv2",
    "docx",
    "lxml.html",
    "latex2mathml.converter",
    "odf.opendocument",
    "openpyxl",
    "pint",
    "pypdfium2",
    "reportlab.pdfgen.canvas",
    "scipy.sparse.csgraph",
    "scipy.special",
    "sympy",
    "uvicorn",
    "weasyprint",
    "ziamath",
    "zxingcpp",
    "django.core.handlers.wsgi",
    "django.db.models",
]


def load() -> None:
    for name in HEAVY:
        importlib.import_module(name)
    import versomark.core

    for module in pkgutil.walk_packages(versomark.core.__path__, "versomark.core."):
        importlib.import_module(module.name)


def become_a_server(order: dict[str, object]) -> None:
    signal.signal(signal.SIGCHLD, signal.SIG_DFL)
    os.setsid()
    out = os.open(str(order["out"]), os.O_WRONLY)
    os.dup2(out, 1)
    os.dup2(os.open(os.devnull, os.O_RDONLY), 0)
    os.environ.clear()
    os.environ.update(order["environment"])  # type: ignore[call-overload]
    sys.argv = ["serve", *order["arguments"]]  # type: ignore[misc]
    from versomark.site.serve import main

    main()


def wait_for_orders() -> None:
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)  # nobody waits for them here
    print("warm", flush=True)
    servers = []
    for line in sys.stdin:
        pid = os.fork()
        if pid == 0:
            try:
                become_a_server(json.loads(line))
            finally:
                os._exit(0)
        servers.append(pid)
        print(pid, flush=True)
    # Whoever gave the orders is gone, and may have been stopped in the middle of a test.
    for pid in servers:
        with suppress(ProcessLookupError):
            os.kill(pid, signal.SIGKILL)


if __name__ == "__main__":
    sys.path.insert(0, str(Path(__file__).resolve().parents[2]))
    load()
    wait_for_orders()
