"""A QTI item, version 2.1, 2.2 or 3.0, as one of ours; what cannot be carried is listed, never dropped unseen.

Read by meaning and not by who wrote it: the interactions say the kind, the declarations and the response processing
say the key and the marks. An item with several interactions in its text becomes one with gaps; any other combination
is refused in words.
"""

from dataclasses import dataclass, field

from pydantic import ValidationError

from versomark.core.formats.untrusted import UnreadableFileError, read_xml
from versomark.core.items import ItemContent, read_content
from versomark.core.language import _
from versomark.core.text import clean

from .kinds import READERS, gaps_of, marked_gaps, marks_of
from .losses import lost_of_item
from .names import all_named, attribute, children, kebab, words
from .scoring import with_its_scoring
from .source import PictureAddress, Source

INTERACTIONS = (
    "choice-interaction", "text-entry-interaction", "inline-choice-interaction", "match-interaction",
    "order-interaction", "select-point-interaction", "hotspot-interaction", "extended-text-interaction",
    "upload-interaction", "associate-interaction", "gap-match-interaction", "graphic-gap-match-interaction",
    "graphic-order-interaction", "graphic-associate-interaction", "hottext-interaction", "slider-interaction",
    "drawing-interaction", "media-interaction", "end-attempt-interaction", "position-object-interaction",
    "custom-interaction", "portable-custom-interaction",
)  # fmt: skip


@dataclass
class ReadItem:
    identifier: str
    title: str
    content: ItemContent
    lost: list[str] = field(default_factory=list)
    """What the item said that ours cannot, in words."""


def read_item(data: bytes, picture_address: PictureAddress = lambda path: None) -> ReadItem:
    """One item from its XML. Raises Refused with the reason when it cannot become one of ours."""
    root = read_xml(data, _("This item"))
    if kebab(root.tag) != "assessment-item":
        raise UnreadableFileError(_("This is not a QTI assessment item."))
    return _read(Source(root, picture_address))


def _read(source: Source) -> ReadItem:
    # Before a reader of a kind takes the text apart.
    source.lost += lost_of_item(source.root)
    results = list(all_named(source.body, *INTERACTIONS))
    names = [kebab(element.tag) for element in results]
    inline = {"text-entry-interaction", "inline-choice-interaction"}
    if not results:
        raise UnreadableFileError(_("There is nothing to answer in it."))
    if set(names) <= inline and (len(results) > 1 or names[0] == "inline-choice-interaction" or marked_gaps(source)):
        stored = gaps_of(source, results)
    elif len(results) > 1:
        raise UnreadableFileError(_("It asks several things at once, of kinds that cannot stand in one question."))
    elif names[0] in READERS:
        stored = READERS[names[0]](source, results[0])
    else:
        raise UnreadableFileError(_("A {replace} is not a kind of question here.", replace=names[0].replace("-", " ")))
    stored.setdefault("stem", _stem(source))
    stored |= {"marks": marks_of(source), "rationale": _rationale(source)}
    _leftovers(source)
    try:
        stored = with_its_scoring(source, stored)
        content = read_content(stored)
    except ValidationError as error:
        first = error.errors()[0]
        raise UnreadableFileError(
            _("It cannot be used: {removeprefix}.", removeprefix=str(first["msg"]).removeprefix("Value error, "))
        ) from None
    lost = list(dict.fromkeys(source.lost))
    return ReadItem(attribute(source.root, "identifier"), attribute(source.root, "title"), content, lost)


def _stem(source: Source) -> str:
    """Everything in the body that is neither an interaction nor a note, prompts included."""
    prompts = [
        source.html(prompt)
        for name in INTERACTIONS
        for i in all_named(source.body, name)
        for prompt in children(i, "prompt")
    ]
    parts = [source.html(source.body, (*INTERACTIONS, "rubric-block", "stylesheet")), *prompts]
    parts = [part for part in parts if part]
    if len(parts) == 1:
        return parts[0]
    return clean("".join(part if part.startswith("<p") else f"<p>{part}</p>" for part in parts))


def _rationale(source: Source) -> str:
    note = source.notes_for("rationale").get("")
    if note is not None:
        return source.note_html(note)
    return ""


def _leftovers(source: Source) -> None:
    known = ("idea", "rationale", "range", "choice", "region", "criterion", "exemplar")
    for note in source.notes:
        if attribute(note, "use").removeprefix("ext:").split(" ")[0] not in known and words(note):
            source.lost.append(
                _(
                    "a note for {value}: “{value_2}”",
                    value=attribute(note, "view") or "others",
                    value_2=words(note)[:60],
                )
            )


def picture_paths(data: bytes) -> list[str]:
    """The pictures an item names, by their paths in the package."""
    root = read_xml(data, _("This item"))
    results = [attribute(element, "src") or attribute(element, "data") for element in all_named(root, "img", "object")]
    return [path for path in dict.fromkeys(results) if path]
