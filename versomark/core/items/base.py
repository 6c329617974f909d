"""What every kind of item shares: its stem, its marks, and what the rest of the product may ask of it.

A kind of item is one module beside this one. It defines a content model (what the teacher writes), a response model
(what a student gives) and a student model (what a student may see), all told apart by `kind`, and registers them in
`registry.py`. Nothing outside this package looks at `kind`: scoring, analysis and the student's paper ask the content.
"""

from abc import abstractmethod
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from string import ascii_uppercase
from typing import Annotated, ClassVar, Literal, Self

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints

from versomark.core.language import N_, _
from versomark.core.text import RichLine, RichText, is_empty, pictures, plain

from .variation import Variation

MAX_NOTE = 500

_OneLine = AfterValidator(lambda text: " ".join(text.split()))
Note = Annotated[str, StringConstraints(max_length=MAX_NOTE), _OneLine]
"""What an answer shows the student believes, in one line."""
Words = Annotated[str, StringConstraints(max_length=300), _OneLine]
"""A short line of plain text."""
OptionId = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_-]{1,24}$")]
Marks = Annotated[float, Field(ge=0.5, le=100, multiple_of=0.5)]
Credit = Literal["all", "each", "right_minus_wrong"]
"""All or nothing; a share for each part that is right; a share for each right part less one for each wrong one,
never below zero."""

NOT_THIS_KIND = N_("That answer does not belong to this question.")


class Frozen(BaseModel):
    """A value: compared by content, never changed in place, and refusing fields it does not know."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class ShownOption(Frozen):
    """One answer a student can pick, as it is printed: the letter beside it and its words."""

    id: OptionId
    letter: str
    text: RichLine


class StudentBase(Frozen):
    """An item as a student may see it. Built from what may be shown; it has no field for a key or a note."""

    kind: str
    stem: RichText
    marks: Marks


class AnsweredOption(Frozen):
    """One thing a response can say, as analysis needs it: an option, a range of values, a pair, a place."""

    id: str
    letter: str
    text: str
    points: float
    idea_note: Note = ""
    offered: bool = True
    """Whether the student had it before their eyes to choose; a class of typed answers is not offered."""
    part: str = ""
    """The gap, row or entry it answers, where the item has several."""

    @property
    def key(self) -> bool:
        return self.points > 0


@dataclass(frozen=True)
class OnSheet:
    """How an item stands on a printed answer sheet; what the numbers mean is said in `core.sheets.spec`."""

    kind: Literal["choice", "multiple", "true-false", "numeric", "matching", "written"]
    options: int = 2
    rows: int = 1
    digits: int = 5
    lines: int = 2
    typed: bool = False
    """Written in a box though a key scores it: a person types what stands there."""


class ResponseBase(Frozen):
    """What a student gave to one item."""

    kind: str


@dataclass(frozen=True)
class TypedPart:
    """What a student typed in one place of an item.

    compared: how it is compared, so that what is equal after cleaning is equal here. share: of the part's marks, 0 to
    1, as the key has it. marks: what the part is worth.
    """

    part: str
    typed: str
    compared: str
    share: float
    marks: float


Shares = Mapping[tuple[str, str], float]
"""(part, compared) -> the share of the part's marks that a person gives for it, whatever the key says."""


