from django.db import migrations, models


def keep_sentences(apps, schema_editor):
    """What students were told before stays as they were told it."""
    notices = apps.get_model("portal", "Notice")
    for notice in notices.objects.all().iterator():
        notice.facts = {"words": notice.says}
        notice.save(update_fields=["facts"])


class Migration(migrations.Migration):
    dependencies = [("portal", "0001_initial")]

    operations = [
        migrations.AddField(model_name="notice", name="facts", field=models.JSONField(default=dict)),
        migrations.RunPython(keep_sentences, migrations.RunPython.noop),
        migrations.RemoveField(model_name="notice", name="says"),
    ]
