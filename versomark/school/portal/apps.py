from django.apps import AppConfig


class PortalConfig(AppConfig):
    name = "versomark.school.portal"
    label = "portal"
    default_auto_field = "django.db.models.BigAutoField"
