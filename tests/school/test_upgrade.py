"""A school of the first version opened with this one: nothing is lost, and plain texts show as they did."""

from typing import Any

import pytest
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

FIRST = [
    ("accounts", "0001_initial"),
    ("classes", "0001_initial"),
    ("bank", "0001_initial"),
    ("editions", "0001_initial"),
    ("sittings", "0001_initial"),
]


@pytest.mark.django_db(transaction=True)
def test_plain_questions_tests_and_editions_are_carried_over() -> None:
    executor = MigrationExecutor(connection)
    newest = executor.loader.graph.leaf_nodes()
    executor.migrate(FIRST)
    apps = executor.loader.project_state(FIRST).apps

    def model(app: str, name: str) -> Any:
        return apps.get_model(app, name)

    school = model("accounts", "School").objects.create(name="Bay")
    teacher = model("accounts", "Teacher").objects.create(school=school, name="B", username="b", password="!")
    content = {
        "kind": "single_choice",
        "stem": "Is 3 < 5 & R > 2?",
        "marks": 1,
        "key": "a",
        "options": [{"id": "a", "text": "x < y", "idea_note": ""}, {"id": "b", "text": "no", "idea_note": "n"}],
    }
    item = model("bank", "Item").objects.create(owner=teacher, content=content, words="is 3 < 5")
    test = model("editions", "Test").objects.create(owner=teacher, title="T", instructions="Use a < b.")
    model("editions", "TestItem").objects.create(test=test, item=item, position=1)
    frozen = {
        "title": "T",
        "instructions": "Use a < b.",
        "sections": [{"title": "", "items": [{"ref": str(item.pk), "content": content, "skills": ["S"]}]}],
    }
    model("editions", "Edition").objects.create(test=test, number=1, content=frozen, fingerprint="f")

    executor = MigrationExecutor(connection)
    executor.migrate(newest)

    from versomark.school.bank.models import Item
    from versomark.school.bank.services import Wanted, find_items
    from versomark.school.editions import services
    from versomark.school.editions.models import Edition, Test

    now = Item.objects.get(pk=item.pk)
    assert (now.kind, now.ready) == ("single_choice", True)
    assert now.read().stem == "Is 3 &lt; 5 &amp; R &gt; 2?"
    assert now.read().for_student().options[0].text == "x &lt; y"  # type: ignore[union-attr]
    moved = Test.objects.get(pk=test.pk)
    assert [entry.ref for entry in moved.read().items()] == [str(item.pk)]
    assert moved.instructions == "Use a &lt; b."
    edition = Edition.objects.get()
    assert next(edition.read().items()).content == now.read()
    assert edition.read().total_marks == 1
    assert [found.pk for found in find_items(now.owner, Wanted(typed="3 5"))] == [item.pk]
    assert services.checks(moved) == []
    assert services.freeze(moved).number == 2
