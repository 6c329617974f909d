from django.apps import AppConfig


class DeskConfig(AppConfig):
    name = "versomark.school.desk"
    label = "desk"
    default_auto_field = "django.db.models.BigAutoField"
