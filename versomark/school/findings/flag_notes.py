"""Findings as sentences. They are made when a page is read, so that a change of words never means a new analysis."""

from collections.abc import Collection, Mapping, Sequence
from typing import Any

from pydantic import BaseModel

from versomark.core.findings import Confidence, Flag, IdeaFigures, RivalFacts, Thresholds, words, worth
from versomark.core.findings.flags import LEAST_RIVAL
from versomark.core.findings.ideas import IdeaCount, same_idea
from versomark.core.language import _

from .dismissed_findings import Key, key_of
from .ideas_over_time import IdeaElsewhere, IdeaElsewhereNote, elsewhere_notes, gone_ideas
from .report import FindingsReport, FoundFlag, PaperQuestion


class RivalNote(BaseModel):
    """Another explanation of the same answers, as the end of “or else …”."""

    says: str
    probability: float


class FlagNote(BaseModel):
    """A finding as the teacher reads it, on the question it is about."""

    ref: str
    number: int
    label: str
    flag: str
    options: list[str]
    urgent: bool
    probability: float
    confidence: Confidence
    heading: str
    short: str
    says: str
    advice: str
    """What to do about it."""
    how_sure: str
    """What the probability means, in natural frequencies."""
    rivals: list[RivalNote]
    worth: float
    """How pressing it is, against the others."""
    idea: str
    """Of a shared idea that the page speaks of as a whole: which."""


class IdeaSignNote(BaseModel):
    """A question in which an idea shows, or should."""

    number: int
    label: str
    option: str
    chosen: int
    works: bool
    """Whether the option behaves as the idea would have it."""


class HolderNote(BaseModel):
    seat: int
    probability: float


class IdeaNote(BaseModel):
    """An idea of students across questions, as the teacher reads it."""

    idea: str
    heading: str
    probability: float
    confidence: Confidence
    how_sure: str
    advice: str
    worth: float
    signs: list[IdeaSignNote]
    holders: list[HolderNote]
    """Who more likely holds it than not, surest first."""
    elsewhere: list[IdeaElsewhereNote]
    """What was and became of it in the class: the sitting before, this one asked again, those since."""


class ReadQuestion(PaperQuestion):
    d_words: str
    quiet: str
    """How far the answers say that nothing is wrong, for a question that no finding leads."""
    may_be: list[RivalNote]
    """What may explain its answers, likeliest first, where that is not only that nothing is wrong."""


class FindingsPageBody(FindingsReport):
    """A report with its words."""

    opening: str
    evidence: str
    """What else than this sitting was weighed; empty for nothing."""
    shown_ideas: list[IdeaNote]
    gone_ideas: list[str]
    """Sentences on ideas that the class showed the last time and does not show here, though it could."""
    flags: list[FlagNote]  # type: ignore[assignment]
    paper: list[ReadQuestion]  # type: ignore[assignment]


NAMING = {
    "wrong_key": Flag.CHECK_THE_KEY,
    "two_right": Flag.TWO_RIGHT_ANSWERS,
    "shared_idea": Flag.SHARED_IDEA,
}
"""Explanations that name an option, as the figures have them."""


def flag_note(flag: FoundFlag, shown: Collection[str] = ()) -> FlagNote:
    """shown: ideas that the page speaks of as a whole."""
    idea = same_idea(flag.idea_note) if flag.flag is Flag.SHARED_IDEA and flag.idea_note else ""
    return FlagNote(
        ref=flag.ref,
        number=flag.number,
        label=flag.label,
        flag=flag.flag.value,
        options=flag.options,
        urgent=flag.urgent,
        probability=flag.probability,
        confidence=Thresholds().confidence(flag.probability),
        heading=words.heading(flag),
        short=words.short(flag),
        says=words.says(flag),
        advice=_(words.ADVICE[flag.flag]),
        how_sure=words.how_sure(flag.probability),
        rivals=[RivalNote(says=words.rival(entry, flag.keys), probability=entry.probability) for entry in flag.rivals],
        worth=worth(flag.flag, flag.probability, flag.students / max(1, flag.takers)),
        idea=idea if idea in shown else "",
    )


