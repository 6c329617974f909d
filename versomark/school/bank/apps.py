from django.apps import AppConfig


class BankConfig(AppConfig):
    name = "versomark.school.bank"
    label = "bank"
    default_auto_field = "django.db.models.BigAutoField"
