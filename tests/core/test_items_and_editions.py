import pytest
from hypothesis import given
from hypothesis import strategies as st

from versomark.core.editions import BankItem, Edition, NotReady, one_section, student_paper
from versomark.core.editions import freeze as freeze_layout
from versomark.core.items import (
    Option,
    SingleChoice,
    SingleChoiceResponse,
    TrueFalse,
    TrueFalseResponse,
    read_content,
    read_response,
)
from versomark.core.scoring import score

LAMPS = SingleChoice(
    stem="Which is brightest?",
    options=[
        Option(id="x1", text="P", idea_note="current is used up"),
        Option(id="x2", text="Q"),
        Option(id="x3", text="R"),
    ],
    key="x2",
    marks=2,
)
LOOP = TrueFalse(stem="Current is the same all round a loop.", key=True, idea_note="current is used up")


def item(ref: str, content: SingleChoice | TrueFalse) -> BankItem:
    return BankItem(ref=ref, content=content, skills=("Current",))


def freeze(title: str, instructions: str, items: list[BankItem]) -> Edition:
    bank = {item.ref: item for item in items}
    return freeze_layout(title, instructions, one_section([i.ref for i in items]), bank, lambda rule: [], seed=1)


def test_scores() -> None:
    assert LAMPS.score(SingleChoiceResponse(option="x2")) == 2
    assert LAMPS.score(SingleChoiceResponse(option="x1")) == 0
    assert LAMPS.score(SingleChoiceResponse(option=None)) == 0
    assert LAMPS.score(None) == 0
    assert LOOP.score(TrueFalseResponse(value=True)) == 1
    assert LOOP.score(TrueFalseResponse(value=False)) == 0


def test_a_response_of_another_kind_or_option_is_refused() -> None:
    with pytest.raises(ValueError, match="does not belong"):
        LAMPS.score(TrueFalseResponse(value=True))
    with pytest.raises(ValueError, match="not part of this question"):
        LAMPS.score(SingleChoiceResponse(option="x9"))
    with pytest.raises(ValueError, match="does not belong"):
        LOOP.score(SingleChoiceResponse(option="x1"))


def test_an_unfinished_question_says_all_that_is_missing() -> None:
    draft = SingleChoice(options=[Option(id="a", text="Same"), Option(id="b"), Option(id="c", text=" same ")])
    assert draft.problems() == [
        "The question has no text yet.",
        "Option B is empty.",
        "Options A and C read the same.",
        "No option is marked as the key.",
    ]
    assert TrueFalse(stem="x").problems() == ["Neither true nor false is marked as the key."]


@pytest.mark.parametrize(
    "stored",
    [
        {"kind": "single_choice", "options": [{"id": "a"}]},
        {"kind": "single_choice", "options": [{"id": "a"}, {"id": "a"}]},
        {"kind": "single_choice", "options": [{"id": "a"}, {"id": "b"}], "key": "c"},
        {"kind": "single_choice", "options": [{"id": str(n)} for n in range(9)]},
        {"kind": "true_false", "marks": 0},
        {"kind": "true_false", "marks": 0.3},
        {"kind": "true_false", "surprise": 1},
        {"kind": "essay"},
    ],
)
def test_unsound_content_is_refused(stored: dict[str, object]) -> None:
    with pytest.raises(ValueError):
        read_content(stored)


def test_freezing_lists_every_problem_at_once() -> None:
    with pytest.raises(NotReady) as refused:
        freeze(" ", "", [item("1", LAMPS), item("2", TrueFalse()), item("1", LAMPS)])
    assert refused.value.problems == [
        "The test has no title yet.",
        "Question 2: The statement has no text yet.",
        "Question 2: Neither true nor false is marked as the key.",
        "Question 3 stands in the test twice.",
    ]


@given(st.sampled_from(["x1", "x2", "x3"]), st.booleans(), st.text(min_size=1, max_size=40))
def test_what_students_receive_does_not_depend_on_the_key(key: str, truth: bool, note: str) -> None:
    one = freeze("T", "", [item("1", LAMPS), item("2", LOOP)])
    changed = LAMPS.model_copy(
        update={"key": key, "options": [*LAMPS.options[:2], Option(id="x3", text="R", idea_note=note)]}
    )
    other = freeze("T", "", [item("1", changed), item("2", LOOP.model_copy(update={"key": truth, "idea_note": note}))])
    assert student_paper(one).model_dump_json() == student_paper(other).model_dump_json()
    assert one.fingerprint() != other.fingerprint() or (one == other)


def test_a_sitting_is_scored_in_seat_order() -> None:
    edition = freeze("T", "", [item("1", LAMPS), item("2", LOOP)])
    given_answers = {
        "7": {"1": read_response({"kind": "single_choice", "option": "x2"}), "2": TrueFalseResponse(value=False)},
        "8": {},
    }
    table = score(edition, given_answers)
    assert table.students == ("7", "8")
    assert table.points.tolist() == [[2, 0], [0, 0]]
    assert table.choice.tolist() == [[1, 1], [-1, -1]]
    assert table.max_total == edition.total_marks == 3
    assert [option.idea_note for option in table.items[1].options] == ["", "current is used up"]
