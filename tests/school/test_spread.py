"""The spread of a round, for any kind of question: it counts everybody once, and right is what earns full marks."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.every_kind import KEYED, right_answer, wrong_answer
from versomark.core.items import ItemContent, Option, SingleChoice, TrueFalse, read_response
from versomark.core.items.numeric import Numeric
from versomark.core.items.short_text import ShortText
from versomark.core.items.wording import Wording
from versomark.school.delivery import presence
from versomark.school.errors import DomainError
from versomark.school.room.answers import MOST_LINES, Given, by_letter, is_right, keyed, spread


@given(KEYED, st.integers(0, 9), st.integers(0, 9))
def test_everybody_is_counted_once_whatever_the_kind(content: ItemContent, right: int, wrong: int) -> None:
    given_ = [Given(right_answer(content), "device")] * right + [Given(wrong_answer(content), "pad")] * wrong
    lines = spread(content, given_)
    answered = sum(content.given(entry.response) for entry in given_)
    assert sum(line.students for line in lines) == answered
    assert sum(line.students for line in lines if line.right) == sum(
        is_right(content, entry.response) for entry in given_
    )
    assert keyed(content)
    offered = [answer for answer in content.answers() if answer.offered and not answer.part]
    if content.exclusive and offered:
        # What nobody chose is shown as well, in printed order.
        assert [line.label for line in lines] == [answer.letter for answer in offered]
        assert sum(line.right for line in lines) == sum(answer.key for answer in offered)


@given(st.lists(st.integers(0, 14), max_size=60))
def test_of_typed_answers_the_most_frequent_stand_first_and_the_rest_together(said: list[int]) -> None:
    content = Numeric(stem="How many?", value=3)
    lines = spread(content, [Given(read_response({"kind": "numeric", "text": str(n)}), "device") for n in said])
    named, rest = lines[:MOST_LINES], lines[MOST_LINES:]
    assert [line.students for line in named] == sorted((line.students for line in named), reverse=True)
    assert len(rest) <= 1
    assert sum(line.students for line in lines) == len(said)
    for line in named:
        assert line.students == said.count(int(line.text))
        assert line.right == (int(line.text) == 3)
    if rest:
        assert rest[0].text == "other answers"
        assert all(said.count(n) <= named[-1].students for n in {*said} - {int(line.text) for line in named})


def test_words_that_are_the_same_to_the_key_are_told_apart_as_typed() -> None:
    """Capitals are the student's; which of them are right is the key's to say."""
    content = ShortText(stem="What?", wording=Wording(accepted=["parallel"]))
    sentences = ["parallel", "Parallel", "series", "parallel"]
    lines = spread(
        content, [Given(read_response({"kind": "short_text", "text": text}), "device") for text in sentences]
    )
    assert [(line.text, line.students, line.right) for line in lines] == [
        ("parallel", 2, True),
        ("Parallel", 1, True),
        ("series", 1, False),
    ]


def test_letters_of_pads_cards_and_the_teacher() -> None:
    content = SingleChoice(stem="?", options=[Option(id=f"o{n}", text=f"{n}") for n in range(4)], key="o1")
    assert by_letter(content, "b").option == "o1"  # type: ignore[union-attr]
    assert is_right(content, by_letter(content, "B"))
    assert by_letter(TrueFalse(stem="?", key=False), "f").value is False  # type: ignore[union-attr]
    for letter in ("E", "", "1"):
        with pytest.raises(DomainError):
            by_letter(content, letter)
    with pytest.raises(DomainError):
        by_letter(ShortText(stem="?", wording=Wording(accepted=["x"])), "A")


def test_a_question_without_a_key_has_neither_right_nor_wrong() -> None:
    content = SingleChoice(stem="?", options=[Option(id="a", text=""), Option(id="b", text="")])
    assert not keyed(content)
    assert not is_right(content, by_letter(content, "A"))
    assert [line.right for line in spread(content, [Given(by_letter(content, "A"), "device")])] == [False, False]


def test_a_device_is_lost_when_its_last_socket_closes() -> None:
    """A reload opens the new socket before the old one is known to be closed."""
    seat = -7
    assert presence.lost_since(seat) is None
    presence.came(seat)
    presence.came(seat)
    presence.went(seat)
    assert presence.lost_since(seat) is None
    presence.went(seat)
    assert presence.lost_since(seat) is not None
    presence.came(seat)
    assert presence.lost_since(seat) is None
    presence.went(seat)
    presence.went(seat)
    assert presence.lost_since(seat) is not None
