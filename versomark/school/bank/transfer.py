"""Questions and skills to and from other systems: what an import would do is said first, then done in one go."""

import io
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from uuid import NAMESPACE_URL, uuid5

from django.db import transaction
from django.utils import timezone

from versomark.core.formats import case, items_table, qti
from versomark.core.formats.tables import read_tables
from versomark.core.formats.untrusted import UnreadableFileError
from versomark.core.items import ItemContent
from versomark.core.language import _
from versomark.core.text import pictures as pictures_in
from versomark.core.text import plain
from versomark.school.accounts.public import Teacher
from versomark.school.errors import DomainError
from versomark.school.files import here

from . import pictures, services
from .models import Item, Picture, Skill

NOT_YET = "/pictures/00000000-0000-4000-8000-000000000000"
"""Stands for a picture that an import would keep, while it is only looked at."""
SHEET_TYPE = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@dataclass
class BroughtItem:
    """An item of a file and what becomes of it: `new`, or `same` as one in the bank."""

    place: str
    words: str
    kind: str
    outcome: str
    lost: list[str]
    content: ItemContent
    details: services.Details


@dataclass
class Brought:
    items: list[BroughtItem] = field(default_factory=list)
    wrong: list[tuple[str, str]] = field(default_factory=list)
    """(place, why) of what cannot be read."""
    lost: list[str] = field(default_factory=list)
    """What the file says beside its questions that does not come in."""


def look(teacher: Teacher, name: str, data: bytes) -> Brought:
    """What bringing a file in would make. Keeps nothing. NotPossible when the file as a whole cannot be read."""

    def address(picture: bytes) -> str:
        known = pictures.known_picture(teacher, picture)
        return f"/pictures/{known.pk}" if known else NOT_YET

    return _read(teacher, name, data, address)


@transaction.atomic
def bring(teacher: Teacher, name: str, data: bytes, without_wrong: bool) -> Brought:
    """Make what `look` says. Refused as a whole while something is wrong, unless that is to be left out."""
    preview = look(teacher, name, data)
    if preview.wrong and not without_wrong:
        problems = [f"{place}: {says}" for place, says in preview.wrong]
        raise DomainError(_("Some questions cannot be read. Nothing was brought in."), problems=problems)

    def address(picture: bytes) -> str:
        return f"/pictures/{pictures.keep_picture(teacher, '', picture).pk}"

    brought = _read(teacher, name, data, address)
    for item in brought.items:
        if item.outcome == "new":
            services.make_item(teacher, item.content, item.details)
    return brought


def _read(teacher: Teacher, name: str, data: bytes, address: Callable[[bytes], str]) -> Brought:
    brought = Brought()
    try:
        if name.casefold().endswith((".zip", ".xml")) or data.startswith(b"<"):
            _read_qti(qti.open_package(data), address, brought)
        else:
            _read_table(name, data, brought)
    except UnreadableFileError as error:
        raise DomainError(str(error), status=422) from None
    there = _prints(services.items_of(teacher).values_list("content", flat=True))
    for item in brought.items:
        print_ = _print(item.content.model_dump(mode="json"))
        item.outcome = "same" if print_ in there else "new"
        there.add(print_)
    return brought


def _prints(contents: Iterable[dict[str, object]]) -> set[str]:
    return {_print(content) for content in contents}


def _print(content: dict[str, object]) -> str:
    return repr(sorted(content.items()))


def _read_qti(packed: qti.OpenedPackage, address: Callable[[bytes], str], brought: Brought) -> None:
    brought.lost = packed.lost
    for item in packed.items:
        place = item.path or _("the item")
        addresses, lost = (
            dict[str, str](),
            [_("the picture {path} is not in the package", path=path) for path in item.missing],
        )
        for path, picture in item.pictures.items():
            try:
                addresses[path] = address(picture)
            except DomainError as error:
                lost.append(f"{path}: {error.message}")
        try:
            read = item.read(addresses)
        except UnreadableFileError as error:
            brought.wrong.append((place, str(error)))
            continue
        words = plain(read.content.stem) or read.title
        # What is missing is said once, whoever noticed it.
        lost = list(dict.fromkeys([*lost, *read.lost]))
        brought.items.append(
            BroughtItem(place, words[:200], read.content.kind, "new", lost, read.content, services.Details(item.skills))
        )


def _read_table(name: str, data: bytes, brought: Brought) -> None:
    for sheet in read_tables(name, data):
        read = items_table.read_items(sheet)
        for item in read.items:
            details = services.Details(item.skills, item.keywords, item.source, item.author)
            words = plain(item.content.stem)[:200]
            brought.items.append(
                BroughtItem(
                    _("line {line}", line=item.line), words, item.content.kind, "new", [], item.content, details
                )
            )
        brought.wrong += [
            (
                (
                    _("line {line}, column {column}", line=w.line, column=w.column)
                    if w.column
                    else _("line {line}", line=w.line)
                ),
                w.says,
            )
            for w in read.wrong
        ]


