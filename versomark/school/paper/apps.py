from django.apps import AppConfig


class PaperConfig(AppConfig):
    name = "versomark.school.paper"
    label = "paper"
    default_auto_field = "django.db.models.BigAutoField"
