"""Nudges over the sockets: they only say that something changed, and whoever hears one asks again over HTTP.

They are sent after the transaction commits, so a listener that asks at once sees the new state.
"""

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
    send = async_to_sync(get_channel_layer().group_send)
    transaction.on_commit(partial(send, seats_group(sitting_id), {**CHANGED, "shown": dict(shown)}))


def seat_changed(sitting_id: int) -> None:
    """The teacher who watches should look again."""
    _send_after_commit(staff_group(sitting_id))


def _send_after_commit(*groups: str) -> None:
    send = async_to_sync(get_channel_layer().group_send)
    for group in groups:
        transaction.on_commit(partial(send, group, CHANGED))
