from secrets import token_urlsafe
from typing import Any

from django.db import migrations, models

import versomark.school.classes.models


def give_links(apps: Any, schema_editor: Any) -> None:
    """Each class that was there before has a link of its own as well."""
    for school_class in apps.get_model("classes", "SchoolClass").objects.all():
        school_class.link = token_urlsafe(9)
        school_class.save(update_fields=["link"])


class Migration(migrations.Migration):
    dependencies = [("classes", "0002_needs_groups_colleagues")]

    operations = [
        migrations.AddField("student", "email", models.EmailField(blank=True, max_length=254, default=""), False),
        migrations.AddField("schoolclass", "link", models.CharField(max_length=40, default="")),
        migrations.RunPython(give_links, migrations.RunPython.noop),
        migrations.AlterField(
            "schoolclass",
            "link",
            models.CharField(default=versomark.school.classes.models.new_link, max_length=40, unique=True),
        ),
    ]
