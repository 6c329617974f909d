"""Wrong passes, codes and passwords: counted where they were tried, so that a guesser is slowed or seen and nobody else
is kept out.

A school often stands behind one address, so an address alone is refused only after very many tries. What a guess is
aimed at is watched more closely. A right pass always gets in; where passes of a sitting are being guessed, whoever
comes with one waits at the door until the teacher lets them in (`seats.begin`).
"""

import logging
from collections.abc import Iterator
from contextlib import contextmanager
from hashlib import sha256

from django.core.cache import cache
from redis import RedisError

log = logging.getLogger(__name__)
WINDOW_SECONDS = 600
FROM_ONE_ADDRESS = 400
"""Wrong codes and passes in ten minutes: more than ten classes mistype, a thousandth of what guessing needs."""
VERY_MANY = "Very many wrong tries have come from here. Check the code and the pass letter by letter."
AT_ONE_SITTING = 40
"""Wrong passes for one code in ten minutes, after which who comes waits at the door."""
NAMES_FROM_ONE_ADDRESS = 12
"""Different names that failed to sign in from one address in ten minutes: one password tried on many."""


def count(kind: str, of: object) -> int:
    """One more wrong try of a kind; how many there are now."""
    key = _key(kind, of)
    with _nothing_known():
        cache.add(key, 0, WINDOW_SECONDS)
        return int(cache.incr(key))
    return 0


def counted(kind: str, of: object) -> int:
    with _nothing_known():
        return int(cache.get(_key(kind, of), 0))
    return 0


def is_guessed_at(sitting_id: int) -> bool:
    return counted("sitting", sitting_id) >= AT_ONE_SITTING


def note_failed_name(address: str, name: str) -> int:
    """Somebody failed to sign in; from how many names this address has failed lately."""
    key = _key("names", address)
    names = {name}
    with _nothing_known():
        names |= cache.get(key, set())
        cache.set(key, names, WINDOW_SECONDS)
    if len(names) == NAMES_FROM_ONE_ADDRESS:
        log.warning("%s has failed to sign in under %d names in ten minutes", address, len(names))
    return len(names)


def failed_names(address: str) -> int:
    with _nothing_known():
        return len(cache.get(_key("names", address), ()))
    return 0


@contextmanager
def _nothing_known() -> Iterator[None]:
    """Where what processes share is away (Redis), nobody is slowed down, and nobody is kept out: whoever comes with a
    right pass must get in. Passwords are counted in the database as well (django-axes)."""
    try:
        yield
    except RedisError as error:
        log.warning("wrong tries are not counted: %s", type(error).__name__)


def _key(kind: str, of: object) -> str:
    # What was typed may be anything; a key of a cache may not.
    return f"guesses:{kind.replace(' ', '-')}:{sha256(str(of).encode()).hexdigest()}"
