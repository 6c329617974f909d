"""Comparing what a student typed with what a teacher accepts: case, accents, spelling, patterns."""

from collections.abc import Sequence
from functools import lru_cache
from typing import Annotated

import re2
from pydantic import Field, StringConstraints
from rapidfuzz.distance import OSA

from versomark.core.language import _

from .base import Frozen, Note, Words
from .typography import caseless, same_letters, without_accents

MAX_TYPED = 300
LETTERS_PER_SLIP = 4
"""One slip of spelling is forgiven for every so many letters, however many the teacher allows: two letters of “on”
changed make “if”."""

Typed = Annotated[str, StringConstraints(strip_whitespace=True, max_length=MAX_TYPED)]
Pattern = Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)]


class WrongWords(Frozen):
    """A wrong answer that shows an idea."""

    text: Words
    idea_note: Note = ""


class Wording(Frozen):
    """What counts as the same words.

    accepted: right answers. patterns: regular expressions (RE2, matched against the whole answer) that are right too.
    slips: how many letters may be missing, added, changed or swapped (optimal string alignment distance).
    """

    accepted: Annotated[list[Words], Field(max_length=40)] = []
    patterns: Annotated[list[Pattern], Field(max_length=8)] = []
    case_matters: bool = False
    accents_matter: bool = True
    slips: Annotated[int, Field(ge=0, le=3)] = 0
    wrong: Annotated[list[WrongWords], Field(max_length=20)] = []

    def problems(self) -> list[str]:
        problems = [] if any(self.accepted) or self.patterns else [_("No accepted answer is given.")]
        problems += [
            _("The pattern “{pattern}” cannot be read.", pattern=pattern)
            for pattern in self.patterns
            if _compiled(pattern) is None
        ]
        right = {self.cleaned(words) for words in self.accepted}
        clash = [wrong.text for wrong in self.wrong if self.cleaned(wrong.text) in right]
        return problems + [_("“{text}” stands both as accepted and as wrong.", text=text) for text in clash]

    def cleaned(self, words: str) -> str:
        """The words as they are compared."""
        words = same_letters(words).rstrip(".! ")
        if not self.accents_matter:
            words = without_accents(words)
        return words if self.case_matters else caseless(words)

    def is_right(self, typed: str) -> bool:
        """An exact wrong answer beats a forgiven slip: “mass” is not “mess” misspelt when the teacher named it."""
        as_typed, typed = " ".join(typed.split()), self.cleaned(typed)
        accepted = [self.cleaned(words) for words in self.accepted if words]
        # A pattern may name the very letters that were typed, or those that stand for them.
        if typed in accepted or self._matches_a_pattern(typed) or self._matches_a_pattern(as_typed):
            return True
        if typed in (self.cleaned(wrong.text) for wrong in self.wrong):
            return False
        return any(self._is_slip(typed, words) for words in accepted)

    def compares(self) -> str:
        """What counts as the same words."""
        matter = [_("more spaces than one"), _("other quotation marks and dashes"), _("a full stop at the end")]
        if not self.case_matters:
            matter.append("capitals")
        if not self.accents_matter:
            matter.append("accents")
        return (
            _("{list} and {matter} make no difference", list=", ".join(matter[:-1]), matter=matter[-1]).capitalize()
            + "."
        )

    def also(self, words: Sequence[str]) -> "Wording":
        """The same with these words accepted; no longer named as wrong."""
        known = {self.cleaned(entry) for entry in self.accepted}
        new = {self.cleaned(word): word for word in words}
        return self.model_copy(
            update={
                "accepted": [*self.accepted, *(one for cleaned, one in new.items() if cleaned not in known)],
                "wrong": [entry for entry in self.wrong if self.cleaned(entry.text) not in new],
            }
        )

    def wrong_place(self, typed: str) -> int | None:
        """Which of the wrong answers was typed, if one was."""
        typed = self.cleaned(typed)
        return next((at for at, wrong in enumerate(self.wrong) if self.cleaned(wrong.text) == typed), None)

    def in_words(self) -> str:
        return " or ".join([*(words for words in self.accepted if words), *self.patterns])

    def _is_slip(self, typed: str, accepted: str) -> bool:
        allowed = min(self.slips, len(accepted) // LETTERS_PER_SLIP)
        return allowed > 0 and OSA.distance(typed, accepted, score_cutoff=allowed) <= allowed

    def _matches_a_pattern(self, typed: str) -> bool:
        compiled = (_compiled(pattern if self.case_matters else f"(?i){pattern}") for pattern in self.patterns)
        return any(pattern.fullmatch(typed) is not None for pattern in compiled if pattern)


@lru_cache(maxsize=2000)
def _compiled(pattern: str) -> "re2._Regexp[str] | None":
    options = re2.Options()
    options.log_errors = False
    try:
        return re2.compile(pattern, options=options)
    except re2.error:
        return None
