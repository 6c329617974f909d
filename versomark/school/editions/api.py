from typing import Literal

from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import Query, Router

from versomark.core.editions import (
    Edition,
    EditionChange,
    StudentPaper,
)
from versomark.core.language import _
from versomark.school.bank.public import faults_of
from versomark.school.bank.schemas import SentFile, Unsent, item_line, sent_file, standing_lines
from versomark.school.errors import NotFound
from versomark.school.http import Done, teacher_of

from . import equivalent, external, printing, services, shelf
from .models import Edition as EditionRow
from .models import Test
from .schemas import (
    BothForetold,
    DescribedChange,
    EditionLine,
    EquivalentPage,
    EquivalentQuestion,
    ForetoldOf,
    ForetoldPage,
    ItemsToPut,
    NewEquivalent,
    NewTest,
    Pasted,
    PastedLines,
    ShelfLine,
    ShelfPlace,
    Swaps,
    TestChange,
    TestLine,
    TestPage,
    UnsettledLine,
)

router = Router(tags=["tests"])
FormName = Literal["A", "B", "C", "D", "E", "F", "G", "H"]


def edition_line(edition: EditionRow) -> EditionLine:
    content = edition.read()
    return EditionLine(
        id=edition.pk,
        number=edition.number,
        title=content.title,
        label=_(edition.label),
        questions=sum(1 for _ in content.items()),
        marks=content.total_marks,
        forms=content.form_names,
        minutes=content.minutes,
        frozen_at=edition.frozen_at,
    )


def _line(test: Test) -> TestLine:
    sections = test.layout.get("sections", [])
    return TestLine(
        id=test.pk,
        title=test.title,
        questions=services.question_count(test),
        pages=sum(entry["entry"] == "page" for s in sections for entry in s["entries"]),
        marks_only=test.described is not None,
        changed_at=test.changed_at,
        shared=test.shared_at is not None,
        editions=[edition_line(edition) for edition in test.editions.all()],
    )


def _page(test: Test) -> TestPage:
    return TestPage(
        **_line(test).model_dump(),
        instructions=test.instructions,
        language=test.language,  # type: ignore[arg-type]
        layout=test.read(),
        items=[item_line(item) for item in services.items_in(test).values()],
        checks=services.checks(test),
        topic=test.topic,
        summary=test.summary,
        described=test.description(),
    )


@router.get("/tests", response=list[TestLine])
def tests(request: HttpRequest, archived: bool = False) -> list[TestLine]:
    return [_line(test) for test in services.tests_of(teacher_of(request), archived)]


@router.post("/tests", response=TestPage)
def make_test(request: HttpRequest, body: NewTest) -> TestPage:
    return _page(services.make_test(teacher_of(request), body.title))


@router.post("/tests/marks-only", response=TestPage)
def make_described(request: HttpRequest, body: NewTest) -> TestPage:
    """A test given and marked elsewhere, to be described line by line."""
    return _page(external.make_described(teacher_of(request), body.title))


@router.put("/tests/{int:test_id}/described", response=TestPage)
def keep_described(request: HttpRequest, test_id: int, body: DescribedChange) -> TestPage:
    return _page(external.keep_described(services.test_of(teacher_of(request), test_id), body.title, body.described))


@router.post("/tests/marks-only/lines", response=PastedLines)
def pasted_lines(request: HttpRequest, body: Pasted) -> PastedLines:
    """Lines of a spreadsheet read as a description; nothing is kept."""
    groups, wrong = external.lines_pasted(body.text)
    return PastedLines(groups=groups, wrong=wrong)


@router.get("/tests/{int:test_id}", response=TestPage)
def test_page(request: HttpRequest, test_id: int) -> TestPage:
    return _page(services.test_of(teacher_of(request), test_id))


@router.put("/tests/{int:test_id}", response=TestPage)
def keep_test(request: HttpRequest, test_id: int, body: TestChange) -> TestPage:
    test = services.test_of(teacher_of(request), test_id)
    return _page(services.keep_test(test, body.title, body.instructions, body.layout, body.language))


@router.delete("/tests/{int:test_id}", response=Done)
def remove_test(request: HttpRequest, test_id: int) -> Done:
    services.remove_test(services.test_of(teacher_of(request), test_id))
    return Done()


@router.post("/tests/{int:test_id}/put-away", response=Done)
def put_away(request: HttpRequest, test_id: int) -> Done:
    services.put_away(services.test_of(teacher_of(request), test_id))
    return Done()


@router.post("/tests/{int:test_id}/restore", response=TestPage)
def restore_test(request: HttpRequest, test_id: int) -> TestPage:
    return _page(services.restore_test(teacher_of(request), test_id))


@router.post("/tests/{int:test_id}/copy", response=TestPage)
def copy_test(request: HttpRequest, test_id: int) -> TestPage:
    return _page(services.copy_test(services.test_of(teacher_of(request), test_id)))


@router.post("/tests/{int:test_id}/items", response=TestPage)
def put_items(request: HttpRequest, test_id: int, body: ItemsToPut) -> TestPage:
    """Questions of the bank at the end of a test; those that stand in it already are passed over."""
    return _page(services.put_items(services.test_of(teacher_of(request), test_id), body.items))


