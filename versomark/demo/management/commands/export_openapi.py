import json
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from versomark.site.api import portal_api, student_api, teacher_api


class Command(BaseCommand):
    help = "Write the OpenAPI descriptions of the APIs, from which the front end's types are generated."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("folder", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        folder: Path = options["folder"]
        for name, api in (("teacher", teacher_api), ("student", student_api), ("portal", portal_api)):
            text = json.dumps(
                api.get_openapi_schema(path_prefix="/api/v1/" if name == "teacher" else f"/api/v1/{name}/"),
                indent=1,
            )
            (folder / f"{name}.openapi.json").write_text(text + "\n", encoding="utf-8")
