"""Gaps in a text, each typed or picked from its own list. In the text a gap stands as its letter in brackets: `[a]`."""

import re
from collections.abc import Iterator, Sequence
from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from versomark.core.language import _
from versomark.core.text import RichText, is_empty, plain

from .base import (
    NOT_THIS_KIND,
    AnsweredOption,
    ContentBase,
    Credit,
    Frozen,
    Note,
    OnSheet,
    OptionId,
    ResponseBase,
    Shares,
    StudentBase,
    TypedPart,
    Words,
    share_of_parts,
    sound_ids,
)
from .short_text import ELSE, RIGHT, answers_to, pick_from
from .wording import Typed, Wording

GapName = Annotated[str, StringConstraints(pattern=r"^[a-z]$")]
GAP = re.compile(r"\[([a-z])\]")


class ListedWord(Frozen):
    id: OptionId
    text: Words = ""
    idea_note: Note = ""


class Gap(Frozen):
    """A gap is typed, and then `wording` says what is right; or it has a `choices` list with one key."""

    name: GapName
    wording: Wording = Wording()
    choices: Annotated[list[ListedWord], Field(max_length=10)] = []
    key: OptionId | None = None

    @model_validator(mode="after")
    def _ids_are_sound(self) -> Self:
        sound_ids([choice.id for choice in self.choices], _("words of a list"))
        if self.key is not None and self.key not in {choice.id for choice in self.choices}:
            raise ValueError(_("The key of a gap is not in its list."))
        return self

    def problems(self) -> list[str]:
        if not self.choices:
            return [_("Gap {name}: {problem}", name=self.name, problem=problem) for problem in self.wording.problems()]
        problems = [] if self.key else [_("Gap {name}: no word of its list is marked as the key.", name=self.name)]
        texts = [choice.text.casefold() for choice in self.choices]
        if not all(texts):
            problems.append(_("Gap {name}: a word of its list is empty.", name=self.name))
        elif len(set(texts)) < len(texts):
            problems.append(_("Gap {name}: two words of its list are the same.", name=self.name))
        return problems

    def answers(self, points: float) -> list[AnsweredOption]:
        if not self.choices:
            return answers_to(self.wording, points, f"{self.name}:", self.name)
        return [
            AnsweredOption(
                id=f"{self.name}:{choice.id}",
                letter=choice.text,
                text=choice.text,
                points=points if choice.id == self.key else 0,
                idea_note=choice.idea_note,
                part=self.name,
            )
            for choice in self.choices
        ]

    def pick(self, given: str) -> tuple[str, ...]:
        if not self.choices:
            return pick_from(self.wording, given, f"{self.name}:")
        if given and given not in {choice.id for choice in self.choices}:
            raise ValueError(_("That word is not in the list of this gap."))
        return (f"{self.name}:{given}",) if given else ()

    def typed(self, text: str) -> str:
        """What a response holds for a word that was written down: itself, or the id of the word of the list."""
        if not self.choices:
            return text
        result = next((choice.id for choice in self.choices if choice.text.casefold() == text.casefold()), None)
        if result is None:
            raise ValueError(_("“{text}” is not in the list of gap {name}.", text=text, name=self.name))
        return result

    def right_pick(self) -> str:
        return f"{self.name}:{self.key if self.choices else RIGHT}"

    def key_words(self) -> str:
        if not self.choices:
            return self.wording.in_words()
        return next((choice.text for choice in self.choices if choice.id == self.key), "")


