"""All that a school's database holds, as one text: to see that nothing changed."""

import re

from django.apps import apps
from django.core import serializers

OURS = (
    "accounts",
    "classes",
    "bank",
    "editions",
    "sittings",
    "room",
    "paper",
    "marking",
    "findings",
    "notices",
    "results",
    "placement",
    "records",
    "reports",
    "one_to_one",
)


def everything() -> str:
    models = [model for name in OURS for model in apps.get_app_config(name).get_models(include_auto_created=True)]
    rows = serializers.serialize("json", (row for model in models for row in model.objects.order_by("pk")))
    # When somebody signed in last is nobody's work.
    return re.sub(r'"last_login": ("[^"]*"|null)', "", rows)
