"""Nudges over the sockets: they only say that something changed, and whoever hears one asks again over HTTP.

They are sent after the transaction commits, so a listener that asks at once sees the new state.
"""

from functools import partial

from asgiref.sync import async_to_sync
from channels.layers import get_channel_layer
from django.db import transaction

CHANGED = {"type": "changed"}


def staff_group(sitting_id: int) -> str:
    return f"sitting.{sitting_id}.staff"


def seats_group(sitting_id: int) -> str:
    return f"sitting.{sitting_id}.seats"


def sitting_changed(sitting_id: int) -> None:
    """Teacher and students of the sitting should look again."""
    _send_after_commit(staff_group(sitting_id), seats_group(sitting_id))


def seat_changed(sitting_id: int) -> None:
    """The teacher who watches should look again."""
    _send_after_commit(staff_group(sitting_id))


def _send_after_commit(*groups: str) -> None:
    send = async_to_sync(get_channel_layer().group_send)
    for group in groups:
        transaction.on_commit(partial(send, group, CHANGED))
