from django.apps import AppConfig


class ReportsConfig(AppConfig):
    name = "versomark.school.reports"
    label = "reports"
    default_auto_field = "django.db.models.BigAutoField"
