"""All that a school's database holds, as one text: to see that nothing changed."""

import re

from django.apps import apps
from django.core import serializers

from versomark.school.accounts.models import SecurityEvent, SignedIn


def everything() -> str:
    domains = [config for config in apps.get_app_configs() if config.name.startswith("versomark.school.")]
    models = [model for domain in domains for model in domain.get_models(include_auto_created=True)]
    # That somebody signed in or looked is noted, and changes nothing of what they looked at.
    models = [model for model in models if model not in (SecurityEvent, SignedIn)]
    rows = serializers.serialize("json", (row for model in models for row in model.objects.order_by("pk")))
    # When somebody signed in last is nobody's work.
    return re.sub(r'"last_login": ("[^"]*"|null)', "", rows)
