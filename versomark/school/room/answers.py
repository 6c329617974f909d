"""What students give in a round, by phone, pad, card or through the teacher, and what stands."""

from collections.abc import Iterable, Sequence
from typing import Literal, NamedTuple
from uuid import UUID, uuid4

from django.db import transaction

from versomark.core.editions import EditionItem
from versomark.core.items import EditionContent, ItemResponse, read_content, read_response
from versomark.core.items.by_rubric import FileResponse, WrittenResponse
from versomark.core.language import _
from versomark.core.stats import RoundAnswer as Said
from versomark.core.stats import RoundsCompared, compare_rounds
from versomark.school.delivery.public import GRACE, Seat, SeatState, Sitting, may_work, nudges, steady
from versomark.school.errors import DomainError, NotFound
from versomark.school.responses.public import CurrentAnswer, Source, keep_for

from .models import Room, Round, RoundAnswer
from .services import current_round, is_collecting


class Given(NamedTuple):
    """The answer of a seat that stands in a round."""

    response: ItemResponse
    source: str


def content_of(room: Room, ref: str) -> EditionContent:
    """The question behind a step, of the edition or made up on the spot."""
    if ref in room.quick:
        return read_content(room.quick[ref])
    item = edition_item(room, ref)
    if item is None:
        raise NotFound(_("question in this lesson"))
    return item.content


def edition_item(room: Room, ref: str) -> EditionItem | None:
    return next((item for item in room.sitting.edition.read().items() if item.ref == ref), None)


@transaction.atomic
def give(
    round_id: int, seat_id: int, response: ItemResponse | None, client_id: UUID | None = None, source: Source = "device"
) -> None:
    """Keep an answer; on disk when this returns. The same change again is acknowledged and changes nothing.

    Refused, in words, when the round does not collect, or the answer does not belong to its question.
    """
    rounds = Round.objects.select_related("room__sitting__edition").defer("room__sitting__edition__content")
    round = rounds.filter(pk=round_id).first()
    seat = Seat.objects.select_related("sitting", "student").filter(pk=seat_id).first()
    if round is None or seat is None or seat.sitting_id != round.room.sitting_id:
        raise NotFound(_("question in this lesson"))
    client_id = client_id or uuid4()
    if RoundAnswer.objects.filter(seat=seat, client_id=client_id).exists():
        return
    if source == "device":
        may_work(seat)
    _collects(round)
    content = content_of(round.room, round.item)
    if response is not None:
        _fits(content, response)
    RoundAnswer.objects.create(
        round=round,
        seat=seat,
        client_id=client_id,
        response=response.model_dump(mode="json") if response else None,
        source=source,
    )
    if seat.state != SeatState.WORKING:
        seat.state, seat.started_at = SeatState.WORKING, seat.started_at or steady.now()
        seat.ended_by_closing = False
        seat.save(update_fields=["state", "started_at", "ended_by_closing"])
    # What each thought before any talk is what the sitting's figures are about.
    if round.number == 1 and round.item not in round.room.quick:
        keep_for(seat, {round.item: response}, source)
    nudges.seat_changed(seat.sitting_id)


def _collects(round: Round) -> None:
    now = steady.now()
    if round.stopped_at is None and (round.ends_at is None or now <= round.ends_at + GRACE):
        return
    latest = current_round(round.room)
    if latest is not None and latest.pk != round.pk and is_collecting(latest):
        raise DomainError(_("Another question is on by now."), status=410)
    over = round.stopped_at is None
    raise DomainError(
        _("The time for this question is over.") if over else _("Your teacher has stopped collecting."), 410
    )


def _fits(content: EditionContent, response: ItemResponse) -> None:
    try:
        content.fits(response)
    except ValueError as error:
        raise DomainError(str(error), status=422) from None
    if isinstance(response, FileResponse) or (isinstance(response, WrittenResponse) and response.picture):
        raise DomainError(_("That cannot be handed in here."), status=422)


def standing(rounds: Iterable[Round], seat_id: int | None = None) -> dict[int, dict[int, Given]]:
    """round -> seat -> the answer that stands; of one seat where it is named."""
    result: dict[int, dict[int, Given]] = {round.pk: {} for round in rounds}
    rows = RoundAnswer.objects.filter(round__in=list(result)).order_by("pk")
    if seat_id is not None:
        rows = rows.filter(seat=seat_id)
    for round_id, seat, response, source in rows.values_list("round_id", "seat_id", "response", "source"):
        if response is None:
            result[round_id].pop(seat, None)
        else:
            result[round_id][seat] = Given(read_response(response), source)
    return result


def by_letter(content: EditionContent, letter: str) -> ItemResponse:
    """The response that a letter says, of a pad, a card, or the teacher; the letters are those on the wall."""
    letters = [answer.letter for answer in content.answers() if answer.offered]
    if letter.upper() not in letters:
        raise DomainError(_("There is no {value} here.", value=letter.upper() or "such letter"), status=422)
    return read_response(content.from_sheet(letter.upper()))


