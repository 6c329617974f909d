from django.apps import AppConfig


class RecordsConfig(AppConfig):
    name = "versomark.school.records"
    label = "records"
    default_auto_field = "django.db.models.BigAutoField"
