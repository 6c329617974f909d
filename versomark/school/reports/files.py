"""Typed tables as a response: the file, under a name that says what is in it."""

from collections.abc import Sequence
from typing import NamedTuple

from django.http import HttpResponse
from django.utils.text import slugify

from versomark.school.http import file_out

from .formats import TypedFormat, type_of, written_tables
from .report import Report
from .typed import TypedTable


class Words(NamedTuple):
    """What stands above the tables. about: class, day, and whatever tells one report from another."""

    title: str
    opening: str = ""
    about: str = ""


class Picture(NamedTuple):
    """A chart, as PNG, and what it shows to who cannot see it."""

    data: bytes
    says: str


def table_file(
    words: Words, tables: Sequence[TypedTable], form: TypedFormat, picture: Picture | None = None, documents: int = 1
) -> HttpResponse:
    """documents: how many of the tables a document to read has."""
    report = Report(
        words.title,
        words.opening,
        picture=picture.data if picture else None,
        pictured=picture.says if picture else "",
        about=words.about,
    )
    data = written_tables(report, tables, form, documents)
    return file_out(data, type_of(form), f"{slugify(words.title) or 'report'}.{'txt' if form == 'text' else form}")
