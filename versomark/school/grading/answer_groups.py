"""Same answers together: what was typed to a question with a key, judged once for all who typed it."""

from collections.abc import Sequence
from typing import NamedTuple
from uuid import UUID

from django.db import transaction
from django.utils import timezone
from pydantic import ValidationError

from versomark.core.editions import EditionItem
from versomark.core.items import read_content
from versomark.core.language import _
from versomark.core.scoring import Alike, same_answers
from versomark.core.text import plain
from versomark.school.accounts.public import Teacher
from versomark.school.bank.public import Item, details_of, items_of, keep_item, keep_version
from versomark.school.delivery.public import EventKind, SeatState, Sitting, record
from versomark.school.errors import DomainError, NotFound
from versomark.school.responses.public import responses_of

from .models import GroupMark
from .queries import shares_in
from .services import number_of


class Answer(NamedTuple):
    """One answer by what it is compared by."""

    part: str
    compared: str


def typed_items(sitting: Sitting) -> dict[str, EditionItem]:
    """The questions in which something is typed that a key judges, in printed order."""
    return {
        item.ref: item
        for item in sitting.edition.read().items()
        if item.content.marked_by == "key" and item.content.compares()
    }


def typed_item(sitting: Sitting, ref: str) -> EditionItem:
    edition_item = typed_items(sitting).get(ref)
    if edition_item is None:
        raise NotFound(_("question with typed answers"))
    return edition_item


def groups_of(sitting: Sitting, ref: str) -> list[Alike]:
    """Of all who have handed in; names are seats."""
    content = typed_item(sitting, ref).content
    seats = list(sitting.seats.filter(state=SeatState.HANDED_IN).order_by("desk").values_list("pk", flat=True))
    given = {seat: answers[ref] for seat, answers in responses_of(seats).items() if ref in answers}
    return same_answers(content, given, shares_in(sitting).get(ref, {}))


@transaction.atomic
def judge(by: Teacher, sitting: Sitting, ref: str, answers: Sequence[Answer], share: float | None) -> None:
    """Everybody who typed one of these gets this share of the part's marks; None leaves it to the key again."""
    known = {
        Answer(answer.part, answer.compared): answer for group in groups_of(sitting, ref) for answer in group.answers
    }
    if any(answer not in known for answer in answers):
        raise NotFound(_("answer"))
    number = number_of(sitting, ref)
    for answer in dict.fromkeys(answers):
        answer_group = known[answer]
        if (share is None and not answer_group.judged) or (answer_group.judged and answer_group.share == share):
            continue
        open_now = GroupMark.objects.filter(sitting=sitting, item=ref, taken_back_at=None, **answer._asdict())
        open_now.update(taken_back_at=timezone.now())
        if share is not None:
            GroupMark.objects.create(sitting=sitting, item=ref, share=share, by=by, **answer._asdict())
        record(
            sitting,
            by,
            EventKind.ANSWER_JUDGED,
            number=number,
            typed=answer_group.typed[0][:80],
            students=len(answer_group.names),
            marks=None if share is None else share * answer_group.marks,
            of=answer_group.marks,
        )


def for_the_key(sitting: Sitting, ref: str) -> list[Answer]:
    """Answers judged fully right that the key does not know yet, where a key can list them."""
    content = typed_item(sitting, ref).content
    return [
        Answer(answer.part, answer.compared)
        for group in groups_of(sitting, ref)
        for answer in group.answers
        if answer.judged
        and answer.share >= 1 > answer.by_key
        and content.accepting(answer.part, [answer.typed[0]]) is not None
    ]


@transaction.atomic
def into_the_key(by: Teacher, sitting: Sitting, ref: str) -> list[str]:
    """Add them to the question in the bank, for the next time; this sitting stays as it was judged. What was added."""
    item = items_of(by).filter(pk=UUID(ref)).first() if typed_item(sitting, ref).content.in_bank else None
    if item is None:
        raise DomainError(_("The question is not in your bank, so its key cannot be changed there."))
    wanted = set(for_the_key(sitting, ref))
    if not wanted:
        raise DomainError(_("Every answer that you judged right is in the key already."))
    return _accept(item, sitting, ref, wanted)


def _accept(item: Item, sitting: Sitting, ref: str, wanted: set[Answer]) -> list[str]:
    content, added = item.read(), list[str]()
    for group in groups_of(sitting, ref):
        for answer in group.answers:
            if Answer(answer.part, answer.compared) in wanted:
                changed = content.accepting(answer.part, [answer.typed[0]])
                if changed is None:
                    raise DomainError(_("{value} has another kind of key now.", value=plain(content.stem)[:60]))
                content = changed
                added.append(answer.typed[0])
    try:
        sound = read_content(content.model_dump(mode="json"))
    except ValidationError:
        raise DomainError(_("The key of this question can take no more answers.")) from None
    keep_version(item, _("before accepted answers were added: {list}", list=", ".join(added)))
    keep_item(item, sound, details_of(item), item.revision)
    return added
