from django.apps import AppConfig


class NoticesConfig(AppConfig):
    name = "versomark.school.notices"
    label = "notices"
    default_auto_field = "django.db.models.BigAutoField"
