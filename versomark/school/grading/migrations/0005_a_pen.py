from uuid import uuid4

import django.db.models.deletion
from django.db import migrations, models
from django.db.backends.base.schema import BaseDatabaseSchemaEditor
from django.db.migrations.state import StateApps


def give_keys(apps: StateApps, editor: BaseDatabaseSchemaEditor) -> None:
    """Every remark that there is gets a key of its own."""
    remarks = apps.get_model("grading", "Remark").objects.using(editor.connection.alias)
    for remark in remarks.filter(key=None):
        remark.key = uuid4()
        remark.save(update_fields=["key"])


class Migration(migrations.Migration):
    dependencies = [
        ("accounts", "0006_departments"),
        ("grading", "0004_hidden_numbers"),
    ]

    operations = [
        migrations.CreateModel(
            name="Stamp",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("words", models.CharField(max_length=40)),
                (
                    "teacher",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="+", to="accounts.teacher"
                    ),
                ),
            ],
            options={
                "ordering": ["pk"],
                "constraints": [models.UniqueConstraint(fields=("teacher", "words"), name="stamp_once")],
            },
        ),
        migrations.AddField("remark", "criterion", models.CharField(blank=True, max_length=36, default=""), False),
        migrations.AddField(
            "remark",
            "replaces",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="+", to="grading.remark"
            ),
        ),
        migrations.AddField("remark", "key", models.UUIDField(null=True, editable=False)),
        migrations.RunPython(give_keys, migrations.RunPython.noop),
        migrations.AlterField("remark", "key", models.UUIDField(default=uuid4, editable=False, unique=True)),
    ]