class Gaps(ContentBase):
    kind: Literal["gaps"] = "gaps"
    text: RichText = ""
    gaps: Annotated[list[Gap], Field(max_length=26)] = []
    credit: Credit = "each"

    exclusive = False

    @model_validator(mode="after")
    def _names_are_sound(self) -> Self:
        sound_ids([gap.name for gap in self.gaps], "gaps")
        return self

    def standing(self) -> list[Gap]:
        """The gaps that stand in the text, in its order."""
        by_name = {gap.name: gap for gap in self.gaps}
        return [by_name[name] for name in dict.fromkeys(GAP.findall(self.text)) if name in by_name]

    def problems(self) -> list[str]:
        # The text with its gaps is the question; a stem above it is optional.
        results = [_("The text with the gaps is missing.")] if is_empty(self.text) else []
        return [*results, *self.missing(), *(self.variation.problems() if self.variation else [])]

    def part_ids(self) -> list[str]:
        return [choice.id for gap in self.standing() for choice in gap.choices]

    def missing(self) -> list[str]:
        names = GAP.findall(self.text)
        results = (
            [] if names or is_empty(self.text) else [_("The text has no gap yet: put [a] where the first one is.")]
        )
        results += [
            _("Gap {name} stands in the text twice.", name=name) for name in sorted(set(names)) if names.count(name) > 1
        ]
        known = {gap.name for gap in self.gaps}
        results += [
            _("Gap {name} of the text has no answer yet.", name=name)
            for name in dict.fromkeys(names)
            if name not in known
        ]
        results += [_("Gap {name} is not in the text.", name=gap.name) for gap in self.gaps if gap.name not in names]
        return results + [problem for gap in self.standing() for problem in gap.problems()]

    def answers(self) -> list[AnsweredOption]:
        gaps = self.standing()
        return [answer for gap in gaps for answer in gap.answers(self.marks / len(gaps))]

    def picks(self, response: ResponseBase) -> tuple[str, ...]:
        if not isinstance(response, GapsResponse):
            raise ValueError(_(NOT_THIS_KIND))
        gaps = {gap.name: gap for gap in self.standing()}
        if set(response.gaps) - set(gaps):
            raise ValueError(_("That gap is not part of this question."))
        return tuple(pick for name, gap in gaps.items() for pick in gap.pick(response.gaps.get(name, "")))

    def score(self, response: ResponseBase | None) -> float:
        picked = self.picks(response) if response is not None else ()
        gaps = self.standing()
        if not picked:
            return 0.0
        right = sum(gap.right_pick() in picked for gap in gaps)
        return self.marks * share_of_parts(right, len(picked) - right, len(gaps), self.credit)

    def typed(self, response: ResponseBase) -> tuple[TypedPart, ...]:
        given = response.gaps if isinstance(response, GapsResponse) else {}
        gaps = self.standing()
        return tuple(
            TypedPart(
                gap.name,
                text,
                gap.wording.cleaned(text),
                float(gap.right_pick() in gap.pick(text)),
                self.marks / len(gaps),
            )
            for gap in gaps
            if not gap.choices and (text := given.get(gap.name, ""))
        )

    def with_shares(self, response: ResponseBase, shares: Shares) -> tuple[float, tuple[str, ...]]:
        """A gap that is half right counts half under a rule that counts each; under all or nothing, as wrong."""
        picked, gaps = self.picks(response), self.standing()
        right = {gap.name: float(gap.right_pick() in picked) for gap in gaps}
        judged = {entry.part: shares.get((entry.part, entry.compared), entry.share) for entry in self.typed(response)}
        right |= judged
        picks = tuple(
            _said(gap, pick, judged.get(gap.name))
            for gap in gaps
            for pick in picked
            if pick.partition(":")[0] == gap.name
        )
        earned = sum(right.values())
        if self.credit == "all":
            return self.marks * float(earned >= len(gaps)), picks
        lost = len(picked) - earned if self.credit == "right_minus_wrong" else 0.0
        return self.marks * max(0.0, earned - lost) / len(gaps), picks

    def accepting(self, part: str, words: Sequence[str]) -> "Gaps":
        def changed(gap: Gap) -> Gap:
            return gap.model_copy(update={"wording": gap.wording.also(words)}) if gap.name == part else gap

        gaps = [changed(gap) for gap in self.gaps]
        return self.model_copy(update={"gaps": gaps})

    def compares(self) -> str:
        typed = [gap for gap in self.standing() if not gap.choices]
        return typed[0].wording.compares() if typed else ""

    def for_student(self) -> "GapsForStudent":
        shown = [
            ShownGap(name=gap.name, choices=[ShownWord(id=c.id, text=c.text) for c in gap.choices])
            for gap in self.standing()
        ]
        return GapsForStudent(stem=self.stem, marks=self.marks, text=self.text, gaps=shown)

    def on_sheet(self) -> OnSheet:
        """One line a gap, in a box."""
        return OnSheet("written", lines=max(1, min(len(self.standing()), 12)), typed=True)

    def from_sheet(self, answer: str) -> "GapsResponse":
        """What stands in each gap, one after another, parted by semicolons."""
        texts = [text.strip() for text in answer.split(";")] if answer.strip() else []
        gaps = self.standing()
        if len(texts) > len(gaps):
            raise ValueError(_("There are {count} gaps; part them by semicolons.", count=len(gaps)))
        return GapsResponse(gaps={gap.name: gap.typed(text) for gap, text in zip(gaps, texts, strict=False) if text})

    def to_sheet(self, response: ResponseBase) -> str:
        given = response.gaps if isinstance(response, GapsResponse) else {}
        words = {gap.name: {choice.id: choice.text for choice in gap.choices} for gap in self.gaps}
        texts = [words[gap.name].get(given.get(gap.name, ""), given.get(gap.name, "")) for gap in self.standing()]
        return "; ".join(texts).rstrip("; ")

    def key_words(self) -> str:
        return "; ".join(f"{gap.name} {gap.key_words()}" for gap in self.standing())

    def says(self, response: ResponseBase) -> str:
        self.picks(response)
        given = response.gaps if isinstance(response, GapsResponse) else {}
        words = {gap.name: {choice.id: choice.text for choice in gap.choices} for gap in self.gaps}
        return "; ".join(f"{name} {words[name].get(text, text)}" for name, text in given.items() if text)

    def texts(self) -> Iterator[str]:
        yield self.stem
        yield self.text
        yield from (plain(gap.key_words()) for gap in self.gaps)
        yield self.rationale


def _said(gap: Gap, pick: str, share: float | None) -> str:
    """What is said to have been picked in a gap, where its share was judged."""
    if share is None:
        return pick
    if share >= 1:
        return gap.right_pick()
    return f"{gap.name}:{ELSE}" if pick == gap.right_pick() else pick


class GapsResponse(ResponseBase):
    """gap -> what was typed, or the id of the word picked."""

    kind: Literal["gaps"] = "gaps"
    gaps: Annotated[dict[GapName, Typed], Field(max_length=26)] = {}


class ShownWord(Frozen):
    id: OptionId
    text: str


class ShownGap(Frozen):
    name: GapName
    choices: list[ShownWord]


class GapsForStudent(StudentBase):
    kind: Literal["gaps"] = "gaps"
    text: RichText
    gaps: list[ShownGap]
