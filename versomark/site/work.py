"""A process that does the work in the background and serves no page: `./verso work`, beside web processes that were
started with `VERSO_WORK=0`. On PostgreSQL only; SQLite is one process's."""

import os
import signal
import sys
import threading

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "versomark.site.settings")


def main() -> None:
    import django

    django.setup()
    from django.conf import settings

    from versomark.site import background

    if not settings.DATABASE_URL:
        sys.exit("verso: on SQLite the service does this work itself; DATABASE_URL names a PostgreSQL.")
    ended = threading.Event()
    for sign in (signal.SIGTERM, signal.SIGINT):
        signal.signal(sign, lambda *_: ended.set())
    background.start()
    print("working", flush=True)
    ended.wait()


if __name__ == "__main__":
    main()
