"""The port at which receivers of response pads are heard: TCP, a JSON object a line, described in `docs/pads.md`.

It runs in the loop that serves the pages. What a line means is in `pads`; here is only who is connected.
"""

import asyncio
import logging
from contextlib import suppress
from dataclasses import dataclass, field

from asgiref.sync import sync_to_async
from django.db import close_old_connections

from versomark.core.formats.pad_lines import (
    MOST_BYTES,
    Heard,
    Hello,
    Press,
    Refused,
    ToReceiver,
    Welcome,
    read_line,
    write_line,
)
from versomark.core.giving.fair_queue import FairQueue
from versomark.core.language import _
from versomark.school.errors import DomainError
from versomark.school.turns import Area, working_on

from . import pads
from .models import PadReceiver, Room

log = logging.getLogger(__name__)
SECONDS_TO_SAY_HELLO = 10
SECONDS_AFTER_A_WRONG_KEY = 1
SECONDS_TO_SAY_GOODBYE = 1
SECONDS_TO_KEEP_THE_REST = 2
MOST_CONNECTIONS = 64
MOST_STRANGERS = 256
"""Connections that have not said whose they are; they hold a receiver's place only once they have."""
MOST_WAITING = 1000
"""Lines that may wait for a receiver that does not read; past that it is cut off."""


@dataclass(eq=False)
class Connection:
    writer: asyncio.StreamWriter
    loop: asyncio.AbstractEventLoop
    owner: int = 0
    school: int = 0
    key: str = ""
    name: str = ""
    gone: bool = False
    """Nothing more comes from it."""
    out: asyncio.Queue[ToReceiver] = field(default_factory=lambda: asyncio.Queue(MOST_WAITING))

    def send(self, line: ToReceiver) -> None:
        try:
            self.out.put_nowait(line)
        except asyncio.QueueFull:
            self.writer.close()


_connections: set[Connection] = set()
_strangers: set[Connection] = set()
# Where receivers connect, once the port is open.
_address: tuple[str, int] | None = None


def address() -> tuple[str, int] | None:
    """Host and port; None where the port is not open."""
    return _address


def connected(owner_id: int) -> list[str]:
    """The names of a teacher's receivers that are connected."""
    return sorted(connection.name or "receiver" for connection in _connections if connection.owner == owner_id)


async def listen(host: str, port: int) -> asyncio.Server:
    global _address
    server = await asyncio.start_server(_talk, host, port, limit=MOST_BYTES)
    _address = server.sockets[0].getsockname()[:2]
    return server


def tell(room: Room, **signal: object) -> None:
    """Let the receivers of the lesson's teacher know what is asked. Called from any thread."""
    own = [connection for connection in list(_connections) if connection.owner == room.sitting.owner_id]
    if not own:
        return
    line = pads.asked(pads.lesson_for(PadReceiver(owner_id=room.sitting.owner_id)))
    for entry in own:
        entry.loop.call_soon_threadsafe(entry.send, line)


