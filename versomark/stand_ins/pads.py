"""Simulated response pads: a receiver at the port where real ones are heard, with pads that students press.

What they press is up to whoever holds them: `Holder` gives, for a line that asks, who presses what and when. At a
shell the holders know nothing of the key (`by_chance`).
"""

import heapq
import select
import socket
import time
from collections.abc import Callable, Iterable, Sequence
from contextlib import suppress
from itertools import count
from typing import NamedTuple
from zlib import crc32

import numpy as np

from versomark.core.formats.pad_lines import (
    Asking,
    FromReceiver,
    Heard,
    Hello,
    Kept,
    Press,
    Refused,
    ToReceiver,
    Welcome,
    read_reply,
    write_line,
)

HEARD_EVERY = 10.0
"""Seconds between two signs of life of a pad."""
FAVOURED = 0.5
"""Share of presses that go to one letter of a question, drawn with the question, in place of any."""
SECONDS = 8.0
"""Over which a class presses."""
NEAREST, LONGEST = 0.1, 1.0


class PadPress(NamedTuple):
    """A press, `after` seconds from when it was asked."""

    after: float
    pad: int
    answer: str


Holder = Callable[[Asking], Iterable[PadPress]]


class Receiver:
    """A receiver with its pads, connected. Raises ConnectionError, in words, where the service does not take it."""

    def __init__(self, host: str, port: int, key: str, pads: Sequence[int], name: str = "simulated", seed: int = 1):
        self.pads = list(pads)
        self.batteries = {pad: int(_random(seed, pad).integers(8, 101)) for pad in self.pads}
        self.socket = socket.create_connection((host, port), timeout=10)
        self._read = b""
        self._numbers = count(1)
        self._name = f"{name} {seed} {time.time():.0f}"
        self.said: list[ToReceiver] = []
        """Everything that came back."""
        self._say(Hello(key=key, receiver=name))
        while not self.said:
            self._hear(LONGEST)
        if not isinstance(self.said[0], Welcome):
            raise ConnectionError(getattr(self.said[0], "why", "This is no port for receivers."))

    def close(self) -> None:
        self.socket.close()

    def switch_on(self) -> None:
        """Every pad says that it is there."""
        for pad in self.pads:
            self._say(Heard(pad=pad, battery=self.batteries[pad]))

    def press(self, pad: int, answer: str, round: int | None = None) -> str:
        """Returns the id of the press."""
        id = f"{self._name} {next(self._numbers)}"
        self._say(Press(pad=pad, answer=answer, id=id, round=round))
        return id

    def run(self, holder: Holder, going: Callable[[], bool] = lambda: True) -> None:
        """Press as asked until `going` says no, or the service closes the connection."""
        due: list[tuple[float, PadPress, int]] = []
        heard_at, read = 0.0, 0
        with suppress(ConnectionError):
            while going():
                now = time.monotonic()
                if now - heard_at >= HEARD_EVERY:
                    self.switch_on()
                    heard_at = now
                for line in self.said[read:]:
                    # What was not pressed before another question is not pressed any more.
                    if not isinstance(line, Kept | Refused):
                        due = []
                    if isinstance(line, Asking):
                        due = [(now + pressed.after, pressed, line.round) for pressed in holder(line)]
                        heapq.heapify(due)
                read = len(self.said)
                while due and due[0][0] <= time.monotonic():
                    _, pressed, round = heapq.heappop(due)
                    self.press(pressed.pad, pressed.answer, round)
                self._hear(min(NEAREST, max(0.0, due[0][0] - now)) if due else NEAREST)

    def wait_for(self, kind: type[ToReceiver], count: int = 1, seconds: float = 10) -> list[ToReceiver]:
        """What came back of this kind, once there are so many."""
        until = time.monotonic() + seconds
        while len(to_receivers := [line for line in self.said if isinstance(line, kind)]) < count:
            if time.monotonic() > until:
                raise TimeoutError(f"only {len(to_receivers)} lines {kind.__name__} came")
            self._hear(NEAREST)
        return to_receivers

    def _say(self, line: FromReceiver) -> None:
        self.socket.sendall(write_line(line))

    def _hear(self, seconds: float) -> None:
        if not select.select([self.socket], [], [], seconds)[0]:
            return
        more = self.socket.recv(65536)
        if not more:
            raise ConnectionError("The service closed the connection.")
        *lines, self._read = (self._read + more).split(b"\n")
        self.said += [read_reply(line) for line in lines]


def by_chance(pads: Sequence[int], seed: int) -> Holder:
    """Holders who know no key: half press the one letter that the question happens to draw them to, others any."""

    def presses(asking: Asking) -> list[PadPress]:
        of_question = _random(seed, asking.round)
        letters = asking.answers or [str(number) for number in range(10)]
        drawn = letters[int(of_question.integers(len(letters)))]
        pads_pressed = []
        for pad in pads:
            own = _random(seed, asking.round, pad)
            answer = drawn if own.random() < FAVOURED else letters[int(own.integers(len(letters)))]
            pads_pressed.append(PadPress(float(own.uniform(0.5, SECONDS)), pad, answer))
        return pads_pressed

    return presses


def _random(*parts: int) -> np.random.Generator:
    return np.random.default_rng(crc32(" ".join(map(str, parts)).encode()))
