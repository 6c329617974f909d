"""The lines between a receiver of pads and the service: what comes back is what was said, and nonsense is told so."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from versomark.core.formats.pad_lines import (
    Asking,
    Heard,
    Hello,
    Kept,
    Press,
    Refused,
    Waiting,
    Welcome,
    read_line,
    read_reply,
    write_line,
)

SHORT = st.text(max_size=40)
PADS = st.integers(1, 99_999)
SAID = st.one_of(
    st.builds(Hello, key=SHORT, receiver=SHORT),
    st.builds(Heard, pad=PADS, battery=st.none() | st.integers(0, 100)),
    st.builds(Press, pad=PADS, answer=SHORT, id=SHORT, round=st.none() | st.integers(1), battery=st.none()),
)
REPLIES = st.one_of(
    st.builds(Welcome, teacher=SHORT),
    st.builds(Asking, round=st.integers(1), answers=st.lists(SHORT, max_size=8), several=st.booleans()),
    st.just(Waiting()),
    st.builds(Kept, pad=PADS, id=SHORT),
    st.builds(Refused, why=SHORT, pad=st.none() | PADS, id=SHORT),
)


@given(SAID, REPLIES, st.dictionaries(st.text(st.characters(categories=["Ll"]), min_size=8), SHORT, max_size=3))
def test_a_line_is_one_json_object_and_comes_back(said: Heard, reply: Kept, more: dict[str, str]) -> None:
    line = write_line(said)
    assert line.endswith(b"\n")
    assert line.count(b"\n") == 1
    assert read_line(line) == said
    assert read_reply(write_line(reply)) == reply
    # A receiver of a later version may say more.
    assert read_line(json.dumps(json.loads(line) | more | {"say": said.say}).encode()) == said


@pytest.mark.parametrize(
    ("line", "why"),
    [
        (b"", "Invalid JSON"),
        (b"press 7 B", "Invalid JSON"),
        (b"[1]", "should be an object"),
        (b'{"pad": 7}', "say"),
        (b'{"say": "sing"}', "sing"),
        (b'{"say": "press", "pad": 0, "answer": "B"}', "pad: Input should be greater"),
        (b'{"say": "press", "pad": 7}', "answer: Field required"),
        (b'{"say": "heard", "pad": 7, "battery": 101}', "battery: Input should be less"),
        (b'{"say": "press", "pad": 7, "answer": "\xff"}', "Invalid JSON"),
    ],
)
def test_what_is_no_line_is_told_in_words(line: bytes, why: str) -> None:
    with pytest.raises(ValueError, match=why):
        read_line(line)
