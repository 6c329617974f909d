from django.apps import AppConfig


class UpkeepConfig(AppConfig):
    """Back-ups, checks of the installation, and what a school's technician sees of it. It has no tables of its own."""

    name = "versomark.upkeep"
