"""Nudges over the sockets: they only say that something changed, and whoever hears one asks again over HTTP.

They are sent after the transaction commits, so a listener that asks at once sees the new state.
"""

import asyncio
from collections.abc import Mapping
from functools import partial
from typing import Any

from asgiref.sync import async_to_sync
from channels.layers import get_channel_layer
from django.db import transaction

CHANGED: dict[str, Any] = {"type": "changed"}


def staff_group(sitting_id: int) -> str:
    return f"sitting.{sitting_id}.staff"


def seats_group(sitting_id: int) -> str:
    return f"sitting.{sitting_id}.seats"


def seat_group(seat_id: int) -> str:
    return f"seat.{seat_id}"


def teacher_group(teacher_id: int) -> str:
    return f"teacher.{teacher_id}"


def signed_out(teacher_id: int, session_key: str) -> None:
    """Sockets that were opened in this session close."""
    message = {"type": "signed.out", "session": session_key}
    transaction.on_commit(partial(_send, teacher_group(teacher_id), message))


def seat_told(sitting_id: int, seat_id: int) -> None:
    """The teacher, and the student of this seat alone, should look again."""
    _send_after_commit(staff_group(sitting_id), seat_group(seat_id))


def sitting_changed(sitting_id: int) -> None:
    """Teacher and students of the sitting should look again."""
    _send_after_commit(staff_group(sitting_id), seats_group(sitting_id))


def shown_to_all(sitting_id: int, shown: Mapping[str, Any]) -> None:
    """As `sitting_changed`, with what every student of the sitting is shown now, so that a room full of devices need
    not ask for it at the same moment. It is the same for all of them and holds nothing of any one."""
    _send_after_commit(staff_group(sitting_id))
    transaction.on_commit(partial(_send, seats_group(sitting_id), {**CHANGED, "shown": dict(shown)}))


def seat_changed(sitting_id: int) -> None:
    """The teacher who watches should look again."""
    _send_after_commit(staff_group(sitting_id))


def _send_after_commit(*groups: str) -> None:
    for group in groups:
        transaction.on_commit(partial(_send, group, CHANGED))


# Sockets live in one event loop, and what is sent to them must be sent there.
_loop: asyncio.AbstractEventLoop | None = None
_due: set[str] = set()
TOGETHER = 0.03
"""Seconds for which nudges of a group are gathered into one: a class that answers makes a hundred a second."""


def listening() -> None:
    """Called in the loop of the sockets as one of them opens."""
    global _loop
    _loop = asyncio.get_running_loop()


def _send(group: str, message: dict[str, Any]) -> None:
    """From any thread. Whoever answers a request does not wait for it."""
    if _loop is not None and _loop.is_running():
        _loop.call_soon_threadsafe(_in_loop, _loop, group, message)
    else:
        async_to_sync(get_channel_layer().group_send)(group, message)


def _in_loop(loop: asyncio.AbstractEventLoop, group: str, message: dict[str, Any]) -> None:
    if message is not CHANGED:
        _sending(loop, group, message)
    elif group not in _due:
        _due.add(group)
        loop.call_later(TOGETHER, _now_due, loop, group)


def _now_due(loop: asyncio.AbstractEventLoop, group: str) -> None:
    _due.discard(group)
    _sending(loop, group, CHANGED)


_tasks: set[asyncio.Task[None]] = set()


def _sending(loop: asyncio.AbstractEventLoop, group: str, message: dict[str, Any]) -> None:
    task = loop.create_task(get_channel_layer().group_send(group, message))
    # The loop itself holds a task only weakly.
    _tasks.add(task)
    task.add_done_callback(_tasks.discard)
