from django.apps import AppConfig


class MarkingConfig(AppConfig):
    name = "versomark.school.marking"
    label = "marking"
    default_auto_field = "django.db.models.BigAutoField"
