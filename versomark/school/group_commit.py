"""Writing of many threads, done in one transaction.

A commit waits for the disk, and with SQLite everybody else waits for it too. When a class answers at once, whoever
comes while a commit is under way waits for the next one, and all who wait are written by it together. Nobody hears that
it is done before it is on the disk.
"""

import threading
from collections import deque
from collections.abc import Callable
from typing import Generic, TypeVar

from django.db import connection, transaction

from .errors import DomainError

Asked = TypeVar("Asked")
Done = TypeVar("Done")
MOST = 50
"""Pieces of work in one transaction."""


class _Piece(Generic[Asked, Done]):
    def __init__(self, asked: Asked) -> None:
        self.asked, self.turn = asked, threading.Event()
        self.leads = False
        self.done: Done
        self.error: BaseException | None = None


class GroupCommit(Generic[Asked, Done]):
    """`work` is done for each that asks. It either refuses with NotPossible before it has written anything, or does
    all of it: pieces that stand in one transaction are not undone one by one."""

    def __init__(self, work: Callable[[Asked], Done]) -> None:
        self._work = work
        self._guard = threading.Lock()
        self._waiting: deque[_Piece[Asked, Done]] = deque()
        self._led = False

    def do(self, asked: Asked) -> Done:
        """Within a transaction of the caller's own it is done there. PostgreSQL writes the commits of many together
        by itself, and there the leader's transaction would not be about the others' seats."""
        if connection.in_atomic_block:
            return self._work(asked)
        if connection.vendor != "sqlite":
            with transaction.atomic():
                return self._work(asked)
        mine = _Piece[Asked, Done](asked)
        with self._guard:
            self._waiting.append(mine)
            mine.leads, self._led = not self._led, True
        if not mine.leads:
            mine.turn.wait()
        if mine.leads:
            self._lead()
        if mine.error is not None:
            raise mine.error
        return mine.done

    def _lead(self) -> None:
        """Do all that waits, one's own among it, and let the next one who waits lead."""
        with self._guard:
            pieces = [self._waiting.popleft() for _ in range(min(MOST, len(self._waiting)))]
        try:
            self._do(pieces)
        finally:
            with self._guard:
                following = self._waiting[0] if self._waiting else None
                self._led = following is not None
                if following is not None:
                    following.leads = True
                    following.turn.set()
            for piece in pieces:
                piece.turn.set()

    def _do(self, pieces: list[_Piece[Asked, Done]]) -> None:
        try:
            with transaction.atomic():
                for piece in pieces:
                    self._one(piece)
        except Exception:
            # One that breaks takes the others' transaction with it; by itself it breaks nobody's but its own.
            for piece in pieces:
                try:
                    with transaction.atomic():
                        self._one(piece)
                except Exception as error:
                    piece.error = error

    def _one(self, piece: _Piece[Asked, Done]) -> None:
        piece.error = None
        try:
            piece.done = self._work(piece.asked)
        except DomainError as refused:
            piece.error = refused
