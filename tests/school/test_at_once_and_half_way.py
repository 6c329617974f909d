"""Two windows at the same moment, and work that breaks off half way: no doubles, nothing half done, nothing lost."""

import io
import threading
from base64 import b64encode
from collections.abc import Callable
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client
from PIL import Image

from tests.conftest import Staffroom, devices, refs
from tests.school.test_class_lists import new_class, outcomes, read
from tests.school.test_teacher_side import layout, send
from tests.school.whole import everything
from versomark.school.bank.models import Item, Picture, Skill
from versomark.school.classes.models import Enrolment, Student
from versomark.school.delivery.models import Seat
from versomark.school.editions.models import Edition
from versomark.school.responses.models import Answer

WINDOWS = 6
VARIED = {
    "kind": "numeric",
    "stem": "What is @(a) + 1?",
    "value_rule": "a + 1",
    "variation": {"values": [{"draw": "range", "name": "a", "low": 1, "high": 999}]},
}


def at_once(school: Staffroom, act: Callable[[Client, int], Any], windows: int = WINDOWS) -> list[Any]:
    """What each of several windows of one teacher gets when all act together, each on a connection of its own."""
    replies: list[Any] = [None] * windows
    start = threading.Barrier(windows)

    def window(at: int) -> None:
        client = Client(raise_request_exception=False)
        client.force_login(school.teacher, backend="django.contrib.auth.backends.ModelBackend")
        start.wait(10)
        try:
            replies[at] = act(client, at)
        finally:
            connection.close()

    threads = [threading.Thread(target=window, args=(at,)) for at in range(windows)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(60)
    return replies


def codes(replies: list[Any]) -> list[int]:
    return sorted(reply.status_code for reply in replies)


@pytest.mark.django_db(transaction=True)
class TestAtOnce:
    def test_one_list_brought_in_by_several_windows(self, school: Staffroom) -> None:
        path = new_class(school.client)
        sheet = read(school.client)
        replies = at_once(school, lambda client, at: send(client, "post", f"{path}/list", sheet))
        assert codes(replies) == [200] * WINDOWS
        seen = sorted(outcome for reply in replies for _, outcome in outcomes(reply))
        assert seen == ["new"] * 2 + ["same"] * 2 * (WINDOWS - 1)
        assert (Student.objects.count(), Enrolment.objects.count()) == (2, 2)

    def test_students_added_together_have_desks_of_their_own(self, school: Staffroom) -> None:
        path = new_class(school.client)
        replies = at_once(
            school, lambda c, at: send(c, "post", f"{path}/students", {"lines": [f"S{at} F", f"T{at} F"]})
        )
        assert codes(replies) == [200] * WINDOWS
        desks = [student["desk"] for student in school.client.get(f"/api/v1/{path}").json()["list"]]
        assert desks == list(range(1, 2 * WINDOWS + 1))

    def test_one_question_kept_by_several_windows(self, school: Staffroom) -> None:
        content = {"kind": "true_false", "stem": "So?", "key": True}
        body = send(school.client, "post", "items", {"content": content}).json()
        replies = at_once(
            school,
            lambda client, at: send(
                client, "put", f"items/{body['id']}", {"content": content | {"stem": f"From {at}"}, "revision": 1}
            ),
        )
        assert codes(replies) == [200] + [409] * (WINDOWS - 1)
        winner = next(at for at, reply in enumerate(replies) if reply.status_code == 200)
        assert Item.objects.get().content["stem"] == f"From {winner}"
        assert school.client.get(f"/api/v1/items?search=from {winner}").json()["total"] == 1

    def test_a_new_skill_a_picture_and_an_edition_are_made_once(self, school: Staffroom) -> None:
        body = {"content": {"kind": "true_false", "stem": "So?", "key": True}, "skills": ["New skill"]}
        replies = at_once(school, lambda client, at: send(client, "post", "items", body))
        assert codes(replies) == [200] * WINDOWS
        assert (Skill.objects.count(), Item.objects.count()) == (1, WINDOWS)
        rows = list(Item.objects.values_list("index_row", flat=True))
        assert len(set(rows)) == WINDOWS
        out = io.BytesIO()
        Image.new("RGB", (40, 30), "teal").save(out, "PNG")
        replies = at_once(
            school, lambda c, at: c.post("/api/v1/pictures", {"file": SimpleUploadedFile("p.png", out.getvalue())})
        )
        assert codes(replies) == [200] * WINDOWS
        assert Picture.objects.count() == 1
        test = send(school.client, "post", "tests", {"title": "T"}).json()
        paper = {"title": "T", "instructions": "", "layout": layout(str(Item.objects.all()[0].pk))}
        send(school.client, "put", f"tests/{test['id']}", paper)
        replies = at_once(school, lambda client, at: send(client, "post", f"tests/{test['id']}/freeze"))
        assert codes(replies) == [200] * WINDOWS
        assert {reply.json()["number"] for reply in replies} == {1}

    def test_groups_and_class_names_stay_apart(self, school: Staffroom) -> None:
        replies = at_once(school, lambda client, at: send(client, "post", "classes", {"name": "8 Heron"}))
        assert codes(replies) == [200] + [409] * (WINDOWS - 1)
        path = f"classes/{school.client.get('/api/v1/classes').json()[0]['id']}"
        replies = at_once(school, lambda client, at: send(client, "post", f"{path}/groups", {"name": "Red"}))
        assert codes(replies) == [200] + [409] * (WINDOWS - 1)

    def test_closing_while_the_last_answers_come_in(self, school: Staffroom) -> None:
        sitting = school.open_sitting(students=WINDOWS)
        phones = devices(sitting)
        item = refs(sitting)[0]
        for phone in phones:
            phone.join()

        def act(client: Client, at: int) -> Any:
            if at == 0:
                return send(client, "post", f"sittings/{sitting.pk}/steps/close")
            return phones[at].answer(item, {"kind": "single_choice", "option": "b"}, 1)

        replies = at_once(school, act)
        assert replies[0].status_code == 200
        kept = [at for at, reply in enumerate(replies[1:], start=1) if reply.status_code == 200]
        assert {reply.status_code for reply in replies[1:]} <= {200, 410}
        # An answer that was acknowledged is there, one that was refused is not.
        assert Answer.objects.count() == len(kept)
        assert not Seat.objects.filter(state__in=("working", "paused", "expected", "at the door")).exists()
        counted = school.client.get(f"/api/v1/sittings/{sitting.pk}/findings").json()["body"]
        assert counted is None or counted["test"]["students"] >= len(kept)


class Broken(Exception):
    pass


def breaks(*_: Any, **__: Any) -> None:
    raise Broken


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("after", [0, 1, 2])
def test_work_that_breaks_off_leaves_everything_as_it_was(
    school: Staffroom, monkeypatch: pytest.MonkeyPatch, after: int
) -> None:
    """Each use case is stopped at the n-th write of something it makes several of."""
    client = Client(raise_request_exception=False)
    client.force_login(school.teacher, backend="django.contrib.auth.backends.ModelBackend")
    path = new_class(client)
    sheet = read(client, "Name;Groups;Tags\nA B;red;x\nC D;red;x\nE F;blue;y\nG H;blue;z\n")
    more = read(client, "Name;Groups;Tags\nI J;red;x\nK L;red;y\nM N;green;z\n")
    table = b"question,key,A,B\nOne?,A,1,2\nTwo?,B,1,2\nThree?,A,3,4\nFour?,A,3,4\n"
    items = [send(client, "post", "items", {"content": VARIED}).json()["id"] for _ in range(4)]
    test = send(client, "post", "tests", {"title": "T"}).json()["id"]
    send(client, "put", f"tests/{test}", {"title": "T", "instructions": "", "layout": layout(items[0])})
    cases: list[tuple[str, str, str, dict[str, Any] | None]] = [
        ("versomark.school.classes.services.seat_student", "post", f"{path}/list", sheet),
        ("versomark.school.classes.services.tag_students", "post", f"{path}/list", more),
        (
            "versomark.school.bank.search.index",
            "post",
            "items/bring",
            {"name": "q.csv", "data": b64encode(table).decode()},
        ),
        ("versomark.school.bank.search.index", "post", "items/tag", {"ids": items, "add_skills": ["New"]}),
        ("versomark.school.editions.services._keep_edition", "post", f"tests/{test}/freeze-pair", None),
    ]
    for target, method, address, body in cases:
        module, name = target.rsplit(".", 1)
        real = getattr(__import__(module, fromlist=[name]), name)
        calls = iter([real] * min(after, 1 if "edition" in target else after) + [breaks] * 9)
        before = everything()
        with monkeypatch.context() as patched:
            patched.setattr(target, lambda *a, calls=calls, **k: next(calls)(*a, **k))
            reply = send(client, method, address, body)
        assert reply.status_code == 500, (target, reply.content[:200])
        assert everything() == before, target
        # And once nothing is in the way, the same request does all of it.
        assert send(client, method, address, body).status_code == 200, target
    assert Edition.objects.count() == 2
