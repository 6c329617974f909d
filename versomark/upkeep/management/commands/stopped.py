"""Whether no service runs on the folder of VERSO_DATA; says so where one does."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError
from django.db import DEFAULT_DB_ALIAS

from versomark.upkeep.lock import is_served
from versomark.upkeep.moving import others_in


class Command(BaseCommand):
    help = __doc__
    requires_system_checks = ()

    def handle(self, *args: Any, **options: Any) -> None:
        if is_served(Path(settings.DATA)):
            raise CommandError("A service runs on this folder.")
        if others := others_in(DEFAULT_DB_ALIAS):
            raise CommandError(f"{others} sessions of others are open on the database of DATABASE_URL.")
