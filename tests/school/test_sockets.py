"""The sockets: a nudge to whom it concerns, a closed door to everyone else."""

import asyncio
import json
from collections.abc import Callable

import pytest
from asgiref.sync import sync_to_async
from asgiref.testing import ApplicationCommunicator

from tests.conftest import Staffroom, devices
from tests.school.test_room import lesson
from versomark.school.delivery import nudges, services
from versomark.school.delivery.consumers import REFUSED, SIGNED_OUT
from versomark.school.delivery.presence import lost_since
from versomark.school.room.console import console
from versomark.school.room.models import Room
from versomark.school.room.services import go_to
from versomark.site.asgi import application

pytestmark = pytest.mark.django_db(transaction=True)


CHANGED = {"type": "websocket.send", "text": '{"changed": true}'}


async def listener(path: str, cookies: str, origin: str = "") -> ApplicationCommunicator:
    """A socket that has asked to be let in; `origin`: whose page opened it."""
    headers = [(b"cookie", cookies.encode()), (b"host", b"school.example")]
    headers += [(b"origin", origin.encode())] if origin else []
    scope = {"type": "websocket", "path": path, "headers": headers, "query_string": b""}
    socket = ApplicationCommunicator(application, scope)
    await socket.send_input({"type": "websocket.connect"})
    assert (await socket.receive_output())["type"] == "websocket.accept"
    return socket


async def settled(*sockets: ApplicationCommunicator) -> None:
    """What was still on its way to them has come: nudges are gathered for a moment before they go out."""
    await asyncio.sleep(2 * nudges.TOGETHER)
    for socket in sockets:
        while not await socket.receive_nothing():
            await socket.receive_output()


def cookies_of(client: object) -> str:
    return "; ".join(f"{name}={morsel.value}" for name, morsel in client.cookies.items())  # type: ignore[attr-defined]


async def test_two_lessons_at_once_and_devices_that_come_and_go(staffroom: Callable[[str], Staffroom]) -> None:
    """What is shown goes to one's own class only, and the console sees which device lost its connection."""
    rooms = [await sync_to_async(lesson)(await sync_to_async(staffroom)(name)) for name in ("one", "other")]
    sockets, seats = [], []
    for room in rooms:
        device = (await sync_to_async(devices)(room.sitting))[0]
        await sync_to_async(device.join)()
        seats.append((await sync_to_async(device.seat)()).json()["seat"])
        sockets.append(await listener("/ws/seat", cookies_of(device.client)))
    await settled(*sockets)
    await sync_to_async(go_to)(rooms[0], 1)
    shown = json.loads((await sockets[0].receive_output())["text"])["shown"]
    assert (shown["stage"], shown["number"], shown["response"], shown["key"]) == ("asking", 1, None, "")
    assert await sockets[1].receive_nothing()
    assert lost_since(seats[0]) is None
    await sockets[0].send_input({"type": "websocket.disconnect", "code": 1006})
    await sockets[0].wait()
    assert lost_since(seats[0]) is not None
    assert lost_since(seats[1]) is None
    page = await sync_to_async(console)(await sync_to_async(fresh)(rooms[0]))
    assert next(line.where for line in page.waiting).startswith("connection lost")
    await sockets[1].send_input({"type": "websocket.disconnect", "code": 1000})
    await sockets[1].wait()


def fresh(room: Room) -> Room:
    return Room.objects.select_related("sitting__edition", "sitting__school_class").get(pk=room.pk)


async def test_teacher_and_student_are_nudged_and_strangers_are_not(staffroom: Callable[[str], Staffroom]) -> None:
    room, other = await sync_to_async(staffroom)("one"), await sync_to_async(staffroom)("other")
    sitting = await sync_to_async(room.sitting)()
    device = (await sync_to_async(devices)(sitting))[0]
    await sync_to_async(device.join)()

    teacher = await listener(f"/ws/sittings/{sitting.pk}", cookies_of(room.client))
    student = await listener("/ws/seat", cookies_of(device.client))
    await settled(teacher, student)
    await sync_to_async(services.open_sitting)(sitting)
    for socket in (teacher, student):
        assert await socket.receive_output() == CHANGED
    await sync_to_async(device.seat)()
    assert await teacher.receive_output() == CHANGED
    assert await student.receive_nothing()

    for path, cookies in [
        (f"/ws/sittings/{sitting.pk}", cookies_of(other.client)),
        (f"/ws/sittings/{sitting.pk}", cookies_of(device.client)),
        ("/ws/seat", "verso_seat=1:forged"),
    ]:
        stranger = await listener(path, cookies)
        assert (await stranger.receive_output())["code"] == REFUSED
    for socket in (teacher, student):
        await socket.send_input({"type": "websocket.disconnect", "code": 1000})
        await socket.wait()


async def test_a_socket_opens_for_our_own_pages_and_ends_with_the_session(school: Staffroom) -> None:
    sitting = await sync_to_async(school.sitting)()
    path, cookies = f"/ws/sittings/{sitting.pk}", cookies_of(school.client)
    for foreign in ("https://elsewhere.example", "null", "http://school.example.evil.example"):
        stranger = await listener(path, cookies, foreign)
        assert (await stranger.receive_output())["code"] == REFUSED
    own = await listener(path, cookies, "http://school.example")
    await settled(own)
    assert await own.receive_nothing()
    reply = await sync_to_async(school.client.post)("/api/v1/sign-out", content_type="application/json")
    assert reply.status_code == 200
    assert (await own.receive_output(3))["code"] == SIGNED_OUT