def send_qti(title: str, sections: Sequence[tuple[str, Sequence[Item]]]) -> tuple[bytes, list[qti.Unsent]]:
    """A QTI 3.0 package of these questions, and what it could not say."""
    sent = [
        qti.SentSection(
            name,
            [
                qti.SentItem(f"item-{item.pk}", item.read(), [skill.name for skill in item.skills.all()])
                for item in items
            ],
        )
        for name, items in sections
    ]
    used = {id for section in sent for item in section.items for id in _picture_ids(item.content)}
    left = [
        qti.Unsent(plain(item.read().stem)[:120], [_("the passage it is asked about")])
        for _first, items in sections
        for item in items
        if item.stimulus_id is not None
    ]
    results = {}
    for picture in Picture.objects.filter(pk__in=used):
        path = pictures.path_of(picture)
        if here(path):
            results[str(picture.pk)] = (f"{picture.pk}.{picture.format}", path.read_bytes())
    data, unsent = qti.write_package(title, sent, results)
    return data, [*left, *unsent]


def _picture_ids(content: ItemContent) -> list[str]:
    own = getattr(content, "picture", None)
    return [*([own] if own else []), *(id for text in content.texts() for id in pictures_in(text))]


def send_table(items: Sequence[Item]) -> tuple[bytes, list[str]]:
    """A workbook of these questions, and what a table could not say."""
    from openpyxl import Workbook

    table = [
        items_table.TableItem(
            0, item.read(), [skill.name for skill in item.skills.all()], item.keywords, item.source, item.author
        )
        for item in items
    ]
    rows, lost = items_table.write_items(table)
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = _("Questions")
    for row in rows:
        sheet.append([f"'{cell}" if cell[:1] in ("=", "@") else cell for cell in row])
    sheet.freeze_panes = "C2"
    out = io.BytesIO()
    book.save(out)
    return out.getvalue(), lost


@dataclass(frozen=True)
class BroughtSkills:
    title: str
    new: list[str]
    changed: list[str]
    same: int
    lost: list[str]


@transaction.atomic
def bring_skills(teacher: Teacher, data: bytes, only_look: bool) -> BroughtSkills:
    """The skills of a CASE framework into the teacher's tree; found again by identifier, else by name."""
    try:
        title, results, lost = case.read_case(data)
    except UnreadableFileError as error:
        raise DomainError(str(error), status=422) from None
    own = list(services.skills_of(teacher))
    by_identifier = {_identifier(skill): skill for skill in own}
    by_name = {skill.name: skill for skill in own}
    new, changed, same = list[str](), list[str](), 0
    for skill in results:
        known = by_identifier.get(skill.identifier) or by_name.get(skill.name)
        name = skill.name
        if known is None and name in by_name:
            name = f"{skill.code} {name}"[: case.LONGEST_NAME]
        parent = by_identifier.get(skill.parent)
        # A statement that is the name again says nothing more.
        statement = "" if skill.statement == skill.name else skill.statement
        wanted = (skill.code, statement, skill.identifier, parent.pk if parent else None)
        if known is None:
            known = Skill(owner=teacher, name=name)
            new.append(name)
        elif wanted == (known.code, known.statement, _identifier(known), known.parent_id):
            same += 1
        else:
            changed.append(known.name)
        known.code, known.statement, known.identifier, known.parent = skill.code, statement, skill.identifier, parent
        known.save()
        by_identifier[skill.identifier], by_name[known.name] = known, known
    if only_look:
        transaction.set_rollback(True)
    return BroughtSkills(title, new, changed, same, lost)


def _identifier(skill: Skill) -> str:
    """The framework's own, or one made of ours, by which the skill is known when it comes back."""
    return skill.identifier or str(uuid5(NAMESPACE_URL, f"verso:skill:{skill.pk}"))


def send_skills(teacher: Teacher) -> bytes:
    """The teacher's skills as a CASE package."""
    own = list(services.skills_of(teacher))
    by_pk = {skill.pk: skill for skill in own}
    sent = [
        case.CaseSkill(
            _identifier(skill),
            skill.name,
            skill.statement,
            skill.code,
            _identifier(by_pk[skill.parent_id]) if skill.parent_id in by_pk else "",
        )
        for skill in own
    ]
    return case.write_case(_("Skills of {name}", name=teacher.name), teacher.school.name, sent, timezone.now())
