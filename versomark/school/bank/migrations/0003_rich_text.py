"""Plain questions become rich text that shows the same, and the bank gets its full-text index."""

from django.db import migrations

from versomark.core.items import read_content
from versomark.core.text import escaped, plain
from versomark.school.bank import search


def enriched(content):
    """A stored item of the time when texts were plain."""
    content = {**content, "stem": escaped(content.get("stem", ""))}
    if "options" in content:
        content["options"] = [{**option, "text": escaped(option.get("text", ""))} for option in content["options"]]
    return content


def forwards(apps, schema_editor):
    search.make_index()
    if search.has_fulltext():
        schema_editor.execute("DELETE FROM bank_fulltext")
    Item = apps.get_model("bank", "Item")
    for row, item in enumerate(Item.objects.all(), start=1):
        item.content = enriched(item.content)
        content = read_content(item.content)
        item.kind, item.ready = content.kind, not content.problems()
        item.words = " ".join(plain(text) for text in content.texts()).casefold()
        item.index_row = row
        item.save()
        if search.has_fulltext():
            schema_editor.execute("INSERT INTO bank_fulltext (rowid, words) VALUES (%s, %s)", [row, item.words])


class Migration(migrations.Migration):
    dependencies = [("bank", "0002_every_kind")]
    operations = [migrations.RunPython(forwards, migrations.RunPython.noop, elidable=False)]
