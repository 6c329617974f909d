from django.apps import AppConfig


class SittingsConfig(AppConfig):
    name = "versomark.school.sittings"
    label = "sittings"
    default_auto_field = "django.db.models.BigAutoField"
