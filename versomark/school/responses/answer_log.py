"""Adding to the log of answers: three statements of SQL, since a class that answers asks them a hundred times a second
and composing them anew takes Django longer than everything else about an answer."""

from collections.abc import Collection
from datetime import datetime
from json import dumps
from uuid import UUID

from django.db import connection
from django.utils import timezone

from versomark.core.items import ItemResponse

_KNOWN = "SELECT client_id FROM responses_answer WHERE seat_id = %s AND client_id IN ({})"
_ADD = """
INSERT INTO responses_answer (seat_id, client_id, sequence, item, response, come_back, kept_at, given_at, source)
VALUES (%s, %s, %s, %s, %s, %s, %s, %s, 'device') RETURNING id
"""
# Of two changes the one with the higher number stands, in whatever order they come.
_POINT = """
INSERT INTO responses_currentanswer (seat_id, item, answer_id) VALUES (%s, %s, %s)
ON CONFLICT (seat_id, item) DO UPDATE SET answer_id = excluded.answer_id
WHERE (SELECT sequence FROM responses_answer WHERE id = responses_currentanswer.answer_id) <= %s
"""


def known_of(seat_id: int, client_ids: Collection[UUID]) -> set[UUID]:
    """Which of these changes are in the log already."""
    with connection.cursor() as cursor:
        places = ", ".join(["%s"] * len(client_ids))
        cursor.execute(_KNOWN.format(places), [seat_id, *(entry.hex for entry in client_ids)])
        return {UUID(str(client_id)) for (client_id,) in cursor.fetchall()}


def add(
    seat_id: int,
    client_id: UUID,
    sequence: int,
    item: str,
    response: ItemResponse | None,
    come_back: bool,
    given_at: datetime | None = None,
) -> None:
    """Add what a device sent, and let it stand unless a later one does."""
    response_json = dumps(response.model_dump(mode="json")) if response else None
    # As Django writes a time into this database, so that all times compare.
    kept_at = connection.ops.adapt_datetimefield_value(timezone.now())
    given = connection.ops.adapt_datetimefield_value(given_at)
    with connection.cursor() as cursor:
        cursor.execute(_ADD, [seat_id, client_id.hex, sequence, item, response_json, come_back, kept_at, given])
        (answer_id,) = cursor.fetchone()
        cursor.execute(_POINT, [seat_id, item, answer_id, sequence])
