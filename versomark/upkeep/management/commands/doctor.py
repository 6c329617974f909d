"""Looks at the whole installation and says what it saw, a line each. Changes nothing."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError

from versomark.upkeep.health import State, checked

SIGNS: dict[State, str] = {"well": "  ok ", "look": "look ", "ill": " ill "}


class Command(BaseCommand):
    help = __doc__
    requires_system_checks = ()

    def handle(self, *args: Any, **options: Any) -> None:
        ill = 0
        for check in checked():
            self.stdout.write(f"{SIGNS[check.state]} {check.subject}: {check.says}")
            ill += check.state == "ill"
        if ill:
            raise CommandError(f"{ill} of these want mending." if ill > 1 else "One of these wants mending.")
