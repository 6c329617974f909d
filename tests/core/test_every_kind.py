"""What every kind of item owes the rest of the product, whichever kinds there are (Hypothesis over the registry)."""

import json
from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from versomark.core.editions import EditionItem, freeze
from versomark.core.items import ContentBase, Option, SingleChoice, TrueFalse, read_content, read_response
from versomark.core.items.registry import ItemContent, ItemResponse
from versomark.core.scoring import score

TEXT = st.text(min_size=1, max_size=30).filter(lambda text: text.strip())
MARKS = st.integers(1, 12).map(lambda halves: halves / 2)


@st.composite
def single_choice(draw: st.DrawFn) -> SingleChoice:
    count = draw(st.integers(2, 8))
    options = [Option(id=f"o{k}", text=f"{k} {draw(TEXT)}", idea_note=draw(st.text(max_size=20))) for k in range(count)]
    return SingleChoice(stem=draw(TEXT), options=options, key=f"o{draw(st.integers(0, count - 1))}", marks=draw(MARKS))


@st.composite
def true_false(draw: st.DrawFn) -> TrueFalse:
    return TrueFalse(stem=draw(TEXT), key=draw(st.booleans()), marks=draw(MARKS), idea_note=draw(st.text(max_size=20)))


CONTENTS = {"single_choice": single_choice(), "true_false": true_false()}
ANY = st.one_of(*CONTENTS.values())


def response_to(content: ContentBase, answer: str) -> ItemResponse:
    picked = {"single_choice": {"option": answer}, "true_false": {"value": answer == "true"}}[content.kind]
    return read_response({"kind": content.kind, **picked})


def kinds_of(union: object) -> set[str]:
    return {model.model_fields["kind"].default for model in get_args(get_args(union)[0])}


def test_content_and_response_come_in_pairs_and_all_are_tested_here() -> None:
    assert kinds_of(ItemContent) == kinds_of(ItemResponse) == set(CONTENTS)


@given(ANY)
def test_it_survives_being_stored(content: ContentBase) -> None:
    assert read_content(json.loads(json.dumps(content.model_dump()))) == content
    assert content.problems() == []


@given(ANY)
def test_scores_lie_between_nothing_and_its_marks_and_the_key_earns_all(content: ContentBase) -> None:
    earned = {answer.id: content.score(response_to(content, answer.id)) for answer in content.answers()}
    assert all(0 <= points <= content.marks for points in earned.values())
    assert [points for points in earned.values() if points] == [content.marks]
    assert {answer.id for answer in content.answers() if answer.key} == {i for i, points in earned.items() if points}
    assert content.score(None) == 0
    for answer in content.answers():
        assert content.chosen(response_to(content, answer.id)) == answer.id


@given(ANY)
def test_a_student_gets_the_question_and_nothing_that_tells_the_key(content: ContentBase) -> None:
    shown = content.for_student()
    assert set(shown.model_dump()) == {"kind", "stem", "marks", "options"}
    assert all(set(option) == {"id", "letter", "text"} for option in shown.model_dump()["options"])
    assert [option.letter for option in shown.options] == [answer.letter for answer in content.answers()]


@given(st.lists(ANY, min_size=1, max_size=6), st.data())
def test_a_paper_of_any_kinds_is_scored_item_by_item(contents: list[ContentBase], data: st.DataObject) -> None:
    items = [EditionItem(ref=f"{at:x}", content=content) for at, content in enumerate(contents)]  # type: ignore[arg-type]
    picks = [data.draw(st.sampled_from([None, *(a.id for a in content.answers())])) for content in contents]
    given_answers = {
        item.ref: response_to(item.content, pick) for item, pick in zip(items, picks, strict=True) if pick is not None
    }
    table = score(freeze("T", "", items), {"1": given_answers})
    expected = [
        content.score(response_to(content, pick) if pick else None)
        for content, pick in zip(contents, picks, strict=True)
    ]
    assert table.points[0].tolist() == expected
    assert table.answered[0].tolist() == [pick is not None for pick in picks]


@pytest.mark.parametrize("marks", [0, 0.25, 100.5, -1, "many"])
def test_marks_are_halves_up_to_a_hundred(marks: object) -> None:
    with pytest.raises(ValueError):
        read_content({"kind": "true_false", "marks": marks})
