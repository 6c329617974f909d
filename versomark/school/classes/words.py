"""Words for passes and for the code on the board: short, common, hard to mishear, none that a class laughs at."""

import secrets
from pathlib import Path

WORDS = tuple(Path(__file__).with_name("words.txt").read_text(encoding="utf-8").split())


def word_and_digits(digits: int) -> str:
    """Such as `kelp-47`: a random word, then digits that never start with 0."""
    low = 10 ** (digits - 1)
    return f"{secrets.choice(WORDS)}-{low + secrets.randbelow(9 * low)}"


def normalised(typed: str) -> str:
    """`Kelp 47` and `KELP47` as `kelp-47`: what students type on phones."""
    letters = "".join(c for c in typed.casefold() if c.isalpha())
    digits = "".join(c for c in typed if c.isdigit())
    return f"{letters}-{digits}"
