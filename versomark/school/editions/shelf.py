"""The shelf: tests and lessons that ship with the product, and those that colleagues of the school put there."""

import tomllib
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

from django.db import transaction

from versomark.core.editions import DraftSection, Layout, PlacedItem, PlacedPage, TeachingPage
from versomark.core.items import ItemContent, read_content
from versomark.core.language import _
from versomark.school.accounts.public import Teacher
from versomark.school.bank import public as bank
from versomark.school.bank.public import Item
from versomark.school.errors import NotFound

from . import services
from .models import Test

READY_MADE = Path(__file__).with_name("ready_made")
OURS = "Verso Mark"


@dataclass(frozen=True)
class OnShelf:
    """A test or lesson to copy. `key` names it: a file that ships, or a colleague's test by its number."""

    key: str
    title: str
    topic: str
    summary: str
    by: str
    questions: int
    pages: int


def shelf(teacher: Teacher, typed: str = "") -> list[OnShelf]:
    """What there is, by topic and title; with words typed, what holds all of them."""
    shared = Test.objects.filter(owner__school=teacher.school, archived=False).exclude(shared_at=None)
    tests = [
        *(_of_test(test) for test in shared.select_related("owner").prefetch_related("places")),
        *(_of_file(key, content) for key, content in ready_made().items()),
    ]
    words = typed.casefold().split()
    tests = [
        line for line in tests if all(word in f"{line.title} {line.topic} {line.summary}".casefold() for word in words)
    ]
    return sorted(tests, key=lambda line: (line.topic.casefold(), line.title.casefold()))


@cache
def ready_made() -> dict[str, dict[str, Any]]:
    return {path.stem: tomllib.loads(path.read_text(encoding="utf-8")) for path in sorted(READY_MADE.glob("*.toml"))}


def _of_file(key: str, content: dict[str, Any]) -> OnShelf:
    pages = sum("page" in entry for entry in content["entry"])
    return OnShelf(
        key, content["title"], content["topic"], content["summary"], OURS, len(content["entry"]) - pages, pages
    )


def _of_test(test: Test) -> OnShelf:
    pages = sum(isinstance(entry, PlacedPage) for section in test.read().sections for entry in section.entries)
    return OnShelf(
        f"test-{test.pk}", test.title, test.topic, test.summary, test.owner.name, len(test.places.all()), pages
    )


@transaction.atomic
def copy(teacher: Teacher, key: str) -> Test:
    """A copy in one's own tests, its questions in one's own bank; a question that is there already is not doubled."""
    own = _Own(teacher)
    if key in ready_made():
        new_stimulus = ready_made()[key]
        layout = Layout(
            sections=[DraftSection(ref="1", entries=[_entry(own, at, e) for at, e in enumerate(new_stimulus["entry"])])]
        )
        return _keep(teacher, new_stimulus["title"], new_stimulus["instructions"], layout)
    number = key.removeprefix("test-")
    test = Test.objects.filter(owner__school=teacher.school, pk=int(number) if number.isdigit() else 0).first()
    if test is None or test.shared_at is None:
        raise NotFound(_("test on the shelf"))
    items = services.items_in(test)
    copies = {ref: own.copy(item) for ref, item in items.items()}
    sections = [
        section.model_copy(
            update={
                "entries": [
                    entry.model_copy(update={"ref": str(copies[entry.ref].pk)})
                    if isinstance(entry, PlacedItem)
                    else entry
                    for entry in section.entries
                ]
            }
        )
        for section in test.read().sections
    ]
    return _keep(teacher, test.title, test.instructions, test.read().model_copy(update={"sections": sections}))


def _entry(own: "_Own", at: int, entry: dict[str, Any]) -> PlacedItem | PlacedPage:
    if "page" in entry:
        return PlacedPage(page=TeachingPage(ref=f"{at:x}", **entry["page"]))
    item = own.item(read_content(entry["content"]), bank.Details(entry["skills"], author=OURS))
    return PlacedItem(ref=str(item.pk))


def _keep(teacher: Teacher, title: str, instructions: str, layout: Layout) -> Test:
    return services.keep_test(services.make_test(teacher, title), title, instructions, layout)


class _Own:
    """The teacher's bank while things are copied into it."""

    def __init__(self, teacher: Teacher) -> None:
        self.teacher = teacher
        self.stimuli: dict[object, object] = {}

    def item(self, content: ItemContent, details: bank.Details) -> Item:
        stored = content.model_dump(mode="json")
        same = next((item for item in self._alike(stored) if item.content == stored), None)
        return same or bank.make_item(self.teacher, content, details)

    def _alike(self, stored: dict[str, Any]) -> Iterable[Item]:
        return bank.items_of(self.teacher).filter(kind=stored["kind"], content__stem=stored["stem"])

    def copy(self, item: Item) -> Item:
        if item.owner_id == self.teacher.pk:
            return item
        details = bank.details_of(item)
        stimulus = None
        if item.stimulus is not None:
            new_stimulus = self.stimuli.get(item.stimulus.pk)
            if new_stimulus is None:
                new_stimulus = bank.make_stimulus(self.teacher, item.stimulus.title, item.stimulus.body).pk
                self.stimuli[item.stimulus.pk] = new_stimulus
            stimulus = new_stimulus
        return self.item(
            item.read(),
            bank.Details(details.skills, details.keywords, details.source, details.author or item.owner.name, stimulus),  # type: ignore[arg-type]
        )
