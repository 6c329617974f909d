"""Items in a table and skills in a framework: out and in again; and a simulated class that answers any kind."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.every_kind import ANY, CONTENTS
from versomark.core.formats.case import CaseSkill, read_case, write_case
from versomark.core.formats.items_table import HEADER, TableItem, looks_like_items, read_items, write_items
from versomark.core.formats.tables import Sheet
from versomark.core.formats.untrusted import UnreadableFileError
from versomark.core.items import ContentBase, ItemContent
from versomark.stand_ins.answers_of_any_kind import respond


def there_and_back(content: ItemContent) -> ItemContent | None:
    rows, _ = write_items([TableItem(0, content, ["One", "Two"], ["k"], "book", "me")])
    if len(rows) == 1:
        return None
    read = read_items(Sheet("s", rows))
    assert read.wrong == [], read.wrong
    (item,) = read.items
    assert (item.skills, item.keywords, item.source, item.author) == (["One", "Two"], ["k"], "book", "me")
    return item.content


@given(ANY)
def test_what_fits_a_row_comes_back_with_its_key(content: ItemContent) -> None:
    again = there_and_back(content)
    if again is None:
        assert content.kind not in ("single_choice", "several_answers", "true_false", "short_text")
        return
    assert again.kind == content.kind
    assert again.stem == content.stem
    assert again.marks == content.marks
    assert again.rationale == content.rationale
    assert again.key_words() == content.key_words()


@pytest.mark.parametrize(
    ("row", "column", "says"),
    [
        ({"question": "Q", "key": "E", "A": "1", "B": "2"}, "B", "not one of the options"),
        ({"question": "Q", "key": "", "A": "1", "B": "2"}, "B", "The key is missing."),
        ({"question": "Q", "key": "A", "A": "1"}, "", "at least two options"),
        ({"question": "Q", "key": "A", "A": "1", "B": "1"}, "A", "read the same"),
        ({"question": "Q", "key": "A+B", "A": "1", "B": "2", "kind": "single choice"}, "B", "one key"),
        ({"question": "Q", "key": "maybe", "kind": "true or false"}, "B", "neither true nor false"),
        ({"question": "Q", "key": "x", "kind": "numeric"}, "B", "not a number"),
        ({"question": "Q", "key": "x", "kind": "essay"}, "kind", "cannot stand in a table"),
        ({"question": "Q", "key": "true", "marks": "lots"}, "marks", "not a number of marks"),
    ],
)
def test_what_is_wrong_in_a_row_is_said_with_its_place(row: dict[str, str], column: str, says: str) -> None:
    heads = ["question", "key", *(head for head in HEADER if head not in ("question", "key"))]
    read = read_items(Sheet("s", [heads, [row.get(head, "") for head in heads]]))
    assert read.items == []
    (wrong,) = read.wrong
    assert says in wrong.says
    if len(column) == 1:
        assert wrong.column in ("A", "B")


def test_a_table_without_its_headings_is_no_table_of_items() -> None:
    assert not looks_like_items(Sheet("s", [["a", "b"]]))
    assert not looks_like_items(Sheet("s", []))
    assert "headings question and key" in read_items(Sheet("s", [["a"]])).wrong[0].says


NAMES = st.text("abc é", min_size=1, max_size=12).map(lambda name: " ".join(name.split())).filter(bool)


@given(st.lists(NAMES, min_size=1, max_size=8, unique=True), st.data())
def test_a_framework_we_wrote_is_read_the_same(names: list[str], data: st.DataObject) -> None:
    from datetime import UTC, datetime

    skills = [
        CaseSkill(
            f"id{at}",
            name,
            f"{name} in full",
            f"C{at}",
            f"id{data.draw(st.integers(0, at - 1))}" if at and data.draw(st.booleans()) else "",
        )
        for at, name in enumerate(names)
    ]
    title, read, lost = read_case(write_case("Mine", "Bay", skills, datetime(2026, 11, 23, tzinfo=UTC)))
    assert (title, lost) == ("Mine", [])
    assert sorted(read, key=lambda skill: skill.identifier) == sorted(skills, key=lambda skill: skill.identifier)
    order = [skill.identifier for skill in read]
    assert all(not skill.parent or order.index(skill.parent) < order.index(skill.identifier) for skill in read)


@pytest.mark.parametrize("data", [b"", b"[]", b"{}", b'{"CFItems": 3}', b"\xff\xfe", b"null"])
def test_what_is_no_framework_is_refused(data: bytes) -> None:
    with pytest.raises(UnreadableFileError):
        read_case(data)


@given(st.sampled_from(sorted(CONTENTS)).flatmap(lambda kind: CONTENTS[kind]), st.integers(0, 10**6))
def test_simulated_students_answer_every_kind_with_something_that_belongs_to_it(
    content: ContentBase, seed: int
) -> None:
    rng = np.random.default_rng(seed)
    response = respond(content, float(rng.normal()), 0.0, rng)  # type: ignore[arg-type]
    if response is not None:
        content.fits(response)
        assert content.given(response)
    assert content.kind in ("file", "performance") or any(
        respond(content, 9.0, 0.0, np.random.default_rng(n)) is not None
        for n in range(5)  # type: ignore[arg-type]
    )


@given(
    st.sampled_from(["single_choice", "numeric", "short_text", "gaps", "matching", "ordering"]).flatmap(
        CONTENTS.__getitem__
    )
)
@settings(max_examples=30)
def test_the_able_earn_more_than_the_others(content: ContentBase) -> None:
    def mean(ability: float) -> float:
        rng = np.random.default_rng(5)
        return float(np.mean([content.score(respond(content, ability, 0.0, rng)) or 0 for _ in range(60)]))  # type: ignore[arg-type]

    assert mean(3.0) > mean(-3.0)
