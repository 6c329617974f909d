"""The sockets. They carry one word, “changed”, to devices in a lesson also what is shown to all of them, and are closed
to everyone whom it does not concern."""

from typing import Any

from asgiref.sync import sync_to_async
from channels.generic.websocket import AsyncJsonWebsocketConsumer

from . import nudges, presence, services, tokens
from .models import Seat

REFUSED = 4403


class Listener(AsyncJsonWebsocketConsumer):  # type: ignore[misc]  # channels ships no types
    """Joins one group after a check, and passes its nudges on."""

    group: str | None = None

    async def find_group(self) -> str | None:
        raise NotImplementedError

    async def connect(self) -> None:
        self.group = await self.find_group()
        await self.accept()
        if self.group is None:
            await self.close(code=REFUSED)
        else:
            await self.channel_layer.group_add(self.group, self.channel_name)

    async def disconnect(self, code: int) -> None:
        if self.group is not None:
            await self.channel_layer.group_discard(self.group, self.channel_name)

    async def changed(self, event: dict[str, Any]) -> None:
        await self.send_json({"changed": True} | ({"shown": event["shown"]} if "shown" in event else {}))


class StaffListener(Listener):
    """The teacher who watches a sitting."""

    async def find_group(self) -> str | None:
        user, sitting_id = self.scope["user"], self.scope["url_route"]["kwargs"]["sitting_id"]
        if not user.is_authenticated:
            return None
        found = services.sittings_of(user).filter(pk=sitting_id)
        return nudges.staff_group(sitting_id) if await sync_to_async(found.exists)() else None


class SeatListener(Listener):
    """A student's device. The teacher sees whether it holds its connection."""

    seat: Seat | None = None

    async def find_group(self) -> str | None:
        seat_id = tokens.seat_id_of(self.scope["cookies"])
        seat = await sync_to_async(Seat.objects.filter(pk=seat_id or 0).first)()
        if seat is None:
            return None
        self.seat = seat
        presence.came(seat.pk)
        await self.tell_staff()
        return nudges.seats_group(seat.sitting_id)

    async def disconnect(self, code: int) -> None:
        await super().disconnect(code)
        if self.seat is not None:
            presence.went(self.seat.pk)
            await self.tell_staff()

    async def tell_staff(self) -> None:
        if self.seat is not None:
            await self.channel_layer.group_send(nudges.staff_group(self.seat.sitting_id), nudges.CHANGED)