async def _talk(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    connection = Connection(writer, asyncio.get_running_loop())
    sending = asyncio.create_task(_send(connection))
    try:
        if len(_strangers) >= MOST_STRANGERS:
            connection.send(Refused(why=_("Too many receivers are connecting. Try again in a moment.")))
        elif await _greet(connection, reader):
            await _listen(connection, reader)
    except DomainError as problem:
        connection.send(Refused(why=str(problem)))  # the key was changed meanwhile
    except (ConnectionError, TimeoutError):
        pass  # it has gone
    except Exception:
        log.exception("a receiver of pads was cut off")
    finally:
        _connections.discard(connection)
        _strangers.discard(connection)
        with suppress(TimeoutError):
            await asyncio.wait_for(connection.out.join(), SECONDS_TO_SAY_GOODBYE)
        sending.cancel()
        writer.close()
        with suppress(ConnectionError):
            await writer.wait_closed()


async def _send(connection: Connection) -> None:
    while True:
        line = await connection.out.get()
        try:
            connection.writer.write(write_line(line))
            await connection.writer.drain()
        except ConnectionError:
            return
        finally:
            connection.out.task_done()


async def _line(reader: asyncio.StreamReader) -> bytes:
    """The next line that is not empty; nothing at the end."""
    while True:
        try:
            line = await reader.readline()
        except ValueError:
            raise ConnectionError("a line without an end") from None
        if not line or line.strip():
            return line


async def _greet(connection: Connection, reader: asyncio.StreamReader) -> bool:
    """Whether it is a receiver of a teacher with room for it; then it is among `_connections`."""
    _strangers.add(connection)
    line = await asyncio.wait_for(_line(reader), SECONDS_TO_SAY_HELLO)
    try:
        hello = read_line(line)
        if not isinstance(hello, Hello):
            raise ValueError("The first line says hello, with the key.")
        receiver = await sync_to_async(pads.receiver_with)(hello.key)
    except (ValueError, DomainError) as error:
        # Slow for whoever tries keys, and only for them.
        await asyncio.sleep(SECONDS_AFTER_A_WRONG_KEY)
        connection.send(Refused(why=str(error)))
        return False
    _strangers.discard(connection)
    # Counted and taken in one step: many that come at once do not all find the last place free.
    if len(_connections) >= MOST_CONNECTIONS:
        connection.send(Refused(why=_("Too many receivers are connected.")))
        return False
    connection.owner, connection.key, connection.name = receiver.owner_id, hello.key, hello.receiver
    connection.school = receiver.owner.school_id
    _connections.add(connection)
    connection.send(Welcome(teacher=receiver.owner.name))
    connection.send(await sync_to_async(_asked)(receiver))
    return True


def _asked(receiver: PadReceiver) -> ToReceiver:
    try:
        return pads.asked(pads.lesson_for(receiver))
    finally:
        close_old_connections()


async def _listen(connection: Connection, reader: asyncio.StreamReader) -> None:
    """Lines are read as they come and kept in turns, pad by pad: one that floods its receiver delays only itself."""
    queue, arrived = FairQueue[Heard | Press](), asyncio.Event()
    keeping = asyncio.create_task(_keep(connection, queue, arrived))
    reading = asyncio.create_task(_read(connection, reader, queue, arrived))
    try:
        await asyncio.wait({keeping, reading}, return_when=asyncio.FIRST_COMPLETED)
        if not keeping.done():
            # It has gone; what it sent before is kept.
            connection.gone = True
            arrived.set()
            with suppress(TimeoutError):
                await asyncio.wait_for(asyncio.shield(keeping), SECONDS_TO_KEEP_THE_REST)
    finally:
        for task in (keeping, reading):
            task.cancel()
        ended = await asyncio.gather(keeping, reading, return_exceptions=True)
    for error in ended:
        if isinstance(error, Exception):
            raise error


async def _read(
    connection: Connection, reader: asyncio.StreamReader, queue: FairQueue[Heard | Press], arrived: asyncio.Event
) -> None:
    while line := await _line(reader):
        try:
            message = read_line(line)
        except ValueError as error:
            connection.send(Refused(why=str(error)))
            continue
        if isinstance(message, Hello):
            continue
        given_up = queue.put(message.pad, message)
        if isinstance(given_up, Press):
            why = _("Pad {pad} sends faster than can be kept.", pad=given_up.pad)
            connection.send(Refused(why=why, pad=given_up.pad, id=given_up.id))
        arrived.set()
        # A receiver that never pauses does not keep the loop from everybody else.
        await asyncio.sleep(0)


async def _keep(connection: Connection, queue: FairQueue[Heard | Press], arrived: asyncio.Event) -> None:
    loop = asyncio.get_running_loop()
    while True:
        message = queue.take(loop.time())
        if message is None:
            if connection.gone:
                return
            arrived.clear()
            await arrived.wait()
        elif isinstance(message, float):
            await asyncio.sleep(message)
        else:
            reply = await sync_to_async(_hear)(connection.school, connection.key, message)
            if reply is not None:
                connection.send(reply)


def _hear(school: int, key: str, message: Heard | Press) -> ToReceiver | None:
    try:
        with working_on(Area(school)):
            return pads.hear(key, message)
    finally:
        close_old_connections()
