from django.apps import AppConfig


class OneToOneConfig(AppConfig):
    name = "versomark.school.one_to_one"
    label = "one_to_one"
    default_auto_field = "django.db.models.BigAutoField"
