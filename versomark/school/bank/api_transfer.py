from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router

from versomark.core.language import _
from versomark.school.http import file_in, file_out, teacher_of

from . import services, transfer
from .schemas import (
    BroughtLine,
    BroughtPage,
    BroughtSkillsPage,
    FileBrought,
    ItemsToSend,
    SentFile,
    Unsent,
    WrongPlace,
    sent_file,
)

router = Router(tags=["transfer"])


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


@router.post("/items/send/{form}", response=SentFile)
def send(request: HttpRequest, body: ItemsToSend, form: Literal["qti", "xlsx"]) -> SentFile:
    result = services.items_of(teacher_of(request))
    items = list(result.filter(pk__in=body.ids) if body.ids else result)
    if form == "qti":
        data, unsent = transfer.send_qti(_("Questions"), [(_("Questions"), items)])
        lost = [Unsent(words=entry.words, lost=entry.lost) for entry in unsent]
        return sent_file("questions-qti3.zip", "application/zip", data, lost)
    data, left = transfer.send_table(items)
    return sent_file("questions.xlsx", transfer.SHEET_TYPE, data, [Unsent(words=words, lost=[]) for words in left])


@router.post("/skills/bring", response=BroughtSkillsPage)
def bring_skills(request: HttpRequest, body: FileBrought, look: bool = False) -> BroughtSkillsPage:
    """A CASE framework into the tree of skills; with `look`, only what it would do."""
    return BroughtSkillsPage(**vars(transfer.bring_skills(teacher_of(request), file_in(body.data), only_look=look)))


@router.get("/skills/send", response={200: None})
def send_skills(request: HttpRequest) -> HttpResponse:
    return file_out(transfer.send_skills(teacher_of(request)), "application/json", "skills-case.json")
