"""Stand-ins from a shell: `./verso simulate copier`, `pads` and `camera`."""

import argparse
import csv
import sys
from collections.abc import Sequence
from pathlib import Path

from pydantic import ValidationError

from versomark.core.sheets.cards import LETTERS, desk_numbers

from .camera import Classroom, write_video
from .copier import copy, read_answers, read_map
from .pads import Receiver, by_chance

MISUSE = 2


def main(arguments: Sequence[str] | None = None) -> int:
    options = _parser().parse_args(arguments)
    try:
        print(options.run(options))
    except ValidationError:
        print(f"verso simulate: {options.map} is not a map of sheets", file=sys.stderr)
        return MISUSE
    except (ValueError, OSError) as error:
        print(f"verso simulate: {error}", file=sys.stderr)
        return MISUSE
    except KeyboardInterrupt:
        pass
    return 0


def run_copier(options: argparse.Namespace) -> str:
    pages = copy(
        options.sheets, read_map(options.map), read_answers(options.answers), options.out, options.seed, options.wear
    )
    return f"{pages} pages scanned"


def run_pads(options: argparse.Namespace) -> str:
    receiver = Receiver(options.host, options.port, options.key, options.pads, seed=options.seed)
    print(f"{len(options.pads)} pads are on, and press when a question is asked. Stop them with Ctrl C.", flush=True)
    try:
        receiver.run(by_chance(options.pads, options.seed))
    finally:
        receiver.close()
    return "The service closed the connection."


def run_camera(options: argparse.Namespace) -> str:
    showing = _cards(options.answers)
    room = Classroom(sorted(showing), options.seed, options.wear)
    width, height = options.size
    frames = [room.frame(showing, width, height, at) for at in range(options.frames)]
    write_video(options.out, frames)
    return f"{len(showing)} cards in {len(frames)} picture{'s' if len(frames) > 1 else ''}"


def _cards(path: Path) -> dict[int, str]:
    """desk -> the letter held up, from a table with those two columns; several letters for a card badly folded."""
    with path.open(encoding="utf-8", newline="") as file:
        rows = [(row.get("desk") or "", (row.get("answer") or "").strip().upper()) for row in csv.DictReader(file)]
    if not rows or not all(desk.isdecimal() and set(letters) <= set(LETTERS) for desk, letters in rows):
        raise ValueError(f"{path} needs the columns desk and answer, with letters A to D")
    return {int(desk): letters for desk, letters in rows}


def _size(text: str) -> tuple[int, int]:
    width, height = (int(part) for part in text.lower().split("x"))
    if not (200 <= width <= 8000 and 200 <= height <= 8000):
        raise ValueError
    return width, height


def _wear(text: str) -> float:
    value = float(text)
    if not 0 <= value <= 1:
        raise ValueError
    return value


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="verso simulate", description="Devices and people that are not there.")
    machines = parser.add_subparsers(required=True)
    copier = machines.add_parser("copier", help="fills printed sheets as students do and scans them as copiers do")
    copier.add_argument("sheets", type=Path, metavar="sheets.pdf")
    copier.add_argument("--map", type=Path, required=True, metavar="map.json")
    copier.add_argument(
        "--answers", type=Path, required=True, metavar="answers.csv", help="student,ITEM,… or student,item,answer"
    )
    copier.add_argument("--out", type=Path, required=True, metavar="scan.pdf")
    copier.add_argument("--seed", type=int, default=1)
    copier.add_argument("--wear", type=_wear, default=0.3, help="0 a new copier and neat sheets, 1 the worst there is")
    copier.set_defaults(run=run_copier)
    pads = machines.add_parser("pads", help="response pads at the port where real ones are heard")
    pads.add_argument("--key", required=True, help="stands on the console of a lesson, under Response pads")
    pads.add_argument("--pads", type=desk_numbers, default=desk_numbers("1-30"), metavar="1-30")
    pads.add_argument("--host", default="127.0.0.1")
    pads.add_argument("--port", type=int, default=8331)
    pads.add_argument("--seed", type=int, default=1)
    pads.set_defaults(run=run_pads)
    camera = machines.add_parser("camera", help="a class that holds up folded cards, as a picture or a film")
    camera.add_argument("--answers", type=Path, required=True, metavar="answers.csv", help="desk,answer")
    camera.add_argument("--out", type=Path, required=True, metavar="class.jpg|class.mjpeg")
    camera.add_argument("--frames", type=int, default=1, help="more than one make a film (motion JPEG)")
    camera.add_argument("--size", type=_size, default=(1920, 1080), metavar="1920x1080")
    camera.add_argument("--seed", type=int, default=1)
    camera.add_argument("--wear", type=_wear, default=0.3, help="0 still hands and even light, 1 the worst there is")
    camera.set_defaults(run=run_camera)
    return parser


if __name__ == "__main__":
    sys.exit(main())
