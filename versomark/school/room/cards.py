"""Folded cards in a lesson: pictures of the class are read, frames vote, and what they say is kept as answers.

The pictures themselves are kept nowhere.
"""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import NamedTuple

from django.db import transaction

from versomark.core.items import EditionContent
from versomark.core.language import N_, _, listed
from versomark.core.sheets.card_reading import CardSeen, CardTally, Doubt, find_cards
from versomark.core.sheets.cards import LETTERS, draw_cards
from versomark.core.sheets.images import BadScan, photo
from versomark.core.sheets.spec import Paper
from versomark.school.classes.public import SchoolClass
from versomark.school.delivery.public import Seat, SeatState, SittingState
from versomark.school.errors import DomainError

from .answers import by_letter, content_of, give, standing
from .models import Room, Round
from .services import current_round, is_collecting

AWAY = (SeatState.ABSENT, SeatState.EXCUSED)
_tallies: dict[tuple[int, datetime], CardTally] = {}
"""By round and when it was asked: votes that are not yet answers. What they have settled is on disk, so losing them
costs two frames."""
MOST_ROUNDS = 64


class CardsRead(NamedTuple):
    """What a picture showed and changed."""

    size: tuple[int, int]
    """Width and height of the picture, pixels."""
    seen: Sequence[CardSeen]
    counted: Mapping[int, str]
    """desk -> the question's letter, of all that count by now."""
    new: frozenset[int]
    """Desks whose answer this picture settled."""
    doubts: Mapping[int, str]
    """desk -> why it does not count, in words."""
    note: str
    """Why nothing is counted now; empty while it is."""


def print_cards(school_class: SchoolClass, paper: Paper) -> bytes:
    """A PDF of one card for every desk of a class. Refused, in words, where a desk number is too high."""
    desks = sorted(school_class.places.filter(left=False).values_list("desk", flat=True))
    try:
        return draw_cards(desks, paper)
    except ValueError as error:
        raise DomainError(str(error), status=422) from None


def card_letters(content: EditionContent) -> list[str] | None:
    """The question's letters that the card's A to D stand for, in their order; None where a card cannot say them."""
    letters = [answer.letter for answer in content.answers() if answer.offered and not answer.part]
    return letters if content.exclusive and 0 < len(letters) <= len(LETTERS) else None


def look(room: Room, data: bytes, still: bool) -> CardsRead:
    """Read one picture: a frame of a camera, or a still, which counts by itself."""
    try:
        grey = photo(data)
    except BadScan as problem:
        raise DomainError(str(problem), status=422) from None
    size = (grey.shape[1], grey.shape[0])
    seen = find_cards(grey)
    round = current_round(room) if room.sitting.state == SittingState.OPEN else None
    if round is None or not is_collecting(round):
        note = _("Collecting has stopped.") if round else _("Nothing is asked now.")
        return CardsRead(size, seen, {}, frozenset(), {}, note)
    content = content_of(room, round.item)
    letters = card_letters(content)
    if letters is None:
        return CardsRead(
            size, seen, {}, frozenset(), {}, _("A card shows one of A to D. This question needs another answer.")
        )
    seats = {seat.desk: seat for seat in room.sitting.seats.select_related("student") if seat.state not in AWAY}
    tally = _tally(round, frozenset(seats), LETTERS[: len(letters)])
    frame = tally.see(seen, still)
    says = {desk: letters[LETTERS.index(letter)] for desk, letter in tally.said.items()}
    _keep(round, content, {seats[desk]: says[desk] for desk in frame.counts})
    return CardsRead(size, seen, says, frozenset(frame.counts), doubts_in_words(round), "")


@transaction.atomic
def _keep(round: Round, content: EditionContent, letters: Mapping[Seat, str]) -> None:
    """What stands already is not given again: a server that was started anew counts from the beginning."""
    stands = standing([round])[round.pk] if letters else {}
    for seat, letter in letters.items():
        response = by_letter(content, letter)
        if seat.pk not in stands or stands[seat.pk].response != response:
            give(round.pk, seat.pk, response, source="card")


def _tally(round: Round, desks: frozenset[int], letters: str) -> CardTally:
    key = (round.pk, round.asked_at)
    if key not in _tallies:
        if len(_tallies) >= MOST_ROUNDS:
            _tallies.pop(next(iter(_tallies)))
        _tallies[key] = CardTally(desks, letters)
    _tallies[key].desks = desks
    return _tallies[key]


_WORDS: Mapping[Doubt, str] = {
    "two": N_("card shows {letters} at once"),
    "small": N_("card too far away to be sure"),
    "letter": N_("card shows {letters}, which is no answer here"),
    "nobody": N_("nobody has this desk number"),
}


def doubts_in_words(round: Round) -> dict[int, str]:
    """desk -> why its card does not count, in the round that is on."""
    tally = _tallies.get((round.pk, round.asked_at))
    doubts = tally.doubts if tally else {}
    return {desk: _(_WORDS[why], letters=listed(letters)) for desk, (why, letters) in doubts.items()}
