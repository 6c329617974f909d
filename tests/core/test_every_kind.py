"""What every kind of item owes the rest of the product, whichever kinds there are (Hypothesis over the registry)."""

import json
from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.every_kind import ANY, CONTENTS, KEYED, right_answer, wrong_answer
from versomark.core.editions import BankItem, freeze, one_section
from versomark.core.items import ContentBase, read_content, read_response
from versomark.core.items.registry import ItemContent, ItemResponse, StudentItem
from versomark.core.scoring import ScoringOverrides, score, to_mark


def kinds_of(union: object) -> set[str]:
    return {model.model_fields["kind"].default for model in get_args(get_args(union)[0])}


def test_content_response_and_student_model_come_together_and_all_are_tested_here() -> None:
    assert kinds_of(ItemContent) == set(CONTENTS)
    # Of a test given elsewhere only marks are known: in no bank, and tested in test_marks_only.py.
    assert kinds_of(ItemResponse) == kinds_of(StudentItem) == {*CONTENTS, "marks_only"}


@given(ANY)
def test_it_survives_being_stored(content: ContentBase) -> None:
    assert read_content(json.loads(json.dumps(content.model_dump()))) == content
    assert content.problems() == []


@given(KEYED)
def test_the_right_answer_earns_all_the_wrong_one_nothing_and_none_is_not_given(content: ContentBase) -> None:
    right, wrong = right_answer(content), wrong_answer(content)
    assert content.score(right) == content.marks
    assert content.given(right)
    assert content.says(right)
    if content.kind == "several_answers" and getattr(content, "credit", "") == "each":
        assert content.score(wrong) == 0  # every option judged wrongly
    assert content.score(wrong) == 0
    assert content.score(None) == 0
    assert not content.given(None)
    assert content.key_words()


@given(KEYED)
def test_what_a_response_says_is_among_the_answers(content: ContentBase) -> None:
    answers = {answer.id: answer for answer in content.answers()}
    assert all(0 <= answer.points <= content.marks for answer in answers.values())
    for response in (right_answer(content), wrong_answer(content)):
        picks = content.picks(response)
        assert set(picks) <= set(answers)
        assert len(picks) <= 1 or not content.exclusive
    assert all(answers[pick].key for pick in content.picks(right_answer(content)))


@given(ANY)
def test_what_a_person_marks_waits_once_something_is_given(content: ContentBase) -> None:
    if content.marked_by == "person":
        waits = content.kind == "performance" or content.given(right_answer(content))
        assert (content.score(right_answer(content)) is None) == waits


@given(ANY)
def test_an_answer_of_another_kind_is_refused(content: ContentBase) -> None:
    other = "true_false" if content.kind != "true_false" else "ordering"
    with pytest.raises(ValueError, match="does not belong"):
        content.fits(read_response({"kind": other}))


SECRET = "tell-tale"


@given(ANY)
def test_a_student_gets_nothing_of_the_key_or_the_notes(content: ContentBase) -> None:
    stored = json.loads(json.dumps(content.model_dump()))
    stored["rationale"] = SECRET
    planted = read_content(_plant(stored))
    assert SECRET in planted.model_dump_json()
    assert SECRET not in planted.for_student().model_dump_json()


def _plant(part: object) -> object:
    """The same item with the tell-tale in every field that is the teacher's own."""
    hidden = ("idea_note", "remark", "accepted", "key_words")
    if isinstance(part, dict):
        return {
            name: ([SECRET] if isinstance(value, list) else SECRET) if name in hidden else _plant(value)
            for name, value in part.items()
        }
    return [_plant(inner) for inner in part] if isinstance(part, list) else part


@given(st.lists(ANY, min_size=1, max_size=6), st.data())
def test_a_paper_of_any_kinds_is_scored_item_by_item(contents: list[ContentBase], data: st.DataObject) -> None:
    bank = {f"{at:x}": BankItem(f"{at:x}", content) for at, content in enumerate(contents)}  # type: ignore[arg-type]
    edition = freeze("T", "", one_section(list(bank)), bank, lambda rule: [], seed=1)
    answered = {ref: right_answer(item.content) for ref, item in bank.items() if data.draw(st.booleans())}
    table = score(edition, {"1": answered})
    # What a person has to mark has no column before it is marked; where nothing was given, there is nothing to mark.
    keyed = [item for item in edition.items() if item.content.score(answered.get(item.ref)) is not None]
    assert [column.id for column in table.items] == [item.ref for item in keyed]
    assert [column.number for column in table.items] == [int(item.ref, 16) + 1 for item in keyed]
    assert table.points[0].tolist() == [item.content.marks if item.ref in answered else 0 for item in keyed]
    assert table.answered[0].tolist() == [item.ref in answered for item in keyed]

    waiting = {ref: seats for ref, seats in to_mark(edition, {"1": answered}).items() if seats}
    given = {ref: data.draw(st.integers(0, 8)) / 8 * bank[ref].content.marks for ref in waiting}
    marked = score(edition, {"1": answered}, judged=ScoringOverrides(marks={"1": given}))
    assert [column.id for column in marked.items] == list(bank)
    assert marked.totals[0] == pytest.approx(table.totals[0] + sum(given.values()))
    without = score(edition, {"1": answered}, leave_out=waiting, judged=ScoringOverrides(marks={"1": given}))
    assert [column.id for column in without.items] == [item.ref for item in keyed]


@pytest.mark.parametrize("marks", [0, 0.25, 100.5, -1, "many"])
def test_marks_are_halves_up_to_a_hundred(marks: object) -> None:
    with pytest.raises(ValueError):
        read_content({"kind": "true_false", "marks": marks})


@given(ANY)
def test_what_a_kind_says_of_its_key_its_guesses_and_its_parts(content: ItemContent) -> None:
    ids = content.part_ids()
    assert len(set(ids)) == len(ids)
    for answer in content.answers():
        keyed = content.keyed_to(answer.id)
        if keyed is not None:
            assert [other.id for other in keyed.answers() if other.points > 0] == [answer.id]
            assert keyed.model_copy(update={"key": content.key}) == content  # nothing else has changed
    assert content.keyed_to("no such answer") is None
    if content.guessed_of is not None:
        assert content.guessed_of == sum(answer.offered for answer in content.answers()) >= 2
