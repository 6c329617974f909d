from django.apps import AppConfig


class FindingsConfig(AppConfig):
    name = "versomark.school.findings"
    label = "findings"
    default_auto_field = "django.db.models.BigAutoField"
