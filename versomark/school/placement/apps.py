from django.apps import AppConfig


class PlacementConfig(AppConfig):
    name = "versomark.school.placement"
    label = "placement"
    default_auto_field = "django.db.models.BigAutoField"
