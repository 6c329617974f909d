"""SQLite as Django has it, but for one thing: writers of this process queue up, first come, first served.

SQLite lets one writer in at a time, and whoever finds it busy sleeps and tries again. With hundreds of students that is
a lottery in which somebody may lose for twenty seconds and be told “database is locked”. Here a transaction takes its
place in a queue before it begins.
"""

import threading
from collections import deque
from types import TracebackType
from typing import Any

from django.db.backends.sqlite3 import base


class Queue:
    """A lock that is handed on in the order in which it was asked for."""

    def __init__(self) -> None:
        self._guard = threading.Lock()
        self._busy = False
        self._waiting: deque[threading.Event] = deque()

    def __enter__(self) -> None:
        with self._guard:
            if not self._busy:
                self._busy = True
                return
            mine = threading.Event()
            self._waiting.append(mine)
        mine.wait()

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None) -> None:
        with self._guard:
            if self._waiting:
                self._waiting.popleft().set()
            else:
                self._busy = False


_queues: dict[str, Queue] = {}
_guard = threading.Lock()


def queue_of(name: str) -> Queue:
    """One a database file."""
    with _guard:
        return _queues.setdefault(name, Queue())


class DatabaseWrapper(base.DatabaseWrapper):
    """Takes its place before a transaction begins, and gives it up when that is over, however it ends."""

    _place: Queue | None = None

    def _start_transaction_under_autocommit(self) -> None:
        queue = queue_of(str(self.settings_dict["NAME"]))
        queue.__enter__()
        self._place = queue
        try:
            super()._start_transaction_under_autocommit()  # type: ignore[misc]
        except BaseException:
            self._leave()
            raise

    def _leave(self) -> None:
        place, self._place = self._place, None
        if place is not None:
            place.__exit__(None, None, None)

    def _commit(self) -> Any:
        try:
            return super()._commit()  # type: ignore[misc]
        finally:
            self._leave()

    def _rollback(self) -> Any:
        try:
            return super()._rollback()  # type: ignore[misc]
        finally:
            self._leave()

    def _close(self) -> Any:
        try:
            return super()._close()  # type: ignore[misc]
        finally:
            self._leave()
