from django.apps import AppConfig


class PerformancesConfig(AppConfig):
    name = "versomark.school.performances"
    label = "performances"
    default_auto_field = "django.db.models.BigAutoField"