def by_text(content: EditionContent, text: str) -> ItemResponse:
    """The response that a pad says: a letter, several joined with `+`, or a number, as on an answer sheet."""
    letters = any(answer.offered for answer in content.answers())
    if letters and content.exclusive:
        return by_letter(content, text.strip())
    try:
        return read_response(content.from_sheet(text.strip().upper() if letters else text.strip()))
    except ValueError as error:
        raise DomainError(str(error), status=422) from None


class SpreadLine(NamedTuple):
    label: str
    text: str
    students: int
    right: bool


MOST_LINES = 8


def spread(content: EditionContent, given: Iterable[Given]) -> list[SpreadLine]:
    """How many gave which answer: each option that was offered, or else the answers in words, most frequent first."""
    responses = [entry.response for entry in given if content.given(entry.response)]
    offered = [answer for answer in content.answers() if answer.offered and not answer.part]
    if content.exclusive and offered:
        counts = {answer.id: 0 for answer in offered}
        for response in responses:
            for pick in content.picks(response):
                counts[pick] = counts.get(pick, 0) + 1
        return [SpreadLine(entry.letter, entry.text, counts[entry.id], entry.key) for entry in offered]
    responses_by_words: dict[str, list[ItemResponse]] = {}
    for response in responses:
        responses_by_words.setdefault(content.says(response), []).append(response)
    most = sorted(responses_by_words.items(), key=lambda one: (-len(one[1]), one[0]))
    lines = [SpreadLine("", words, len(same), is_right(content, same[0])) for words, same in most[:MOST_LINES]]
    rest = sum(len(same) for _, same in most[MOST_LINES:])
    return [*lines, *([SpreadLine("", _("other answers"), rest, False)] if rest else [])]


def is_right(content: EditionContent, response: ItemResponse) -> bool:
    """Whether it earns full marks; what a person marks is never right by itself."""
    return content.score(response) == content.marks


def compared(room: Room, before: Round, after: Round) -> RoundsCompared:
    content = content_of(room, before.item)
    result = standing([before, after])

    def said(given: dict[int, Given]) -> dict[str, Said]:
        return {
            str(seat): Said(in_short(content, round_answer), is_right(content, round_answer.response))
            for seat, round_answer in given.items()
        }

    return compare_rounds(said(result[before.pk]), said(result[after.pk]))


def in_short(content: EditionContent, given: Given) -> str:
    """The letter of what was chosen, or else the answer in words."""
    letters = {answer.id: answer.letter for answer in content.answers() if answer.offered and not answer.part}
    picks = content.picks(given.response)
    if content.exclusive and picks and picks[0] in letters:
        return letters[picks[0]]
    return content.says(given.response)


def keyed(content: EditionContent) -> bool:
    """Whether right and wrong can be told of it: a key, and for a quick question one that has been said."""
    return content.marked_by == "key" and (not content.answers() or any(answer.key for answer in content.answers()))


def first_rounds(rounds: Iterable[Round]) -> list[Round]:
    """Of each question the first: what each thought before any talk."""
    return [round for round in rounds if round.number == 1]


Which = Literal["first", "last"]
"""What each said before any talk, or what they said at last, in whichever round that was."""


def said_in_rounds(room: Room, which: Which) -> dict[int, dict[str, ItemResponse | None]]:
    """seat -> question of the edition that was asked -> what they said, None where they passed it over."""
    rounds = [
        round for round in room.rounds.all() if round.item not in room.quick and (which == "last" or round.number == 1)
    ]
    given = standing(rounds)
    asked = dict.fromkeys(round.item for round in rounds)
    result: dict[int, dict[str, ItemResponse | None]] = {}
    for round in rounds:
        for seat, answer in given[round.pk].items():
            result.setdefault(seat, dict(asked))[round.item] = answer.response
    return result


def not_asked(sittings: Iterable[Sitting]) -> dict[int, frozenset[str]]:
    """sitting -> the questions that a lesson did not come to: neither asked together nor answered at one's own pace.
    Sittings that are no lesson are not in it."""
    result = {}
    for room in Room.objects.filter(sitting__in=[sitting.pk for sitting in sittings]).select_related(
        "sitting__edition"
    ):
        asked = set(room.rounds.values_list("item", flat=True))
        alone = CurrentAnswer.objects.filter(seat__sitting=room.sitting_id, answer__response__isnull=False)
        asked |= set(alone.values_list("item", flat=True).distinct())
        refs = (item.ref for item in room.sitting.edition.read().items())
        result[room.sitting_id] = frozenset(ref for ref in refs if ref not in asked)
    return result


def last_rounds(rounds: Iterable[Round]) -> list[Round]:
    return list({round.item: round for round in rounds}.values())


def right_so_far(room: Room, rounds: Sequence[Round], seat_id: int | None = None) -> dict[int, tuple[int, int]]:
    """seat -> how many they had right of how many they answered, in those of these rounds whose answer was shown."""
    shown = [round for round in rounds if round.answer_shown]
    result: dict[int, tuple[int, int]] = {}
    by_round = standing(shown, seat_id)
    for round in shown:
        content = content_of(room, round.item)
        if not keyed(content):
            continue
        for seat, given in by_round[round.pk].items():
            right, asked = result.get(seat, (0, 0))
            result[seat] = (right + is_right(content, given.response), asked + 1)
    return result
