"""A lesson in the room with real sockets on this machine: from the console to the phones and back."""

import asyncio
import json
import re
import tempfile
import time
from dataclasses import dataclass, field
from http.client import HTTPConnection
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit
from uuid import uuid4

import numpy as np
from websockets.asyncio.client import connect

from tests.e2e.serving import served
from versomark.demo.sign_in import PASSWORD, USERNAME

EVERY = 0.1
"""The console asks again at most so often, in seconds."""
SPREAD_OVER = {40: 4.0, 300: 15.0}
"""Seconds over which a class presses its answers."""


@dataclass
class Client:
    """One browser's worth of cookies, over plain HTTP."""

    host: str
    cookies: dict[str, str] = field(default_factory=dict)

    def call(self, method: str, path: str, body: object = None) -> Any:
        connection = HTTPConnection(self.host, timeout=60)
        headers = {"Cookie": self.cookie, "Content-Type": "application/json"}
        if "verso_csrf" in self.cookies:
            headers["X-Verso-Csrf"] = self.cookies["verso_csrf"]
        connection.request(method, path, json.dumps(body) if body is not None else None, headers)
        reply = connection.getresponse()
        for line in reply.headers.get_all("Set-Cookie") or []:
            name, _, value = line.partition(";")[0].partition("=")
            self.cookies[name] = value
        data = reply.read()
        connection.close()
        assert reply.status == 200, (path, reply.status, data[:200])
        return json.loads(data)

    @property
    def cookie(self) -> str:
        return "; ".join(f"{name}={value}" for name, value in self.cookies.items())

    async def soon(self, method: str, path: str, body: object = None) -> Any:
        return await asyncio.to_thread(self.call, method, path, body)


def teacher_at(host: str) -> Client:
    teacher = Client(host)
    connection = HTTPConnection(host)
    connection.request("GET", "/api/v1/me")
    reply = connection.getresponse()
    reply.read()
    for line in reply.headers.get_all("Set-Cookie") or []:
        name, _, value = line.partition(";")[0].partition("=")
        teacher.cookies[name] = value
    teacher.call("POST", "/api/v1/sign-in", {"username": USERNAME, "password": PASSWORD})
    return teacher


def class_of(teacher: Client, count: int) -> tuple[int, list[str]]:
    """A class of so many, and their passes."""
    made = teacher.call("POST", "/api/v1/classes", {"name": f"Bench {count} {uuid4().hex[:6]}"})
    names = [f"Student{n} Bench" for n in range(1, count + 1)]
    for at in range(0, count, 100):
        teacher.call("POST", f"/api/v1/classes/{made['id']}/students", {"lines": names[at : at + 100]})
    listed = teacher.call("GET", f"/api/v1/classes/{made['id']}")["list"]
    return made["id"], [student["pass_phrase"] for student in listed]


async def lesson(host: str, count: int) -> dict[str, list[float]]:
    """Milliseconds from the console's press to each phone's question, and from each answer to the console."""
    teacher = teacher_at(host)
    class_id, passes = class_of(teacher, count)
    editions = teacher.call("GET", "/api/v1/editions")
    edition = next(edition["id"] for edition in editions if edition["title"] == "Circuits, first look")
    room = teacher.call("POST", "/api/v1/room", {"class_id": class_id, "edition": edition})
    sitting, code = room["sitting"], room["wall"]["code"]
    phones = [Client(host) for _ in passes]
    for phone, pass_phrase in zip(phones, passes, strict=True):
        phone.call("GET", "/api/v1/student/hello")
        phone.call("POST", "/api/v1/student/join", {"code": code, "pass_phrase": pass_phrase})
    socket = f"ws://{host}/ws/"
    spread_over = SPREAD_OVER[count]
    down, up, arrived = list[float](), list[float](), dict[int, float]()
    asked = asyncio.Event()
    sockets = [
        await connect(f"{socket}seat", additional_headers={"Cookie": phone.cookie}, max_queue=None) for phone in phones
    ]
    console = await connect(
        f"{socket}sittings/{sitting}", additional_headers={"Cookie": teacher.cookie}, max_queue=None
    )
    await asyncio.sleep(1)
    start = 0.0
    rng = np.random.default_rng(1)
    sent: dict[int, float] = {}

    async def phone_goes(at: int) -> None:
        """Waits for the nudge, asks what is on, answers after a while."""
        await asked.wait()
        async for message in sockets[at]:
            on = json.loads(message).get("shown", {})
            if on.get("stage") == "asking":
                break
        down.append(1000 * (time.perf_counter() - start))
        await asyncio.sleep(float(rng.uniform(1, 1 + spread_over)))
        option = on["question"]["item"]["options"][0]["id"]
        body = {
            "client_id": str(uuid4()),
            "round": on["round_id"],
            "response": {"kind": "single_choice", "option": option},
        }
        sent[at] = time.perf_counter()
        await phones[at].soon("POST", "/api/v1/student/room/answers", body)

    async def console_looks() -> None:
        """As the console does: asks again after a nudge, one request at a time."""
        while len(arrived) < count:
            await console.recv()
            page = await teacher.soon("GET", f"/api/v1/sittings/{sitting}/room")
            now = time.perf_counter()
            await asyncio.sleep(EVERY)
            for seat in page["inside"]:
                arrived.setdefault(seat["desk"] - 1, now)

    going = [asyncio.create_task(phone_goes(at)) for at in range(count)]
    looking = asyncio.create_task(console_looks())
    asked.set()
    await asyncio.sleep(0.2)
    start = time.perf_counter()
    await teacher.soon("POST", f"/api/v1/sittings/{sitting}/room/acts", {"act": "go"})
    await asyncio.wait_for(asyncio.gather(*going), 120)
    await asyncio.wait_for(looking, 60)
    up = [1000 * (arrived[at] - sent[at]) for at in range(count)]
    for one in [*sockets, console]:
        await one.close()
    return {"console to phones": down, "answer to console": up}


def run() -> None:
    print("in the room, on loopback, from a press to what is seen of it")
    with tempfile.TemporaryDirectory() as data, served(Path(data), demo=True) as address:
        host = urlsplit(address).netloc
        assert re.fullmatch(r"127\.0\.0\.1:\d+", host)
        for count, target in ((40, 250), (300, 1000)):
            for name, spent in asyncio.run(lesson(host, count)).items():
                median, most = np.median(spent), np.percentile(spent, 95)
                print(
                    f"  {count:>3} students, {name:<18} median {median:5.0f} ms, p95 {most:5.0f} ms (target {target})"
                )