def _idea_note(
    figures: IdeaFigures,
    students: int,
    numbers: Mapping[str, tuple[int, str]],
    elsewhere: Sequence[IdeaElsewhere],
) -> IdeaNote:
    here = IdeaCount(figures.p, figures.expected, figures.low, figures.high, students)
    likely = sorted((entry for entry in figures.students if entry.p >= 0.5), key=lambda entry: -entry.p)
    return IdeaNote(
        idea=same_idea(figures.idea),
        heading=words.idea_heading(figures.idea, figures.p, figures.expected, figures.low, figures.high, students),
        probability=figures.p,
        confidence=Thresholds().confidence(figures.p),
        how_sure=words.how_sure(figures.p),
        advice=_(words.ADVICE[Flag.SHARED_IDEA]),
        worth=worth(Flag.SHARED_IDEA, figures.p, figures.expected / max(1, students)),
        signs=[
            IdeaSignNote(
                number=numbers[sign.item][0],
                label=numbers[sign.item][1],
                option=sign.option,
                chosen=sign.chosen,
                works=sign.p >= 0.5,
            )
            for sign in figures.signs
        ],
        holders=[HolderNote(seat=int(entry.student), probability=entry.p) for entry in likely],
        elsewhere=elsewhere_notes(here, elsewhere),
    )


def read_aloud(
    body: dict[str, Any],
    more: Sequence[FoundFlag] = (),
    aside: Collection[Key] = (),
    elsewhere: Mapping[str, Sequence[IdeaElsewhere]] | None = None,
) -> dict[str, Any]:
    """A kept report as JSON with its words. more: flags that come from elsewhere; aside: findings that were set aside,
    which the opening does not count. elsewhere: by idea, how it was in other sittings of the class."""
    elsewhere = elsewhere or {}
    test = body["test"]
    numbers = {question["ref"]: (question["number"], question["label"]) for question in body["paper"]}
    ideas = [
        _idea_note(idea, test["students"], numbers, elsewhere.get(same_idea(idea.idea), ()))
        for idea in map(IdeaFigures.model_validate, body["ideas"])
        if idea.p >= Thresholds.possible
    ]
    flags = [*(FoundFlag.model_validate(flag) for flag in body["flags"]), *more]
    notes = [flag_note(flag, {idea.idea for idea in ideas}) for flag in flags]
    standing = [note for note in notes if key_of(note.model_dump()) not in aside]
    # An idea that was set aside on every question that it leads is no longer spoken of.
    gone = {note.idea for note in notes} - {note.idea for note in standing}
    ideas = [idea for idea in ideas if idea.idea not in gone]
    urgent = [idea.probability for idea in ideas]
    urgent += [note.probability for note in standing if note.urgent and not note.idea]
    opening = words.opening(
        test["students"],
        (test["mean"] or 0.0) / test["max"] if test["max"] else 0.0,
        (test["alpha"], test["alpha_low"]),
        urgent,
        body["complete"],
        bool(standing),
    )
    paper = [{**question, **_read_question(question, test["students"])} for question in body["paper"]]
    return {
        **body,
        "opening": opening,
        "evidence": words.evidence_before(body["before"], body["before_in_part"]),
        "flags": [note.model_dump() for note in notes],
        "shown_ideas": [idea.model_dump() for idea in ideas],
        "gone_ideas": gone_ideas(body["ideas"], elsewhere),
        "paper": paper,
    }


def _read_question(question: dict[str, Any], students: int) -> dict[str, Any]:
    figures = question["figures"]
    if figures is None:
        return {"d_words": "", "quiet": words.quiet(None), "may_be": []}
    d, explained = figures["d_rest"], figures["explanations"]
    return {
        "d_words": words.d_in_words(d, students) if d is not None else "",
        "quiet": words.quiet(explained and explained["fair"]),
        "may_be": _may_be(question, explained) if explained else [],
    }


def _may_be(question: dict[str, Any], explained: dict[str, Any]) -> list[dict[str, Any]]:
    keys = [option["option"] for option in question["figures"]["options"] if option["key"]]
    notes = {option["option"]: option["idea_note"] for option in question["options"]}
    entries = [(None, "", explained["fair"]), (Flag.GUESSING, "", explained["guessing"])]
    for name, flag in NAMING.items():
        entries += [(flag, entry["option"], entry["p"]) for entry in explained[name]]
    likely = sorted((entry for entry in entries if entry[2] >= LEAST_RIVAL), key=lambda entry: -entry[2])
    if [flag for flag, _, _ in likely] == [None]:
        return []
    facts = (
        RivalFacts(flag=flag, option=option, idea_note=notes.get(option, ""), probability=probability)
        for flag, option, probability in likely
    )
    return [RivalNote(says=words.rival(fact, keys), probability=fact.probability).model_dump() for fact in facts]
