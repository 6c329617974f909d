"""Words in a language: plural forms, numbers, lists and names, against CLDR as another library has it; and every
message of every catalogue, filled."""

import pickle
import re
from datetime import datetime

import pytest
from babel.core import Locale
from babel.messages.catalog import Message
from babel.messages.pofile import read_po
from babel.numbers import format_decimal

from tests.catalogues import STUDENTS_ONLY, messages, problems, wanted
from versomark.core.language import (
    CATALOGUES,
    LANGUAGES,
    Text,
    _,
    _n,
    coefficient,
    either,
    in_figures,
    in_language,
    is_right_to_left,
    language,
    listed,
    moment,
)

OTHERS = [name for name in LANGUAGES if name != "en"]
FACT = re.compile(r"(?<!{){(\w+)}(?!})")


def catalogue(name: str) -> list[Message]:
    with (CATALOGUES / f"{name}.po").open("rb") as file:
        return [message for message in read_po(file, locale=name) if message.id]


def sides(message: Message) -> list[str]:
    return [message.id] if isinstance(message.id, str) else list(message.id)


def strings(message: Message) -> list[str]:
    return [message.string] if isinstance(message.string, str) else list(message.string)


@pytest.mark.parametrize("name", OTHERS)
def test_every_message_is_translated_and_says_the_same_facts(name: str) -> None:
    assert list(problems(name)) == []
    assert {message.id for message in catalogue(name)} == {message.id for message in wanted(name) if message.id}


@pytest.mark.parametrize("name", OTHERS)
def test_every_message_can_be_filled_for_every_number(name: str) -> None:
    with in_language(name):
        for message in catalogue(name):
            facts = dict.fromkeys({fact for side in sides(message) for fact in FACT.findall(side)}, "x")
            if isinstance(message.id, str):
                filled = [_(message.id, **facts)]
            else:
                filled = [_n(*message.id, count, **facts) for count in (0, 1, 2, 3, 11, 100, 2.5)]
            for words in filled:
                assert not FACT.search(words), message.id


@pytest.mark.parametrize("name", OTHERS)
def test_little_is_the_same_in_another_language(name: str) -> None:
    """What was copied instead of translated would stand here. Names, signs and abbreviations may be the same."""
    texts = [message for message in catalogue(name) if isinstance(message.id, str)]
    wordy = [message for message in texts if len(re.findall(r"[a-z]{3,}", FACT.sub("", message.id))) >= 3]
    assert len(wordy) > 100
    assert [message.id for message in wordy if message.id == message.string] == []


@pytest.mark.parametrize("name", sorted(STUDENTS_ONLY))
def test_arabic_has_no_latin_words_but_names_of_things(name: str) -> None:
    allowed = re.compile(
        r"apt-get|install|lib[\w-]+|[\d-]+|subset0|harfbuzz|Pango|PDF|per_second|burst|most_waiting|mine|T|F|a|b"
    )
    for message in catalogue(name):
        for text in strings(message):
            latin = re.findall(r"[A-Za-z][\w-]*", FACT.sub("", text))
            assert [word for word in latin if not allowed.fullmatch(word)] == [], message.id


def test_plural_forms_are_those_of_cldr() -> None:
    """The form that gettext picks for a number is the one that CLDR's rule names, as Babel's plural rules have it.
    Six in Arabic: zero, one, two, few (3 to 10), many (11 to 99), other."""
    places = {"zero": 0, "one": 1, "two": 2, "few": 3, "many": 4, "other": 5}
    rule = Locale.parse("ar").plural_form
    with in_language("ar"):
        marks = {count: _n("{value} mark", "{value} marks", count, value=count) for count in range(130)}
    forms = next(strings(message) for message in catalogue("ar") if "{value} mark" in sides(message))
    for count, words in marks.items():
        assert words == forms[places[rule(count)]].format(value=count)
    with in_language("es"):
        assert [_n("{value} mark", "{value} marks", count, value=count) for count in (0, 1, 2)] == [
            "0 puntos",
            "1 punto",
            "2 puntos",
        ]
    assert _n("{value} mark", "{value} marks", 0.5, value=in_figures(0.5)) == "0.5 marks"


@pytest.mark.parametrize(("name", "locale"), [("en", "en_GB"), ("es", "es")])
def test_numbers_are_written_as_cldr_has_them(name: str, locale: str) -> None:
    with in_language(name):
        for value in (0.5, 3, 12.25, -1.5):
            assert in_figures(value) == format_decimal(value, locale=locale)
        assert in_figures(None) == "–"
        # Ten thousand is not ten: the sign between thousands is the language's too.
        assert in_figures(10_000, ",") == format_decimal(10_000, locale=locale)


def test_a_coefficient_loses_its_nought_only_before_a_point() -> None:
    assert [coefficient(value) for value in (0.8, -0.25, 1.5)] == [".80", "-.25", "1.50"]
    with in_language("es"):
        assert [coefficient(value) for value in (0.8, -0.25)] == ["0,80", "-0,25"]


def test_lists_days_and_directions() -> None:
    at = datetime(2026, 9, 3, 9, 5)
    assert (listed(["a", "b", "c"]), either(["a", "b"]), listed([])) == ("a, b and c", "a or b", "")
    with in_language("es"):
        assert (listed(["a", "b", "c"]), either(["a", "b"])) == ("a, b y c", "a o b")
        assert moment(at).startswith("jue 3 sept")
        assert not is_right_to_left()
    with in_language("ar"):
        assert is_right_to_left()
        assert re.search(r"\d", moment(at))
        assert not re.search("[\u0660-\u0669]", moment(at))


def test_a_language_holds_inside_and_no_longer() -> None:
    with in_language("es"):
        with in_language("nothing of ours"):
            assert language() == "en"
        assert language() == "es"
    assert language() == "en"
    with pytest.raises(KeyError), in_language("es"):
        _("Question {number}: {problem}", number=3)


def test_a_sentence_knows_its_facts_in_every_language() -> None:
    with in_language("es"):
        text = _("Row {row} has two answers.", row=3)
    assert isinstance(text, Text)
    assert (str(text), text.template, text.facts) == (
        "La fila 3 tiene dos respuestas.",
        "Row {row} has two answers.",
        {"row": 3},
    )
    again = pickle.loads(pickle.dumps(text))
    assert (again, again.template, again.facts) == (text, text.template, text.facts)


def test_a_latin_name_keeps_its_order_in_an_arabic_sentence() -> None:
    """First strong isolates around it, U+2068 and U+2069 (Unicode Standard Annex 9); around Arabic names none."""
    with in_language("ar"):
        assert "\u2068Yara N.\u2069" in _("{name} is empty.", name="Yara N.")
        assert "\u2068" not in _("{name} is empty.", name="ليلى")
    assert "\u2068" not in _("{name} is empty.", name="Yara N.")


def test_what_the_code_says_is_found_in_code_and_templates() -> None:
    found = {message for message, _file in messages()}
    assert "End of the test" in found
    assert ("{value} mark", "{value} marks") in found
    assert "Cut along the dashed line and lay the right pile under the left one: then all sheets lie in order." in found
