from django.apps import AppConfig


class GradingConfig(AppConfig):
    name = "versomark.school.grading"
    label = "grading"
    default_auto_field = "django.db.models.BigAutoField"
