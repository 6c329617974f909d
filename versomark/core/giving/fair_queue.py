"""Lines of many senders on one wire, taken in turns, so that a sender that floods it delays only itself."""

from collections import OrderedDict, deque
from typing import Generic, TypeVar

Line = TypeVar("Line")


class FairQueue(Generic[Line]):
    """What waits, by sender; each sender's own lines stay in order.

    A sender may have `burst` lines taken at once and `per_second` after that; of what it sends faster, the newest
    `most_waiting` wait and the oldest are given back, since a later press stands for an earlier one.

    Parameters
    ----------
    per_second
        Lines of one sender that are taken in a second, in the long run; more than 0.
    burst
        Lines that a quiet sender may have taken at once; at least 1.
    most_waiting
        Lines of one sender that wait; at least 1.

    Raises
    ------
    ValueError
        Where a limit would let nothing through.
    """

    def __init__(self, per_second: float = 5.0, burst: int = 8, most_waiting: int = 3) -> None:
        if per_second <= 0 or burst < 1 or most_waiting < 1:
            raise ValueError("per_second, burst and most_waiting have to be more than 0.")
        self._per_second, self._burst, self._most_waiting = per_second, burst, most_waiting
        self._waiting: OrderedDict[int, deque[Line]] = OrderedDict()
        self._allowed: dict[int, tuple[float, float]] = {}
        """Sender -> how many lines it may have taken, as of a moment in seconds."""

    def put(self, sender: int, line: Line) -> Line | None:
        """A line that arrived. What is returned has been given up for it."""
        lines = self._waiting.setdefault(sender, deque())
        lines.append(line)
        return lines.popleft() if len(lines) > self._most_waiting else None

    def take(self, now: float) -> Line | float | None:
        """The next line in turn; else the seconds until one may be taken; None where nothing waits."""
        soonest: float | None = None
        for sender in list(self._waiting):
            allowed = self._allowed_at(sender, now)
            if allowed >= 1:
                self._allowed[sender] = (allowed - 1, now)
                lines = self._waiting.pop(sender)
                line = lines.popleft()
                if lines:
                    self._waiting[sender] = lines  # behind everybody else
                return line
            wait = (1 - allowed) / self._per_second
            soonest = wait if soonest is None else min(soonest, wait)
        return soonest

    def _allowed_at(self, sender: int, now: float) -> float:
        allowed, since = self._allowed.get(sender, (float(self._burst), now))
        return min(float(self._burst), allowed + max(0.0, now - since) * self._per_second)
