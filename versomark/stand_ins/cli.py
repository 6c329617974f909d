"""Stand-ins from a shell: `./verso simulate copier`."""

import argparse
import sys
from collections.abc import Sequence
from pathlib import Path

from pydantic import ValidationError

from .copier import copy, read_answers, read_map

MISUSE = 2


def main(arguments: Sequence[str] | None = None) -> int:
    options = _parser().parse_args(arguments)
    try:
        pages = copy(
            options.sheets,
            read_map(options.map),
            read_answers(options.answers),
            options.out,
            options.seed,
            options.wear,
        )
    except ValidationError:
        print(f"verso simulate: {options.map} is not a map of sheets", file=sys.stderr)
        return MISUSE
    except (ValueError, OSError) as error:
        print(f"verso simulate: {error}", file=sys.stderr)
        return MISUSE
    print(f"{pages} pages scanned")
    return 0


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
    return parser


if __name__ == "__main__":
    sys.exit(main())
