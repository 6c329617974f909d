from django.apps import AppConfig


class RoomConfig(AppConfig):
    name = "versomark.school.room"
    label = "room"
    default_auto_field = "django.db.models.BigAutoField"
