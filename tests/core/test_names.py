"""Names on screens and in files: in the order of their script, and no two alike where both are seen.

The order of names in Han, Hangul and kana is common practice; the examples are from memory.
"""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from versomark.core.formats.class_lists import split_name
from versomark.core.names import Name, full_name, short_name, short_name_among


@pytest.mark.parametrize(
    ("line", "full", "short"),
    [
        ("Wren Okafor", "Wren Okafor", "Wren O."),
        ("de Vries, Bram", "Bram de Vries", "Bram V."),
        ("Suri", "Suri", "Suri"),
        ("王 小明", "王小明", "王小明"),
        ("王, 小明", "王小明", "王小明"),
        ("欧阳 娜娜", "欧阳娜娜", "欧阳娜娜"),
        ("김 민수", "김민수", "김민수"),
        ("佐藤 さくら", "佐藤さくら", "佐藤さくら"),
        ("Xiaoming Wang", "Xiaoming Wang", "Xiaoming W."),
        ("கவிதா செல்வன்", "கவிதா செல்வன்", "கவிதா செ."),
        ("Ольга Петрова", "Ольга Петрова", "Ольга П."),
    ],
)
def test_a_name_keeps_the_order_of_its_script(line: str, full: str, short: str) -> None:
    given_name, family_name = split_name(line)
    assert (full_name(given_name, family_name), short_name(given_name, family_name)) == (full, short)


def shown(*names: Name) -> list[str]:
    return [short_name_among(name, names[:at], names[at + 1 :]) for at, name in enumerate(names)]


def test_as_many_letters_as_it_takes_then_the_number_then_a_count() -> None:
    assert shown(Name("Wren", "Okafor"), Name("Wren", "Ortega"), Name("Ines", "Okafor")) == [
        "Wren Ok.",
        "Wren Or.",
        "Ines O.",
    ]
    assert shown(Name("Ann", "Lee"), Name("ann", "Leeds")) == ["Ann Lee", "ann Leed."]
    assert shown(Name("Uma", "Rao", "17"), Name("Uma", "Rao", "4"), Name("Uma", "Rao")) == [
        "Uma Rao 17",
        "Uma Rao 4",
        "Uma Rao (3)",
    ]
    assert shown(Name("小明", "王"), Name("小明", "王")) == ["王小明", "王小明 (2)"]


names = st.builds(
    Name,
    st.sampled_from(["Ann", "ann", "Zoë", "小明", "கவிதா"]),
    st.text(st.sampled_from("abABé\u0301 王செ-"), max_size=4).map(str.strip),
    st.sampled_from(["", "1", "2"]),
)


@given(st.lists(names, max_size=9))
def test_no_two_who_are_seen_together_are_shown_alike(several: list[Name]) -> None:
    assert len({entry.rstrip(".").casefold() for entry in shown(*several)}) == len(several)
