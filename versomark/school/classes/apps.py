from django.apps import AppConfig


class ClassesConfig(AppConfig):
    name = "versomark.school.classes"
    label = "classes"
    default_auto_field = "django.db.models.BigAutoField"