class ContentBase(Frozen):
    """What a teacher writes for one item. May be unfinished: `problems` says what is still missing."""

    kind: str
    stem: RichText = ""
    marks: Marks = 1
    rationale: RichText = ""
    """Why the key is right, for feedback; students see it only where the teacher allows it after release."""
    variation: Variation | None = None

    marked_by: ClassVar[Literal["key", "person"]] = "key"
    exclusive: ClassVar[bool] = True
    """Whether a response says at most one of `answers`, so that measures of single options exist."""
    watched: ClassVar[bool] = False
    """Whether it is marked while it is done, so that what is handed in with it is evidence and not what is marked."""
    stem_name: ClassVar[str] = "question"
    in_bank: ClassVar[bool] = True
    """Whether such an item stands in a bank, with versions and a history of its own."""

    @property
    def own_label(self) -> str:
        """What this question is called on its paper, where that is not its number."""
        return ""

    @property
    def to_ask_again(self) -> str:
        """What to ask again of those who missed it, where the teacher has said it."""
        return ""

    @abstractmethod
    def missing(self) -> list[str]:
        """What this kind still lacks besides its stem, as sentences for the teacher."""

    @abstractmethod
    def answers(self) -> list[AnsweredOption]:
        """What can be given, in printed order, with the points each earns on its own."""

    @abstractmethod
    def picks(self, response: ResponseBase) -> tuple[str, ...]:
        """The ids of `answers` that a response says; empty when nothing was given.

        Raises ValueError for a response that does not belong to this item.
        """

    @abstractmethod
    def score(self, response: ResponseBase | None) -> float | None:
        """Points for a response, from 0 to `marks`; nothing given earns 0. None where a person has to mark it."""

    def typed(self, response: ResponseBase) -> tuple[TypedPart, ...]:
        """What was typed, place by place; empty for kinds where nothing is typed to be compared with a key."""
        return ()

    def with_shares(self, response: ResponseBase, shares: Shares) -> tuple[float, tuple[str, ...]]:
        """Points, and what is said to have been picked, where a person judged some of what was typed."""
        raise ValueError(_("Nothing is typed in this question."))

    def accepting(self, part: str, words: Sequence[str]) -> Self | None:
        """The same item with these words right too; None where a key cannot list them."""
        return None

    def compares(self) -> str:
        """What counts as the same answer, in words; empty for kinds where nothing is typed."""
        return ""

    def keyed_to(self, answer: str) -> Self | None:
        """The same item with this one answer, by id, as its key; None where its key is not one of its answers."""
        return None

    @property
    def guessed_of(self) -> int | None:
        """Among how many offered answers a guess chooses; None where guessing is no way to an answer."""
        return None

    def part_ids(self) -> list[str]:
        """The ids of its parts, under which other programs know them."""
        return []

    @abstractmethod
    def for_student(self) -> StudentBase:
        """The part of this item that a student may see."""

    @abstractmethod
    def key_words(self) -> str:
        """The key in plain words, for the marking guide and for feedback."""

    @abstractmethod
    def says(self, response: ResponseBase) -> str:
        """A response in plain words, for tables and marking."""

    def problems(self) -> list[str]:
        """What keeps this item from being used in a test, as sentences for the teacher; empty when it is ready."""
        bare = [_("The {stem_name} has no text yet.", stem_name=self.stem_name)] if is_empty(self.stem) else []
        return [*bare, *self.missing(), *(self.variation.problems() if self.variation else [])]

    def given(self, response: ResponseBase | None) -> bool:
        """Whether anything was given."""
        return response is not None and bool(self.picks(response))

    def fits(self, response: ResponseBase) -> None:
        """Raises ValueError, in words for the student, when a response does not belong to this item."""
        self.picks(response)

    def on_sheet(self) -> OnSheet | None:
        """Its place on an answer sheet; None where a sheet cannot take the answer."""
        return None

    def from_sheet(self, answer: str) -> ResponseBase:
        """The response that an answer read from a sheet says; letters are those of this order of the parts.

        Raises ValueError, in words, for an answer that does not belong to this item.
        """
        raise ValueError(_("This question is not answered on a sheet."))

    def to_sheet(self, response: ResponseBase) -> str:
        """What a student with this response fills in: the reverse of `from_sheet`."""
        return self.says(response)

    def says_fully(self, response: ResponseBase) -> str:
        """As `says`, readable without the question beside it: letters that stand for words are those words."""
        return self.says(response)

    def key_fully(self) -> str:
        """As `key_words`, in the same way."""
        return self.key_words()

    def texts(self) -> Iterator[str]:
        """Every rich text of the item: for searching, for pictures, for checks."""
        yield self.stem
        yield from (answer.text for answer in self.answers() if answer.offered)
        yield self.rationale

    def with_marks(self, marks: float) -> Self:
        return self.model_copy(update={"marks": marks})

    def in_order(self, order: Sequence[str]) -> Self:
        """The same item with its parts in another order, by id; kinds without movable parts return themselves."""
        return self

    def movable(self) -> tuple[list[str], list[str]]:
        """The ids of the parts a form may shuffle, in order, and of those that stay last."""
        return [], []


def lettered(texts: Sequence[tuple[str, str]]) -> list[ShownOption]:
    """Ids and texts as printed options, A first."""
    return [
        ShownOption(id=id, letter=letter, text=text) for letter, (id, text) in zip(ascii_uppercase, texts, strict=False)
    ]


def letters_of(ids: Sequence[str]) -> dict[str, str]:
    return dict(zip(ids, ascii_uppercase, strict=False))


def placed_letters(answer: str, rows: int, ids: Sequence[str]) -> dict[int, str]:
    """Row, from 0 -> the id behind its letter, of an answer such as "1:C+3:A"."""
    by_letter = {letter: id for id, letter in letters_of(ids).items()}
    placed = dict[int, str]()
    for pair in filter(None, answer.split("+")):
        row, _sign, letter = pair.partition(":")
        if not row.isdecimal() or not 1 <= int(row) <= rows or letter not in by_letter:
            raise ValueError(_("There is no {pair} here.", pair=pair))
        if int(row) - 1 in placed:
            raise ValueError(_("Row {row} has two answers.", row=row))
        placed[int(row) - 1] = by_letter[letter]
    return placed


def sound_ids(ids: Sequence[str], plural: str) -> None:
    """Raises ValueError when an id stands twice."""
    if len(set(ids)) != len(ids):
        raise ValueError(_("Two {plural} have the same id.", plural=plural))


def texts_missing(texts: Sequence[tuple[str, str]], noun: str) -> list[str]:
    """Sentences about empty or equal texts. `texts`: what each is called, and its rich text."""
    results, seen = [], dict[str, str]()
    for name, text in texts:
        words = plain(text).casefold() + " ".join(sorted(pictures(text)))
        if not words:
            results.append(_("{noun} {name} is empty.", noun=noun, name=name))
        elif words in seen:
            results.append(_("{noun}s {seen} and {name} read the same.", noun=noun, seen=seen[words], name=name))
        else:
            seen[words] = name
    return results


def share_of_parts(right: int, wrong: int, parts: int, credit: Credit) -> float:
    """The share of the marks, 0 to 1, by a rule of part credit. `right` + `wrong` may be less than `parts`."""
    if credit == "all":
        return float(right == parts and not wrong)
    if credit == "each":
        return right / parts
    return max(0, right - wrong) / parts
