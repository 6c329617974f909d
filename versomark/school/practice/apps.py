from django.apps import AppConfig


class PracticeConfig(AppConfig):
    name = "versomark.school.practice"
    label = "practice"
    default_auto_field = "django.db.models.BigAutoField"
