from django.apps import AppConfig


class SittingsConfig(AppConfig):
    name = "versomark.school.sittings"
    label = "sittings"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        from versomark.school.classes.merging import FOLLOWERS

        from .merging import merge_seats

        FOLLOWERS.append(merge_seats)
