from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "versomark.school.accounts"
    label = "accounts"
    default_auto_field = "django.db.models.BigAutoField"
