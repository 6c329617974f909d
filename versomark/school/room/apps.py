from django.apps import AppConfig


class RoomConfig(AppConfig):
    name = "versomark.school.room"
    label = "room"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from . import pad_port
        from .device import tell
        from .practice import answer_soon
        from .signals import lesson_changed

        for receiver in (tell, pad_port.tell, answer_soon):
            lesson_changed.connect(receiver)
