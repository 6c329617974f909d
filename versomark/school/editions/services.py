"""Tests: questions put in order, tried as students see them, and frozen as an edition."""

from collections.abc import Mapping, Sequence
from secrets import randbelow
from statistics import median
from typing import NamedTuple
from uuid import UUID

from django.db import transaction
from django.db.models import Prefetch, QuerySet
from django.utils import timezone

from versomark.core import editions as core
from versomark.core.formats.qti import Unsent
from versomark.core.items import NoDraw
from versomark.core.language import N_, _
from versomark.school.accounts.public import Teacher
from versomark.school.bank import public as bank
from versomark.school.bank.public import Item, faults_of
from versomark.school.classes.public import classes_of
from versomark.school.errors import DomainError, NotFound

from .external import built, keep_described, make_described
from .models import Edition, Test, TestItem

BEFORE, AFTER = N_("before teaching"), N_("after teaching")


def tests_of(teacher: Teacher, archived: bool = False) -> QuerySet[Test]:
    return Test.objects.filter(owner=teacher, archived=archived).prefetch_related("places", "editions")


def test_of(teacher: Teacher, test_id: int) -> Test:
    test = tests_of(teacher).filter(pk=test_id).first()
    if test is None:
        raise NotFound(_("test"))
    return test


def question_count(test: Test) -> int:
    """Questions of a test as it stands: placed, drawn, or described."""
    if test.described is not None:
        return len(test.described["groups"])
    drawn = sum(rule["count"] for section in test.layout.get("sections", []) for rule in section.get("draws", []))
    return len(test.places.all()) + int(drawn)


def items_in(test: Test) -> dict[str, Item]:
    """ref -> the question as the bank has it, for every question of the layout."""
    places = test.places.select_related("item__stimulus", "item__shared_with").prefetch_related(
        Prefetch("item__skills")
    )
    return {str(place.item_id): place.item for place in places.order_by("position")}


@transaction.atomic
def make_test(teacher: Teacher, title: str) -> Test:
    return Test.objects.create(owner=teacher, title=title.strip(), layout=core.one_section([]).model_dump(mode="json"))


@transaction.atomic
def keep_test(test: Test, title: str, instructions: str, layout: core.Layout, language: str | None = None) -> Test:
    """Keep title, instructions and what stands where. language: None where it stays as it is."""
    built(test)
    refs = [entry.ref for entry in layout.items()]
    if len(set(refs)) != len(refs):
        raise DomainError(_("The same question stands in the test twice."))
    own = {str(item.pk): item for item in Item.objects.filter(owner=test.owner, pk__in=_uuids(refs))}
    if len(own) != len(refs):
        raise NotFound(_("question"))
    if len({section.ref for section in layout.sections}) != len(layout.sections):
        raise DomainError(_("Two sections have the same reference."), status=422)
    test.language = test.language if language is None else language
    test.title, test.instructions, test.layout = title.strip(), instructions.strip(), layout.model_dump(mode="json")
    test.save()
    test.places.all().delete()
    TestItem.objects.bulk_create(
        TestItem(test=test, item=own[ref], position=at) for at, ref in enumerate(refs, start=1)
    )
    return test_of(test.owner, test.pk)


def keep_items(test: Test, title: str, instructions: str, item_ids: Sequence[UUID]) -> Test:
    """The plainest test: these questions one after another."""
    return keep_test(test, title, instructions, core.one_section([str(item_id) for item_id in item_ids]))


@transaction.atomic
def put_items(test: Test, item_ids: Sequence[UUID]) -> Test:
    """These questions at the end of the last section; those that stand in the test already are passed over."""
    layout = built(test).read()
    there = {entry.ref for entry in layout.items()}
    fresh = [core.PlacedItem(ref=ref) for ref in dict.fromkeys(map(str, item_ids)) if ref not in there]
    last = layout.sections[-1]
    longer = last.model_copy(update={"entries": [*last.entries, *fresh]})
    layout = layout.model_copy(update={"sections": [*layout.sections[:-1], longer]})
    return keep_test(test, test.title, test.instructions, layout)


@transaction.atomic
def copy_test(test: Test) -> Test:
    """A copy to change, with the same questions of the bank."""
    title = _("{title} (copy)", title=test.title)[:200] if test.title else ""
    description = test.description()
    if description is not None:
        return keep_described(make_described(test.owner, title), title, description)
    copy = make_test(test.owner, title)
    return keep_test(copy, copy.title, test.instructions, test.read())


