from typing import Any

from django.core.management.base import BaseCommand

from versomark.demo import loading


class Command(BaseCommand):
    help = "Load Kestrel Bay School, once."

    def handle(self, *args: Any, **options: Any) -> None:
        loading.load()
