from django.apps import AppConfig


class EditionsConfig(AppConfig):
    name = "versomark.school.editions"
    label = "editions"
    default_auto_field = "django.db.models.BigAutoField"