@transaction.atomic
def remove_test(test: Test) -> None:
    """Off the list of tests. One that was frozen is only put away, since its results are explained by it."""
    if test.editions.exists():
        test.archived = True
        test.save(update_fields=["archived"])
    else:
        test.delete()


def put_away(test: Test) -> Test:
    """Off the list, with all it is, frozen or not; `restore_test` takes it out again."""
    test.archived = True
    test.save(update_fields=["archived"])
    return test


@transaction.atomic
def restore_test(teacher: Teacher, test_id: int) -> Test:
    Test.objects.filter(owner=teacher, pk=test_id).update(archived=False)
    return test_of(teacher, test_id)


def checks(test: Test) -> list[core.Check]:
    description = test.description()
    if description is not None:
        return [core.Check(stops=True, says=says) for says in core.description_problems(test.title, description)]
    return core.checks(test.title, test.read(), _bank(test), _pool(test))


def foretold(test: Test, students: int | None = None, cut: float = core.USUAL_CUT) -> core.PredictedStatistics:
    """students: how many will sit it; where it is not said, as many as the teacher's classes have in the middle."""
    return foretold_of(test.owner, test.read(), items_in(test), students, cut)


def foretold_of(
    owner: Teacher,
    layout: core.Layout,
    items: Mapping[str, Item],
    students: int | None = None,
    cut: float = core.USUAL_CUT,
) -> core.PredictedStatistics:
    """As `foretold`, of a layout that need not be kept."""
    of_bank = {ref: _bank_item(item) for ref, item in items.items()}
    return core.foretell(layout, of_bank, students or _usual_class(owner), cut)


def _usual_class(teacher: Teacher) -> int:
    sizes = [own.student_count for own in classes_of(teacher) if own.student_count > 1]  # type: ignore[attr-defined]
    return int(median(sizes)) if sizes else core.USUAL_CLASS


class Unsettled(NamedTuple):
    """A question of a test whose latest findings still stand."""

    number: int
    item: Item


def unsettled(test: Test) -> list[Unsettled]:
    """Questions against which something speaks since the latest sitting of their version, and which nobody settled,
    reworded or set it aside since."""
    items = items_in(test)
    numbered = enumerate((entry.ref for entry in test.read().items()), start=1)
    return [Unsettled(number, items[ref]) for number, ref in numbered if ref in items and faults_of(items[ref])]


def assembled(test: Test, seed: int = 0) -> core.Edition:
    """The test as it stands, ready or not."""
    description = test.description()
    if description is not None:
        return core.edition_described(test.title, description)
    try:
        return core.assemble(test.title, test.instructions, test.read(), _bank(test), _pool(test), seed)
    except NoDraw as error:
        raise DomainError(_("A question with varied numbers cannot be drawn yet."), problems=[str(error)]) from None


def preview(test: Test) -> core.StudentPaper:
    """The paper as students will see it, ready or not."""
    return core.student_paper(assembled(test))


@transaction.atomic
def freeze(test: Test) -> Edition:
    """A new edition of the test as it stands; the latest one again when nothing has changed since."""
    latest = test.editions.order_by("-number").first()
    if latest is not None and _frozen(test, latest.read().seed).fingerprint() == latest.fingerprint:
        return latest
    return _keep_edition(test, _frozen(test, _new_seed()), "")


@transaction.atomic
def freeze_pair(test: Test) -> tuple[Edition, Edition]:
    """Two equivalent editions, for before and after teaching: the same plan, other draws of whatever varies."""
    first = _frozen(built(test), _new_seed())
    for _time in range(20):
        second = _frozen(test, _new_seed())
        if [item.content for item in second.items()] != [item.content for item in first.items()]:
            return _keep_edition(test, first, BEFORE), _keep_edition(test, second, AFTER)
    raise DomainError(
        _(
            "Nothing in this test varies, so both editions would be the same. Give a question numbers "
            "that vary, or a section questions to draw."
        )
    )


def editions_of(teacher: Teacher) -> QuerySet[Edition]:
    return Edition.objects.filter(test__owner=teacher).select_related("test").order_by("-frozen_at", "-pk")


def edition_of(teacher: Teacher, edition_id: int) -> Edition:
    edition = editions_of(teacher).filter(pk=edition_id).first()
    if edition is None:
        raise NotFound(_("edition"))
    return edition


