from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

from versomark.demo import loading


class Command(BaseCommand):
    help = "Bring the database up to date and load Kestrel Bay School, once."
    # One start of Django instead of two, and no checks on the way: `./verso demo` should be there in seconds.
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--large", action="store_true", help="with 40 teachers and 1,000 students besides")

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0, skip_checks=True)
        teacher = loading.load()
        if options["large"]:
            loading.grow(teacher)
