from django.apps import AppConfig


class ComparisonConfig(AppConfig):
    name = "versomark.school.comparison"
    label = "comparison"
    default_auto_field = "django.db.models.BigAutoField"
