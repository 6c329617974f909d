"""The sockets. They carry one word, “changed”, to devices in a lesson also what is shown to all of them, and are closed
to everyone whom it does not concern."""

import asyncio
from collections.abc import Sequence
from typing import Any

from asgiref.sync import sync_to_async
from channels.generic.websocket import AsyncJsonWebsocketConsumer

from versomark.school.origins import is_own_origin

from . import nudges, presence, tokens
from .models import Seat
from .queries import sittings_of

REFUSED = 4403
SIGNED_OUT = 4401


class Listener(AsyncJsonWebsocketConsumer):  # type: ignore[misc]  # channels ships no types
    """Joins its groups after a check, and passes their nudges on."""

    joined: Sequence[str] = ()

    async def find_groups(self) -> Sequence[str]:
        """Empty where there is nothing to hear."""
        raise NotImplementedError

    async def connect(self) -> None:
        nudges.listening()
        # Browsers say whose page opens a socket; another site's page has no business here, whoever is signed in.
        headers = dict(self.scope["headers"])
        origin, host = (headers.get(name, b"").decode("latin-1") for name in (b"origin", b"host"))
        own = not origin or is_own_origin(origin, host)
        self.joined = await self.find_groups() if own else ()
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


SESSION_LOOKED_AT_EVERY = 60


class StaffListener(Listener):
    """The teacher who watches a sitting, for as long as they are signed in."""

    watch: asyncio.Task[None] | None = None

    async def connect(self) -> None:
        await super().connect()
        if self.joined:
            self.watch = asyncio.create_task(self.close_with_session())

    async def disconnect(self, code: int) -> None:
        if self.watch is not None:
            self.watch.cancel()
        await super().disconnect(code)

    async def close_with_session(self) -> None:
        """Sessions end in many ways; here they are looked at again and again. Signing out is heard at once."""
        session = self.scope["session"]
        while await sync_to_async(session.exists)(session.session_key):
            await asyncio.sleep(SESSION_LOOKED_AT_EVERY)
        await self.close(code=SIGNED_OUT)

    async def signed_out(self, event: dict[str, Any]) -> None:
        if event["session"] == self.scope["session"].session_key:
            await self.close(code=SIGNED_OUT)

    async def find_groups(self) -> Sequence[str]:
        user, sitting_id = self.scope["user"], self.scope["url_route"]["kwargs"]["sitting_id"]
        if not user.is_authenticated:
            return []
        sittings = sittings_of(user).filter(pk=sitting_id)
        groups = [nudges.staff_group(sitting_id), nudges.teacher_group(user.pk)]
        return groups if await sync_to_async(sittings.exists)() else []


class SeatListener(Listener):
    """A student's device. The teacher sees whether it holds its connection."""

    seat: Seat | None = None

    async def find_groups(self) -> Sequence[str]:
        held_seat = await sync_to_async(tokens.held_by)(self.scope["cookies"])
        if held_seat is None or held_seat.how != "holds":
            return []
        self.seat = seat = held_seat.seat
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
