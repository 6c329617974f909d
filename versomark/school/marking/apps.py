from django.apps import AppConfig


class MarkingConfig(AppConfig):
    name = "versomark.school.marking"
    label = "marking"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.sittings.attempts import MAY_BEGIN_AGAIN

        from .services import refuse_another_attempt

        MAY_BEGIN_AGAIN.append(refuse_another_attempt)
