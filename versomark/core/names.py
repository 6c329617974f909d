"""How students are called on screens and in files: in the order their script writes names, and told apart.

Names in Han, Hangul, Hiragana and Katakana are written family name first and without a space; so they are shown.
"""

import unicodedata
from collections.abc import Sequence
from typing import NamedTuple

_EAST_ASIAN = ("CJK UNIFIED", "CJK COMPATIBILITY", "HANGUL", "HIRAGANA", "KATAKANA")


class Name(NamedTuple):
    """number: the student number, which tells two of one full name apart."""

    given: str
    family: str
    number: str = ""


def is_family_first(*parts: str) -> bool:
    """Whether all letters are of a script in which the family name stands first."""
    letters = [letter for part in parts for letter in part if letter.isalpha()]
    return bool(letters) and all(unicodedata.name(letter, "").startswith(_EAST_ASIAN) for letter in letters)


def full_name(given: str, family: str) -> str:
    """`Wren Okafor`, `王小明`; a name of one part is that part."""
    if given and family and is_family_first(given, family):
        return f"{family}{given}"
    return f"{given} {family}".strip()


def short_name(given: str, family: str, letters: int = 1) -> str:
    """`Wren O.`, and `Bram V.` for de Vries; with more letters `Wren Oka.`; the full name once nothing is left out."""
    if not given or not family or is_family_first(given, family):
        return full_name(given, family)
    start = next((at for at, letter in enumerate(family) if letter.isupper()), 0)
    # Marks that belong to a letter, as in Tamil or after a decomposed é, stay with it.
    clusters = _clusters(family[start:])
    if letters >= len(clusters):
        return full_name(given, family)
    return f"{given} {''.join(clusters[:letters]).rstrip()}."


def _clusters(text: str) -> list[str]:
    clusters: list[str] = []
    for letter in text:
        joins = bool(clusters) and (unicodedata.category(letter).startswith("M") or letter in "\u200c\u200d")
        if joins:
            clusters[-1] += letter
        else:
            clusters.append(letter)
    return clusters


def short_name_among(name: Name, earlier: Sequence[Name] = (), later: Sequence[Name] = ()) -> str:
    """A short name that none of the others has: as many letters of the family name as that takes.

    Each of two students who are asked for in each other's company gets a name of their own, whoever else is there: the
    letters that tell them apart are in both.

    Parameters
    ----------
    name
        The student.
    earlier, later
        The others they may stand in a list with, taken in before and after them. Where two have the same full name and
        no number of their own, the later ones are counted.
    """
    others = [*earlier, *later]
    alike = [entry for entry in others if _folded(entry.given) == _folded(name.given)]
    full = full_name(name.given, name.family)
    for letters in range(1, len(name.family) + 1):
        shown = short_name(name.given, name.family, letters)
        if all(_bare(shown) != _bare(short_name(entry.given, entry.family, letters)) for entry in alike):
            return shown
    same = [entry for entry in alike if _folded(full_name(entry.given, entry.family)) == _folded(full)]
    if not same:
        return full
    if name.number and all(entry.number != name.number for entry in same):
        return f"{full} {name.number}"
    before = sum(_folded(full_name(entry.given, entry.family)) == _folded(full) for entry in earlier)
    return f"{full} ({before + 1})" if before else full


def _bare(shown: str) -> str:
    """Without the full stop: by that alone nobody tells `Ann Lee` from `Ann Lee.`"""
    return _folded(shown).rstrip(".").rstrip()


def _folded(text: str) -> str:
    return unicodedata.normalize("NFC", text).casefold()
