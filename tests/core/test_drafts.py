"""Two drafts of one text."""

from hypothesis import given
from hypothesis import strategies as st

from versomark.core.drafts import changed

word = st.sampled_from(["the", "current", "same", "தமிழ்", "is", "I=U/R"])
text = st.lists(word, max_size=30).map(" ".join)


@given(text, text)
def test_what_stayed_and_came_is_the_second_draft_and_what_stayed_and_went_the_first(before: str, after: str) -> None:
    passages = changed(before, after)
    assert " ".join(entry.words for entry in passages if entry.fate != "gone") == after
    assert " ".join(entry.words for entry in passages if entry.fate != "new") == before
    if before == after:
        assert {entry.fate for entry in passages} <= {"same"}
