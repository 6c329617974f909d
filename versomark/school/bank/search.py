"""Finding items by typing: a full-text index beside the item table, kept in step by the bank's services.

It is the database's own: FTS5 on SQLite, a column of words with a GIN index on PostgreSQL. PostgreSQL's readers of text
know words of languages and addresses of the web; here a word is what stands between two things that are no letter and
no digit, so words are split and folded before they are handed over.
"""

import re
from collections.abc import Iterable, Sequence
from itertools import islice
from unicodedata import combining, normalize

from django.db import DEFAULT_DB_ALIAS, connections
from django.db.models import Max, QuerySet
from django.db.models.expressions import RawSQL

from .models import Item

MAKE_INDEX = (
    "CREATE VIRTUAL TABLE IF NOT EXISTS bank_fulltext USING fts5("
    "words, content='', contentless_delete=1, prefix='2 3', tokenize=\"unicode61 remove_diacritics 2\")"
)
MAKE_INDEX_BEFORE_3_43 = MAKE_INDEX.replace("content='', contentless_delete=1, ", "")
MAKE_INDEX_IN_POSTGRESQL = (
    "CREATE TABLE IF NOT EXISTS bank_fulltext (rowid bigint PRIMARY KEY, words tsvector NOT NULL)",
    "CREATE INDEX IF NOT EXISTS bank_fulltext_words ON bank_fulltext USING gin (words)",
)
MOST_WORDS = 8
LONGEST_WORD = 200
"""Letters; PostgreSQL takes words of 2,046 bytes."""


def _in_postgresql(using: str = DEFAULT_DB_ALIAS) -> bool:
    return connections[using].vendor == "postgresql"


def _words(text: str) -> list[str]:
    return re.findall(r"[^\W_]+", text.casefold())


def _folded(text: str) -> list[str]:
    """The words of a text without case and without marks on letters, each once."""
    bare = "".join(letter for letter in normalize("NFKD", text) if not combining(letter))
    return list(dict.fromkeys(word[:LONGEST_WORD] for word in _words(bare)))


def make_index(using: str = DEFAULT_DB_ALIAS) -> None:
    """The index table. On SQLite emptied tables without their text need 3.43; older ones keep a copy of it."""
    with connections[using].cursor() as cursor:
        if _in_postgresql(using):
            for statement in MAKE_INDEX_IN_POSTGRESQL:
                cursor.execute(statement)
            return
        cursor.execute("SELECT sqlite_version()")
        version = tuple(int(part) for part in cursor.fetchone()[0].split(".")[:2])
        cursor.execute(MAKE_INDEX if version >= (3, 43) else MAKE_INDEX_BEFORE_3_43)


def index(items: Iterable[Item]) -> None:
    """Bring the index in step with the words of these items. Inside the transaction that changes them."""
    items = list(items)
    if not items:
        return
    new = [item for item in items if item.index_row is None]
    last = Item.objects.aggregate(last=Max("index_row"))["last"] or 0
    for row, item in enumerate(new, start=last + 1):
        item.index_row = row
    Item.objects.bulk_update(new, ["index_row"], batch_size=500)
    _write(items, DEFAULT_DB_ALIAS)


def index_everything(using: str = DEFAULT_DB_ALIAS) -> None:
    """The index anew from the items of a database, which have their rows in it already."""
    with connections[using].cursor() as cursor:
        cursor.execute("DELETE FROM bank_fulltext")
    indexed = Item.objects.using(using).exclude(index_row=None).only("index_row", "words").order_by("pk")
    items = indexed.iterator(chunk_size=500)
    while batch := list(islice(items, 500)):
        _write(batch, using)


def _write(items: Sequence[Item], using: str) -> None:
    with connections[using].cursor() as cursor:
        # New rows too: what an emptied table left in the index must not stand in the way of a number used again.
        cursor.executemany("DELETE FROM bank_fulltext WHERE rowid = %s", [(item.index_row,) for item in items])
        if _in_postgresql(using):
            insert = "INSERT INTO bank_fulltext (rowid, words) VALUES (%s, array_to_tsvector(%s::text[]))"
            cursor.executemany(insert, [(item.index_row, _folded(item.words)) for item in items])
        else:
            insert = "INSERT INTO bank_fulltext (rowid, words) VALUES (%s, %s)"
            cursor.executemany(insert, [(item.index_row, item.words) for item in items])


def holding(items: QuerySet[Item], typed: str) -> QuerySet[Item]:
    """Those in which every typed word begins a word."""
    # One letter begins a word of nearly every question: it narrows nothing down and waits for the next.
    words = [word for word in _words(typed) if len(word) > 1 or word.isdigit()][:MOST_WORDS]
    if not words:
        return items
    # The index answers inside the query, so that a word in every item never becomes a list of twenty thousand numbers.
    if _in_postgresql():
        match = " & ".join(f"'{word}':*" for word in _folded(" ".join(words)))
        raw_sql = RawSQL("SELECT rowid FROM bank_fulltext WHERE words @@ %s::tsquery", [match])
    else:
        match = " ".join(f'"{word}"*' for word in words)
        raw_sql = RawSQL("SELECT rowid FROM bank_fulltext WHERE bank_fulltext MATCH %s", [match])
    return items.filter(index_row__in=raw_sql)
