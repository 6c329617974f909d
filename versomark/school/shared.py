"""What processes of one service tell each other and forget again: who is there, who is at which answer.

In Redis where one is named, else in the memory of the one process. Nothing that counts stands here: all of it may be
lost at any moment, and each entry goes by itself when whoever made it does not renew it.
"""

import json
import logging
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from functools import cache
from threading import Lock
from time import time
from typing import Any

from django.conf import settings

log = logging.getLogger(__name__)


class Shared:
    """Entries by name, in the memory of this process."""

    def __init__(self) -> None:
        self._entries: dict[str, dict[str, tuple[float, Any]]] = {}
        self._guard = Lock()

    def put(self, area: str, entries: Mapping[str, Any], seconds: float) -> None:
        """Set or renew entries of an area; each stays for so long."""
        ends = time() + seconds
        with self._guard:
            self._entries.setdefault(area, {}).update({name: (ends, entry) for name, entry in entries.items()})

    def take_out(self, area: str, name: str) -> None:
        with self._guard:
            self._entries.get(area, {}).pop(name, None)

    def answers(self) -> bool:
        """Whether the others hear it."""
        return True

    def all(self, area: str) -> dict[str, Any]:
        """What stands in an area now, by name."""
        now = time()
        with self._guard:
            entries = self._entries.get(area, {})
            for name in [name for name, (ends, _) in entries.items() if ends < now]:
                del entries[name]
            return {name: entry for name, (_, entry) in entries.items()}


class InRedis(Shared):
    """The same between processes: a hash an area, each entry with its end. Where Redis is away nobody is told, and the
    work goes on: who is there is less than what they do."""

    def __init__(self, address: str) -> None:
        import redis

        self._redis = redis.Redis.from_url(address, decode_responses=True)

    def put(self, area: str, entries: Mapping[str, Any], seconds: float) -> None:
        if not entries:
            return
        with self._away():
            ends = time() + seconds
            texts: dict[Any, Any] = {name: json.dumps([ends, entry]) for name, entry in entries.items()}
            with self._redis.pipeline() as pipeline:
                pipeline.hset(_name(area), mapping=texts)
                pipeline.expire(_name(area), 24 * 3600)
                pipeline.execute()

    def take_out(self, area: str, name: str) -> None:
        with self._away():
            self._redis.hdel(_name(area), name)

    def answers(self) -> bool:
        from redis import RedisError

        try:
            return bool(self._redis.ping())
        except RedisError:
            return False

    def all(self, area: str) -> dict[str, Any]:
        now, entries, ended = time(), dict[str, Any](), list[str]()
        texts: dict[Any, Any] = {}
        with self._away():
            texts = self._redis.hgetall(_name(area))
        for name, text in texts.items():
            ends, entry = json.loads(text)
            if ends < now:
                ended.append(str(name))
            else:
                entries[str(name)] = entry
        if ended:
            with self._away():
                self._redis.hdel(_name(area), *ended)
        return entries

    @staticmethod
    @contextmanager
    def _away() -> Iterator[None]:
        from redis import RedisError

        try:
            yield
        except RedisError as error:
            log.warning("Redis does not answer: %s", type(error).__name__)


def _name(area: str) -> str:
    return f"verso:{area}"


@cache
def shared() -> Shared:
    """Of this service."""
    return InRedis(settings.REDIS_URL) if settings.REDIS_URL else Shared()