@router.get("/tests/{int:test_id}/preview", response=StudentPaper)
def preview(request: HttpRequest, test_id: int) -> StudentPaper:
    return services.preview(services.test_of(teacher_of(request), test_id))


@router.get("/tests/{int:test_id}/foretold", response=ForetoldPage)
def foretold(request: HttpRequest, test_id: int, of: Query[ForetoldOf]) -> ForetoldPage:
    """What the test will do in a class of so many, with a decision at so many percent of its marks."""
    test = services.test_of(teacher_of(request), test_id)
    return ForetoldPage(
        predicted=services.foretold(test, of.students, of.cut / 100),
        unsettled=[
            UnsettledLine(number=entry.number, ref=entry.item.pk, standing=standing_lines(faults_of(entry.item)))
            for entry in services.unsettled(test)
        ],
    )


@router.get("/tests/{int:test_id}/equivalent", response=EquivalentPage)
def equivalent_page(request: HttpRequest, test_id: int) -> EquivalentPage:
    """For each question the closest other ones of the bank: skill first, then difficulty, kind and marks."""
    test = services.test_of(teacher_of(request), test_id)
    return EquivalentPage(
        id=test.pk,
        title=test.title,
        questions=[
            EquivalentQuestion(
                number=line.number,
                section=line.section,
                item=item_line(line.item),
                suggested=line.suggested,
                why_kept=line.why_kept,
                others=[item_line(other) for other in line.others],
            )
            for line in equivalent.alternatives_of(test)
        ],
    )


@router.post("/tests/{int:test_id}/equivalent/foretold", response=BothForetold)
def both_foretold(request: HttpRequest, test_id: int, body: Swaps) -> BothForetold:
    """What this test and the other one are likely to do, side by side; nothing is kept."""
    this, other = equivalent.both_foretold(services.test_of(teacher_of(request), test_id), body.swaps)
    return BothForetold(this=this, other=other)


@router.post("/tests/{int:test_id}/equivalent", response=TestPage)
def make_equivalent(request: HttpRequest, test_id: int, body: NewEquivalent) -> TestPage:
    test = services.test_of(teacher_of(request), test_id)
    return _page(equivalent.make_equivalent(test, body.title, body.swaps))


@router.post("/tests/{int:test_id}/freeze", response=EditionLine)
def freeze(request: HttpRequest, test_id: int) -> EditionLine:
    return edition_line(services.freeze(services.test_of(teacher_of(request), test_id)))


@router.post("/tests/{int:test_id}/freeze-pair", response=list[EditionLine])
def freeze_pair(request: HttpRequest, test_id: int) -> list[EditionLine]:
    """Equivalent editions for before and after teaching."""
    return [edition_line(edition) for edition in services.freeze_pair(services.test_of(teacher_of(request), test_id))]


@router.put("/tests/{int:test_id}/sharing", response=TestPage)
def share_test(request: HttpRequest, test_id: int, body: ShelfPlace) -> TestPage:
    test = services.test_of(teacher_of(request), test_id)
    return _page(services.share_test(test, body.topic, body.summary, body.shared))


@router.get("/editions/{int:edition_id}/changes", response=list[EditionChange])
def changes(request: HttpRequest, edition_id: int) -> list[EditionChange]:
    return services.changes_since_the_one_before(services.edition_of(teacher_of(request), edition_id))


def _pdf(content: Edition, what: printing.What, form: str, title: str) -> HttpResponse:
    response = HttpResponse(printing.pdf(content, what, form), content_type="application/pdf")
    response["Content-Disposition"] = f'inline; filename="{slugify(title) or "test"}-{what}-{form}.pdf"'
    return response


@router.get("/tests/{int:test_id}/print/{what}", response={200: None})
def print_test(request: HttpRequest, test_id: int, what: printing.What, form: FormName = "A") -> HttpResponse:
    """The test as it stands now, frozen or not."""
    test = services.test_of(teacher_of(request), test_id)
    return _pdf(services.assembled(test), what, form, test.title)


@router.get("/editions/{int:edition_id}/print/{what}", response={200: None})
def print_edition(request: HttpRequest, edition_id: int, what: printing.What, form: FormName = "A") -> HttpResponse:
    edition = services.edition_of(teacher_of(request), edition_id)
    content = edition.read()
    if form not in content.form_names:
        raise NotFound(_("form"))
    return _pdf(content, what, form, _("{title} edition {number}", title=content.title, number=edition.number))


@router.post("/tests/{int:test_id}/send", response=SentFile)
def send_test(request: HttpRequest, test_id: int) -> SentFile:
    """The test as a QTI 3.0 package, and what QTI could not say, by question."""
    test = services.test_of(teacher_of(request), test_id)
    data, unsent = services.send_qti(test)
    lost = [Unsent(words=entry.words, lost=entry.lost) for entry in unsent]
    return sent_file(f"{slugify(test.title) or 'test'}-qti3.zip", "application/zip", data, lost)


@router.get("/shelf", response=list[ShelfLine])
def shelf_lines(request: HttpRequest, typed: str = "") -> list[ShelfLine]:
    return [ShelfLine(**vars(line)) for line in shelf.shelf(teacher_of(request), typed)]


@router.post("/shelf/{key}/copy", response=TestPage)
def copy_from_shelf(request: HttpRequest, key: str) -> TestPage:
    return _page(shelf.copy(teacher_of(request), key))