def changes_since_the_one_before(edition: Edition) -> list[core.EditionChange]:
    """What is new in an edition, item by item; empty for the first."""
    before = edition.test.editions.filter(number__lt=edition.number).order_by("-number").first()
    return core.changes_between(before.read(), edition.read()) if before else []


def send_qti(test: Test) -> tuple[bytes, list[Unsent]]:
    """The test as a QTI package, section by section."""
    items = items_in(built(test))
    sections = [(section.title, [items[entry.ref] for entry in section.items()]) for section in test.read().sections]
    data, unsent = bank.send_qti(test.title, sections)
    lost = core.not_sayable_elsewhere(test.read(), {ref: item.read().marks for ref, item in items.items()})
    return data, [*([Unsent(test.title or _("The test"), lost)] if lost else []), *unsent]


@transaction.atomic
def share_test(test: Test, topic: str, summary: str, shared: bool) -> Test:
    """Put a test on the shelf for colleagues of the school, or take it off again."""
    built(test)
    if shared and not topic.strip():
        raise DomainError(_("Say what it is about, so that colleagues find it."), status=422)
    if shared and (problems := [check.says for check in checks(test) if check.stops]):
        raise DomainError(_("A test is finished before it goes on the shelf."), problems=problems)
    test.topic, test.summary = topic.strip(), summary.strip()
    test.shared_at = (test.shared_at or timezone.now()) if shared else None
    test.save()
    return test


def _frozen(test: Test, seed: int) -> core.Edition:
    description = test.description()
    if description is not None:
        if problems := core.description_problems(test.title, description):
            raise DomainError(_("This description is not finished."), problems=problems)
        return core.edition_described(test.title, description)
    try:
        frozen = core.freeze(test.title, test.instructions, test.read(), _bank(test), _pool(test), seed)
        return frozen.model_copy(update={"language": test.language or test.owner.school.language})
    except core.NotReady as error:
        raise DomainError(_("This test is not ready to be frozen."), problems=error.problems) from None


def _keep_edition(test: Test, content: core.Edition, label: str) -> Edition:
    latest = test.editions.order_by("-number").first()
    edition = Edition.objects.create(
        test=test,
        number=latest.number + 1 if latest else 1,
        content=content.model_dump(mode="json"),
        fingerprint=content.fingerprint(),
        label=label,
        forecast=foretold(test).model_dump(mode="json") if test.described is None else None,
    )
    refs = [item.ref for item in content.items() if item.content.in_bank]
    for item in Item.objects.filter(pk__in=_uuids(refs)):
        bank.keep_version(item, _("{title}, edition {number}", title=content.title, number=edition.number))
    return edition


def _bank(test: Test) -> dict[str, core.BankItem]:
    return {ref: _bank_item(item) for ref, item in items_in(test).items()}


def _pool(test: Test) -> core.Pool:
    def pool(rule: core.DrawRule) -> list[core.BankItem]:
        items = bank.find_items(test.owner, bank.ItemFilter(skill=rule.skill)).filter(ready=True)
        return [_bank_item(item) for item in items if rule.low <= _or(item.difficulty, rule.low) <= rule.high]

    return pool


def _or(value: float | None, otherwise: float) -> float:
    return otherwise if value is None else value


def _bank_item(item: Item) -> core.BankItem:
    stimulus = item.stimulus
    return core.BankItem(
        ref=str(item.pk),
        content=item.read(),
        skills=tuple(skill.name for skill in item.skills.all()),
        stimulus=core.Stimulus(ref=str(stimulus.pk), title=stimulus.title, body=stimulus.body) if stimulus else None,
        history=_history(item),
    )


def _history(item: Item) -> core.QuestionHistory | None:
    seen = item.evidence
    if item.difficulty is None or not seen:
        return None
    return core.QuestionHistory(
        worth=0,
        students=seen["students"],
        classes=seen["classes"],
        share=item.difficulty,
        r_rest=seen["rest_correlation"],
        reliability=seen["reliability"],
        spread=seen["spread"],
    )


def _uuids(refs: Sequence[str]) -> list[UUID]:
    try:
        return [UUID(ref) for ref in refs]
    except ValueError:
        raise NotFound(_("question")) from None


def _new_seed() -> int:
    return randbelow(2**31)
