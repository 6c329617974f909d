"""What no keyboard sends: control characters, halves of a pair, addresses that nothing has. Nothing of it breaks what
is written out later, and every refusal has the same body."""

import io
import zipfile
from base64 import b64decode
from typing import Any
from xml.etree import ElementTree

import pytest
from django.test import Client
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import Staffroom
from tests.school.test_teacher_side import send
from versomark.core.formats.mail_address import is_mail_address
from versomark.site.clean_bodies import cleaned

NOT_IN_XML = st.sampled_from(
    [*map(chr, range(9)), "\x0b", "\x0c", "\x1f", "\x7f", "\ud800", "\udfff", "\ufffe", "\uffff"]
)


@given(st.lists(st.one_of(st.text(st.characters(codec="utf-8", exclude_categories=["Cc"])), NOT_IN_XML), max_size=8))
def test_what_is_left_is_all_that_xml_can_hold_and_nothing_else_is_lost(parts: list[str]) -> None:
    (left,) = cleaned(["".join(parts)])
    ElementTree.fromstring(f"<a>{left.replace('&', '&amp;').replace('<', '&lt;')}</a>".encode())
    assert left == "".join(part for part in "".join(parts) if part not in "\x7f\ufffe\uffff" and not _is_odd(part))


def _is_odd(letter: str) -> bool:
    return (letter < " " and letter not in "\t\n\r") or "\ud800" <= letter <= "\udfff"


@pytest.mark.django_db
def test_a_question_with_control_characters_is_kept_without_and_leaves_in_every_format(school: Staffroom) -> None:
    options = r'[{"id": "a", "text": "A\u0001"}, {"id": "b", "text": "B"}]'
    stem = r'"a\u0000b\ud83d\ude00c\ud800\u001f \u00e9"'
    body = f'{{"content": {{"kind": "single_choice", "stem": {stem}, "options": {options}, "key": "a"}}}}'
    made = school.client.post("/api/v1/items", body, content_type="application/json")
    assert made.status_code == 200, made.content
    assert made.json()["content"]["stem"] == "ab😀c é"
    for form in ("qti", "xlsx"):
        reply = send(school.client, "post", f"items/send/{form}", {"ids": [made.json()["id"]]})
        assert reply.status_code == 200, reply.content
        if form == "qti":
            packed = zipfile.ZipFile(io.BytesIO(b64decode(reply.json()["data"])))
            parsed = [ElementTree.fromstring(packed.read(name)) for name in packed.namelist() if name.endswith(".xml")]
            assert len(parsed) >= 2


@pytest.mark.django_db
def test_an_address_of_nothing_is_refused_as_everything_is(school: Staffroom) -> None:
    for client in (school.client, Client()):
        for path in ("/api/v1/nothing", "/api/v1/tests/abc", "/api/v1/student/x/y", "/api/"):
            reply: Any = client.get(path)
            assert (reply.status_code, reply["Content-Type"]) == (404, "application/problem+json"), path
            assert reply.json()["code"] == "not_found"


# Of the tests of browsers for the same rule (web-platform-tests, html/semantics/forms, type=email), from memory.
@pytest.mark.parametrize(
    ("text", "good"),
    [
        ("foo@bar.com", True), ("f+o.o'x@b-a.r.co", True), ("foo@bar", False), ("foo bar@x.com", False),
        ("foo@-bar.com", False), ("foo@bar-.com", False), ("föö@bar.com", False), ("a@b.c\x80", False),
        ("@b.com", False), ("a@" + "b" * 64 + ".com", False), ("a@b..com", False), ("a@b.com,c@d.com", False),
    ],
)  # fmt: skip
def test_an_address_is_one_that_can_be_written_to(text: str, good: bool) -> None:
    assert is_mail_address(text) == good
