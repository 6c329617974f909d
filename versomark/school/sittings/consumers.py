"""The sockets. They carry one word, “changed”, to devices in a lesson also what is shown to all of them, and are closed
to everyone whom it does not concern."""

from collections.abc import Sequence
from typing import Any

from asgiref.sync import sync_to_async
from channels.generic.websocket import AsyncJsonWebsocketConsumer

from . import nudges, presence, services, tokens
from .models import Seat

REFUSED = 4403


class Listener(AsyncJsonWebsocketConsumer):  # type: ignore[misc]  # channels ships no types
    """Joins its groups after a check, and passes their nudges on."""

    joined: Sequence[str] = ()

    async def find_groups(self) -> Sequence[str]:
        """Empty where there is nothing to hear."""
        raise NotImplementedError

    async def connect(self) -> None:
        nudges.listening()
        self.joined = await self.find_groups()
        await self.accept()
        if not self.joined:
            await self.close(code=REFUSED)
        for group in self.joined:
            await self.channel_layer.group_add(group, self.channel_name)

    async def disconnect(self, code: int) -> None:
        for group in self.joined:
            await self.channel_layer.group_discard(group, self.channel_name)

    async def changed(self, event: dict[str, Any]) -> None:
        await self.send_json({"changed": True} | ({"shown": event["shown"]} if "shown" in event else {}))


class StaffListener(Listener):
    """The teacher who watches a sitting."""

    async def find_groups(self) -> Sequence[str]:
        user, sitting_id = self.scope["user"], self.scope["url_route"]["kwargs"]["sitting_id"]
        if not user.is_authenticated:
            return []
        found = services.sittings_of(user).filter(pk=sitting_id)
        return [nudges.staff_group(sitting_id)] if await sync_to_async(found.exists)() else []


class SeatListener(Listener):
    """A student's device. The teacher sees whether it holds its connection."""

    seat: Seat | None = None

    async def find_groups(self) -> Sequence[str]:
        held = await sync_to_async(tokens.held_by)(self.scope["cookies"])
        if held is None or held.how != "holds":
            return []
        self.seat = seat = held.seat
        presence.came(seat.pk)
        await self.tell_staff()
        return [nudges.seats_group(seat.sitting_id), nudges.seat_group(seat.pk)]

    async def disconnect(self, code: int) -> None:
        await super().disconnect(code)
        if self.seat is not None:
            presence.went(self.seat.pk)
            await self.tell_staff()

    async def tell_staff(self) -> None:
        if self.seat is not None:
            await self.channel_layer.group_send(nudges.staff_group(self.seat.sitting_id), nudges.CHANGED)
