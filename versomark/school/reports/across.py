"""Tables wider than a page: how large they are printed, and where they are cut into parts with the names again."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from versomark.core.language import _

from .report import Table

MANY_COLUMNS = 7
ROOM = {False: 170.0, True: 257.0}
"""Millimetres between the margins of A4, upright and across."""
SIZES = (8.5, 7.5, 6.5)
"""Points; under the last nobody reads a list on a wall."""
LETTER = 0.19
"""Width of a letter in millimetres a point, of the typeface of the documents, digits and capitals mixed."""
PADDING = 2.0
LONGEST_NAME, LONGEST = 26, 40


@dataclass(frozen=True)
class Look:
    """size: of the type, in points. narrow: whether cells stand close together."""

    size: float
    narrow: bool
    room: float


def is_wide(tables: Sequence[Table]) -> bool:
    return any(len(table.heads) > MANY_COLUMNS for table in tables)


def look_of(table: Table, wide: bool) -> Look:
    """The largest type at which the table fits across the page; the smallest where it fits at none."""
    room = ROOM[wide]
    for size in SIZES:
        look = Look(size, len(table.heads) > 2 * MANY_COLUMNS, room)
        if sum(widths_of(table, look)) <= room:
            return look
    return look


def parts_across(table: Table, look: Look) -> Iterator[Table]:
    """The table, or parts of it each of which fits across the page, with the columns that name its rows."""
    widths = widths_of(table, look)
    names = min(table.names, len(table.heads) - 1)
    start = names
    if sum(widths) <= look.room or len(table.heads) <= MANY_COLUMNS:
        yield table
        return
    part = 0
    while start < len(widths):
        part += 1
        end, used = start + 1, sum(widths[:names]) + widths[start]
        while end < len(widths) and used + widths[end] <= look.room:
            used += widths[end]
            end += 1
        places = [*range(names), *range(start, end)]
        yield replace(
            table,
            caption=_("{caption}, part {part}", caption=table.caption, part=part),
            heads=[table.heads[at] for at in places],
            rows=[[row[at] for at in places] for row in table.rows],
            signs=frozenset(places.index(at) for at in table.signs if at in places),
            mastery=frozenset(places.index(at) for at in table.mastery if at in places),
        )
        start = end


def widths_of(table: Table, look: Look) -> list[float]:
    """Of each column in millimetres: its longest cell or the longest word of its head, at most a long name."""
    padding = PADDING * (0.6 if look.narrow else 1.0)

    def width(at: int) -> float:
        most = LONGEST_NAME if at < table.names else LONGEST
        # A head may be broken between its words, what stands below it is not.
        longest_word = max((len(word) for word in table.heads[at].split()), default=1)
        letters = max(longest_word, *(len(row[at].text) for row in table.rows), 1) if table.rows else longest_word
        return min(most, letters) * LETTER * look.size + padding

    return [width(at) for at in range(len(table.heads))]
