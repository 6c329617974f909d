"""Tests get a layout of one section, and the plain texts of tests and editions become rich text that shows the same."""

from importlib import import_module

from django.db import migrations

from versomark.core.text import escaped

enriched = import_module("versomark.school.bank.migrations.0003_rich_text").enriched


def forwards(apps, schema_editor):
    Test, TestItem, Edition = (apps.get_model("editions", name) for name in ("Test", "TestItem", "Edition"))
    for test in Test.objects.all():
        refs = TestItem.objects.filter(test=test).order_by("position").values_list("item_id", flat=True)
        entries = [{"entry": "item", "ref": str(ref), "marks": None, "new_page": False} for ref in refs]
        test.layout = {"sections": [{"ref": "1", "entries": entries}]}
        test.instructions = escaped(test.instructions)
        test.save()
    for edition in Edition.objects.all():
        content = edition.content
        content["instructions"] = escaped(content.get("instructions", ""))
        for section in content["sections"]:
            for item in section["items"]:
                item["content"] = enriched(item["content"])
        edition.save()


class Migration(migrations.Migration):
    dependencies = [("editions", "0002_layout"), ("bank", "0003_rich_text")]
    operations = [migrations.RunPython(forwards, migrations.RunPython.noop, elidable=False)]
