"""Questions shared with a department: who may see them, what a copy has and has not, and what goes with the sharing."""

import json
from typing import Any
from uuid import uuid4

import pytest
from django.test import Client

from tests.conftest import PASSWORD, Staffroom, two_questions
from tests.school.test_teacher_side import send
from versomark.school.accounts.models import Department, Role, Teacher
from versomark.school.bank.models import Item, Skill, Stimulus
from versomark.school.bank.services import Details, make_item

pytestmark = pytest.mark.django_db


def colleague(school: Staffroom, name: str, role: str = Role.TEACHER) -> tuple[Teacher, Client]:
    teacher = Teacher.objects.create_teacher(school.teacher.school, name.title(), name, PASSWORD, role)
    client = Client()
    client.force_login(teacher, backend="django.contrib.auth.backends.ModelBackend")
    return teacher, client


def department(school: Staffroom, name: str, *members: Teacher) -> int:
    made = send(school.client, "post", "departments", {"name": name, "members": [one.pk for one in members]})
    assert made.status_code == 200, made.content
    return int(next(line["id"] for line in made.json() if line["name"] == name))


def shared(client: Client, search: str = "") -> list[dict[str, Any]]:
    return list(client.get("/api/v1/items/shared", {"search": search}).json()["items"])


def share(client: Client, ids: list[str], with_: int | None) -> Any:
    return send(client, "post", "items/share", {"ids": ids, "department": with_})


def question(teacher: Teacher, **details: Any) -> str:
    return str(make_item(teacher, two_questions()[0], Details(["Series circuits"], ["lamp"], **details)).pk)


def test_an_administrator_says_who_belongs_and_nobody_else(school: Staffroom) -> None:
    mara, her = colleague(school, "mara")
    number = department(school, "Physics", school.teacher, mara)
    for path, method in (("departments", "get"), ("departments", "post"), (f"departments/{number}", "delete")):
        refused = send(her, method, path, {"name": "Mine", "members": []})
        assert refused.status_code == 403
    assert her.get("/api/v1/me/departments").json() == [{"id": number, "name": "Physics"}]
    assert send(school.client, "post", "departments", {"name": " physics ", "members": []}).status_code == 409
    # Of another school nobody can be named, and no department changed.
    other = Staffroom(*colleague(school, "away"))
    other.teacher.school = type(school.teacher.school).objects.create(name="Elsewhere")
    other.teacher.role = Role.ADMIN
    other.teacher.save()
    assert send(school.client, "post", "departments", {"name": "X", "members": [other.teacher.pk]}).status_code == 404
    assert send(other.client, "put", f"departments/{number}", {"name": "Y", "members": []}).status_code == 404
    # Whoever was deactivated is named no more.
    send(school.client, "post", f"people/{mara.pk}/deactivate", {"hand_to": None})
    names = [person["name"] for line in school.client.get("/api/v1/departments").json() for person in line["members"]]
    assert names == [school.teacher.name]


def test_only_members_see_what_is_shared_and_only_while_it_is(school: Staffroom) -> None:
    mara, her = colleague(school, "mara")
    _, stranger = colleague(school, "uli")
    number = department(school, "Physics", school.teacher, mara)
    own, kept_back = question(school.teacher), question(school.teacher)
    unfinished = str(make_item(school.teacher, two_questions()[0].model_copy(update={"stem": ""}), Details()).pk)
    assert share(school.client, [own, unfinished], number).json() == {"count": 2}
    # One cannot share what is another's, nor with a department one does not belong to.
    assert share(her, [kept_back], number).json() == {"count": 0}
    assert share(stranger, [own], number).status_code == 404
    assert [line["item"]["id"] for line in shared(her)] == [own]
    assert [line["item"]["id"] for line in shared(her, "which")] == [own]
    assert (shared(her, "nothing like it"), shared(stranger), shared(school.client)) == ([], [], [])
    for path in (f"items/shared/{kept_back}", f"items/shared/{unfinished}", f"items/shared/{uuid4()}"):
        assert her.get(f"/api/v1/{path}").status_code == 404
    assert stranger.get(f"/api/v1/items/shared/{own}").status_code == 404
    seen = her.get(f"/api/v1/items/shared/{own}").json()
    assert seen["key"] == "B Option b"
    # It is looked at, and never changed there.
    assert her.get(f"/api/v1/items/{own}").status_code == 404
    assert send(stranger, "post", "items/shared/take", {"ids": [own]}).status_code == 404
    share(school.client, [own], None)
    assert shared(her) == []
    share(school.client, [own], number)
    send(school.client, "put", f"departments/{number}", {"name": "Physics", "members": [school.teacher.pk]})
    assert shared(her) == []


def test_a_copy_is_ones_own_and_says_whose_it_was(school: Staffroom) -> None:
    mara, her = colleague(school, "mara")
    number = department(school, "Physics", school.teacher, mara)
    passage = Stimulus.objects.create(owner=school.teacher, title="Keeper", body="<p>The lamp.</p>")
    asked = [question(school.teacher, stimulus=passage.pk) for _ in range(2)]
    Item.objects.filter(pk=asked[0]).update(times_used=3, difficulty=0.4, flagged=True)
    share(school.client, asked, number)
    assert {line["item"]["difficulty"] for line in shared(her)} == {None}  # it is of her colleague's classes
    taken = send(her, "post", "items/shared/take", {"ids": asked}).json()
    assert len(taken) == 2
    copy = her.get(f"/api/v1/items/{taken[0]['id']}").json()
    original = school.client.get(f"/api/v1/items/{asked[0]}").json()
    assert {key: copy[key] for key in ("content", "skills", "keywords")} == {
        key: original[key] for key in ("content", "skills", "keywords")
    }
    assert (copy["author"], copy["times_used"], copy["difficulty"]) == (school.teacher.name, 0, None)
    # One passage for both, hers, and a skill of hers.
    assert Stimulus.objects.filter(owner=mara).count() == Skill.objects.filter(owner=mara).count() == 1
    assert [line["taken"] for line in shared(her)] == [True, True]
    # Her change reaches nobody, and a question that goes takes no copy along.
    content = {**copy["content"], "stem": "Hers by now?"}
    change = {"content": content, "skills": [], "keywords": [], "revision": copy["revision"]}
    assert send(her, "put", f"items/{copy['id']}", change).status_code == 200
    assert json.dumps(school.client.get(f"/api/v1/items/{asked[0]}").json()["content"]) == json.dumps(
        original["content"]
    )
    send(school.client, "delete", f"departments/{number}")
    assert not Department.objects.exists()
    assert Item.objects.filter(owner=mara).count() == 2
    assert Item.objects.filter(owner=school.teacher, shared_with=None).count() == 2


def test_of_a_shelf_of_many_the_queries_stay_few(school: Staffroom, django_assert_max_num_queries: Any) -> None:
    mara, her = colleague(school, "mara")
    number = department(school, "Physics", school.teacher, mara)
    share(school.client, [question(school.teacher) for _ in range(40)], number)
    with django_assert_max_num_queries(12):
        assert len(shared(her)) == 40
