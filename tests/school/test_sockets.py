"""The sockets: a nudge to whom it concerns, a closed door to everyone else."""

from collections.abc import Callable

import pytest
from asgiref.sync import sync_to_async
from asgiref.testing import ApplicationCommunicator

from tests.conftest import Staffroom, devices
from versomark.school.sittings import services
from versomark.school.sittings.consumers import REFUSED
from versomark.site.asgi import application

pytestmark = pytest.mark.django_db(transaction=True)


CHANGED = {"type": "websocket.send", "text": '{"changed": true}'}


async def listener(path: str, cookies: str) -> ApplicationCommunicator:
    """A socket that has asked to be let in."""
    scope = {"type": "websocket", "path": path, "headers": [(b"cookie", cookies.encode())], "query_string": b""}
    socket = ApplicationCommunicator(application, scope)
    await socket.send_input({"type": "websocket.connect"})
    assert (await socket.receive_output())["type"] == "websocket.accept"
    return socket


def cookies_of(client: object) -> str:
    return "; ".join(f"{name}={morsel.value}" for name, morsel in client.cookies.items())  # type: ignore[attr-defined]


async def test_teacher_and_student_are_nudged_and_strangers_are_not(staffroom: Callable[[str], Staffroom]) -> None:
    room, other = await sync_to_async(staffroom)("one"), await sync_to_async(staffroom)("other")
    sitting = await sync_to_async(room.sitting)()
    device = (await sync_to_async(devices)(sitting))[0]
    await sync_to_async(device.join)()

    teacher = await listener(f"/ws/sittings/{sitting.pk}", cookies_of(room.client))
    student = await listener("/ws/seat", cookies_of(device.client))
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
