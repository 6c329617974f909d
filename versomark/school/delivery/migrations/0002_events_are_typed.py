from django.db import migrations, models


def keep_sentences(apps, schema_editor):
    """What was written as a sentence stays one."""
    events = apps.get_model("delivery", "SittingEvent")
    for event in events.objects.all().iterator():
        event.kind, event.facts = "earlier", {"words": event.says}
        event.save(update_fields=["kind", "facts"])


class Migration(migrations.Migration):
    dependencies = [("delivery", "0001_initial")]

    operations = [
        migrations.AddField(
            model_name="sittingevent",
            name="kind",
            field=models.CharField(default="earlier", max_length=32),
            preserve_default=False,
        ),
        migrations.AddField(model_name="sittingevent", name="facts", field=models.JSONField(default=dict)),
        migrations.RunPython(keep_sentences, migrations.RunPython.noop),
        migrations.RemoveField(model_name="sittingevent", name="says"),
    ]
