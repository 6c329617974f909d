"""Words in the reader's language: a template of the catalogue, filled with facts.

Code states a sentence in English and the facts that go into it; the sentence is made in the language that is in force
where it is asked for, which the edge sets (a request, a letter, a printed paper). What is made this way still knows its
template and its facts (`Text`), so that nothing needs to read it. English stands in the code, other languages in
`core/language/<code>.po`; `./verso words` keeps both in step.
"""

import re
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import date, datetime
from functools import cache
from gettext import GNUTranslations, NullTranslations
from io import BytesIO
from pathlib import Path
from typing import Final

from babel.core import Locale
from babel.dates import format_date as babel_date
from babel.dates import format_datetime as babel_datetime
from babel.lists import format_list
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po
from babel.numbers import format_decimal, get_decimal_symbol

CATALOGUES: Final = Path(__file__).parent / "catalogues"
ENGLISH: Final = "en"
LANGUAGES: Final = {"en": "English", "es": "Español", "ar": "العربية"}
"""What there are catalogues of, each by its own name."""
_LOCALES: Final = {"en": "en_GB", "es": "es", "ar": "ar"}
"""Digits are European in Arabic too, as marks lists and papers in the sciences have them."""
LATIN: Final = re.compile("[A-Za-z]")
_language: ContextVar[str] = ContextVar("language", default=ENGLISH)


class Text(str):
    """A sentence in one language that knows what it says: the template it was made of, in English, and its facts."""

    template: str
    facts: dict[str, object]

    def __new__(cls, words: str, template: str, facts: dict[str, object]) -> "Text":
        text = super().__new__(cls, words)
        text.template, text.facts = template, facts
        return text

    def __getnewargs__(self) -> tuple[str, str, dict[str, object]]:  # type: ignore[override]
        return str(self), self.template, self.facts


def N_(template: str) -> str:
    """Marks words that are stated once for all, when a module is loaded, for the catalogue: `_` makes them."""
    return template


def _(template: str, /, **facts: object) -> str:
    """Words of the catalogue, filled.

    Parameters
    ----------
    template : str
        English, with a name in braces for each fact.
    **facts
        What goes into the braces. A number is written as the language writes it.

    Returns
    -------
    Text
        In the language in force; in English where the catalogue has no such words.

    Raises
    ------
    KeyError
        The template names a fact that was not given.
    """
    words = _catalogue(_language.get()).gettext(template) if template else ""
    return Text(_filled(words, facts), template, facts)


def _n(singular: str, plural: str, count: float, /, **facts: object) -> str:
    """Words that depend on a number: Arabic has six ways, Spanish and English two."""
    # A half is “other” in every language that has a word for it; a hundred is too.
    whole = int(count) if count == int(count) else 100
    words = _catalogue(_language.get()).ngettext(singular, plural, whole)
    return Text(_filled(words, facts), plural, facts)


def _filled(words: str, facts: dict[str, object]) -> str:
    return words.format(**{name: _fact(value) for name, value in facts.items()})


def _fact(value: object) -> object:
    if isinstance(value, float):
        return str(value).replace(".", _point())
    if isinstance(value, str) and is_right_to_left() and LATIN.search(value):
        # First strong isolate: a name in Latin letters keeps its own order inside an Arabic sentence (UAX #9).
        return f"\u2068{value}\u2069"
    return value


def in_figures(value: float | None, form: str = "g") -> str:
    """A number by one of Python's formats, with the decimal sign of the language in force."""
    if value is None:
        return "–"
    text = format(value, form)
    if "," in form:
        return format_decimal(value, locale=_locale(_language.get()), numbering_system="latn")
    return text.replace(".", _point()) if _point() != "." else text


def coefficient(value: float) -> str:
    """As statisticians print it: `.80` where a point is written; after a comma the nought stays."""
    text = in_figures(value, ".2f")
    return text.replace("0.", ".", 1) if text.startswith(("0.", "-0.")) else text


def _point() -> str:
    return "." if _language.get() == ENGLISH else _decimal_sign(_language.get())


@cache
def _decimal_sign(language: str) -> str:
    return get_decimal_symbol(_locale(language), numbering_system="latn")


@cache
def _locale(language: str) -> Locale:
    return Locale.parse(_LOCALES.get(language, "en_GB"))


@cache
def _catalogue(language: str) -> NullTranslations:
    path = CATALOGUES / f"{language}.po"
    if language == ENGLISH or not path.exists():
        return NullTranslations()
    with path.open("rb") as file:
        compiled = BytesIO()
        write_mo(compiled, read_po(file, locale=language))
    compiled.seek(0)
    return GNUTranslations(compiled)


def language() -> str:
    """The language in force here."""
    return _language.get()


def is_right_to_left() -> bool:
    return _locale(_language.get()).text_direction == "rtl"


@contextmanager
def in_language(language: str) -> Iterator[None]:
    """Words are made in this language inside. A language that there is no catalogue of is English."""
    before = _language.set(language if language in LANGUAGES else ENGLISH)
    try:
        yield
    finally:
        _language.reset(before)


def listed(names: Sequence[str]) -> str:
    """`a`, `a and b`, `a, b and c`; empty for nothing."""
    return format_list(list(names), style="standard", locale=_locale(_language.get())) if names else ""


def either(names: Sequence[str]) -> str:
    """`a`, `a or b`, `a, b or c`; empty for nothing."""
    return format_list(list(names), style="or", locale=_locale(_language.get())) if names else ""


def day(at: date, form: str = "d MMM y") -> str:
    """A day by one of CLDR's patterns."""
    return babel_date(at, form, locale=_locale(_language.get()))


def moment(at: datetime, form: str = "EEE d MMM, HH:mm") -> str:
    """A moment in the time zone it carries, by one of CLDR's patterns."""
    return babel_datetime(at, form, tzinfo=at.tzinfo, locale=_locale(_language.get()))
