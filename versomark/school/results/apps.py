from django.apps import AppConfig


class ResultsConfig(AppConfig):
    name = "versomark.school.results"
    label = "results"
    default_auto_field = "django.db.models.BigAutoField"
