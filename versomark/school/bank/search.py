"""Finding items by typing: SQLite's full-text index beside the item table, kept in step by the bank's services.

On a database without it the words column is searched instead: slower over a large bank, the same results.
"""

import re
from collections.abc import Iterable

from django.db import connection
from django.db.models import Max, Q, QuerySet
from django.db.models.expressions import RawSQL

from .models import Item

MAKE_INDEX = (
    "CREATE VIRTUAL TABLE IF NOT EXISTS bank_fulltext USING fts5("
    "words, content='', contentless_delete=1, prefix='2 3', tokenize=\"unicode61 remove_diacritics 2\")"
)
MAKE_INDEX_BEFORE_3_43 = MAKE_INDEX.replace("content='', contentless_delete=1, ", "")
MOST_WORDS = 8


def has_fulltext() -> bool:
    return connection.vendor == "sqlite"


def make_index() -> None:
    """The index table, on SQLite. Emptied tables without their text need SQLite 3.43; older ones keep a copy of it."""
    if not has_fulltext():
        return
    with connection.cursor() as cursor:
        cursor.execute("SELECT sqlite_version()")
        version = tuple(int(part) for part in cursor.fetchone()[0].split(".")[:2])
        cursor.execute(MAKE_INDEX if version >= (3, 43) else MAKE_INDEX_BEFORE_3_43)


def index(items: Iterable[Item]) -> None:
    """Bring the index in step with the words of these items. Inside the transaction that changes them."""
    items = list(items)
    if not has_fulltext() or not items:
        return
    new = [item for item in items if item.index_row is None]
    last = Item.objects.aggregate(last=Max("index_row"))["last"] or 0
    for row, item in enumerate(new, start=last + 1):
        item.index_row = row
    Item.objects.bulk_update(new, ["index_row"], batch_size=500)
    with connection.cursor() as cursor:
        # New rows too: what an emptied table left in the index must not stand in the way of a number used again.
        cursor.executemany("DELETE FROM bank_fulltext WHERE rowid = %s", [(item.index_row,) for item in items])
        cursor.executemany(
            "INSERT INTO bank_fulltext (rowid, words) VALUES (%s, %s)", [(item.index_row, item.words) for item in items]
        )


def holding(items: QuerySet[Item], typed: str) -> QuerySet[Item]:
    """Those in which every typed word begins a word."""
    # One letter begins a word of nearly every question: it narrows nothing down and waits for the next.
    words = [word for word in re.findall(r"[^\W_]+", typed.casefold()) if len(word) > 1 or word.isdigit()][:MOST_WORDS]
    if not words:
        return items
    if not has_fulltext():
        query = Q()
        for word in words:
            query &= Q(words__contains=word)
        return items.filter(query)
    match = " ".join(f'"{word}"*' for word in words)
    # The index answers inside the query, so that a word in every item never becomes a list of twenty thousand numbers.
    raw_sql = RawSQL("SELECT rowid FROM bank_fulltext WHERE bank_fulltext MATCH %s", [match])
    return items.filter(index_row__in=raw_sql)
