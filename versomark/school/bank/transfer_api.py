from base64 import b64encode
from typing import Literal
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema

from versomark.school.http import file_in, file_out, teacher_of

from . import services, transfer

router = Router(tags=["transfer"])
MOST_BYTES = 50 * 1024 * 1024


class FileBrought(Schema):
    """A file as base64."""

    name: str = Field("", max_length=255)
    data: str = Field(max_length=MOST_BYTES * 4 // 3 + 8)
    without_wrong: bool = False


class BroughtLine(Schema):
    place: str
    words: str
    kind: str
    outcome: Literal["new", "same"]
    lost: list[str]


class WrongPlace(Schema):
    place: str
    says: str


class BroughtPage(Schema):
    items: list[BroughtLine]
    wrong: list[WrongPlace]
    lost: list[str]
    """What the file says beside its questions that does not come in."""


class BroughtSkillsPage(Schema):
    title: str
    new: list[str]
    changed: list[str]
    same: int
    lost: list[str]


def _page(brought: transfer.Brought) -> BroughtPage:
    return BroughtPage(
        items=[
            BroughtLine(place=i.place, words=i.words, kind=i.kind, outcome=i.outcome, lost=i.lost)  # type: ignore[arg-type]
            for i in brought.items
        ],
        wrong=[WrongPlace(place=place, says=says) for place, says in brought.wrong],
        lost=brought.lost,
    )


@router.post("/items/bring/look", response=BroughtPage)
def look(request: HttpRequest, body: FileBrought) -> BroughtPage:
    """What a file of questions would make: a QTI package or item, CSV or a workbook. Keeps nothing."""
    return _page(transfer.look(teacher_of(request), body.name, file_in(body.data)))


@router.post("/items/bring", response=BroughtPage)
def bring(request: HttpRequest, body: FileBrought) -> BroughtPage:
    return _page(transfer.bring(teacher_of(request), body.name, file_in(body.data), body.without_wrong))


class ItemsToSend(Schema):
    ids: list[UUID] = Field([], max_length=2000)
    """Empty for all."""


class Unsent(Schema):
    words: str
    lost: list[str]


class SentFile(Schema):
    """A file to save, as base64, and what it could not carry."""

    name: str
    type: str
    data: str
    unsent: list[Unsent]


@router.post("/items/send/{form}", response=SentFile)
def send(request: HttpRequest, body: ItemsToSend, form: Literal["qti", "xlsx"]) -> SentFile:
    result = services.items_of(teacher_of(request))
    items = list(result.filter(pk__in=body.ids) if body.ids else result)
    if form == "qti":
        data, unsent = transfer.send_qti("Questions", [("Questions", items)])
        lost = [Unsent(words=entry.words, lost=entry.lost) for entry in unsent]
        return sent_file("questions-qti3.zip", "application/zip", data, lost)
    data, left = transfer.send_table(items)
    return sent_file("questions.xlsx", transfer.SHEET_TYPE, data, [Unsent(words=words, lost=[]) for words in left])


def sent_file(name: str, type: str, data: bytes, unsent: list[Unsent]) -> SentFile:
    return SentFile(name=name, type=type, data=b64encode(data).decode(), unsent=unsent)


@router.post("/skills/bring", response=BroughtSkillsPage)
def bring_skills(request: HttpRequest, body: FileBrought, look: bool = False) -> BroughtSkillsPage:
    """A CASE framework into the tree of skills; with `look`, only what it would do."""
    return BroughtSkillsPage(**vars(transfer.bring_skills(teacher_of(request), file_in(body.data), only_look=look)))


@router.get("/skills/send", response={200: None})
def send_skills(request: HttpRequest) -> HttpResponse:
    return file_out(transfer.send_skills(teacher_of(request)), "application/json", "skills-case.json")
