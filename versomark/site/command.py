"""`verso-mark`: the service of an installed package, without the source tree. What `./verso` does in one, in the same
words."""

import argparse
import os
import sys
from collections.abc import Sequence
from pathlib import Path

from versomark import __version__

COMMANDS = {
    "serve": "serve the school; back-up and migration first, where this version needs one",
    "backup": "one archive of the whole school, made while it is used, read back and checked",
    "restore": "the school of a back-up; what stands there now is put aside",
    "move": "the school to PostgreSQL (postgresql://…), or back into its folder (sqlite); row by row",
    "work": "the work in the background, beside several processes that serve",
    "doctor": "look at database, disk, clock, mail, fonts, addresses; changes nothing",
}


def main(arguments: Sequence[str] | None = None) -> None:
    parser = argparse.ArgumentParser(prog="verso-mark", description="Serve Verso Mark, and look after it.")
    parser.add_argument("--version", action="version", version=__version__)
    parser.add_argument("--data", type=Path, help="the school's folder; VERSO_DATA, or ./school, where it is left out")
    parser.add_argument(
        "command", choices=COMMANDS, help="; ".join(f"{name}: {says}" for name, says in COMMANDS.items())
    )
    options, rest = parser.parse_known_args(arguments)
    data = options.data or Path(os.environ.get("VERSO_DATA", "school"))
    os.umask(0o077)
    os.environ["VERSO_DATA"] = str(data.resolve())
    os.environ.setdefault("VERSO_WEB", str(_pages()))
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "versomark.site.settings")
    if options.command == "serve":
        import django
        from django.core.management import call_command

        from . import serve

        django.setup()
        call_command("check_school")
        call_command("bring_up_to_date")

        sys.argv = ["verso-mark serve", "--line", "Verso Mark serves; Ctrl C stops it.", *rest]
        serve.main()
        return
    if options.command == "work":
        from . import work

        work.main()
        return
    from django.core.management import execute_from_command_line

    names = {"backup": "backup_school", "restore": "restore_school", "doctor": "doctor", "move": "move_school"}
    is_elsewhere = bool(os.environ.get("DATABASE_URL"))
    if options.command != "restore" and not is_elsewhere and not (data / "verso.sqlite3").exists():
        sys.exit(f"verso-mark: there is no school in {data}; --data names another folder.")
    execute_from_command_line(["verso-mark", names[options.command], *rest])


def _pages() -> Path:
    """The built pages: in the package where it was made into a wheel, else in the source tree."""
    package = Path(__file__).resolve().parents[1]
    return package / "pages" if (package / "pages").exists() else package.parent / "web" / "dist"


if __name__ == "__main__":
    main()
