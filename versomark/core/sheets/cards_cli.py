"""Cards from a shell, on open files: `./verso cards make` and `./verso cards read`."""

import argparse
import csv
import sys
from collections.abc import Sequence
from pathlib import Path

from .card_reading import CardTally, Doubt, find_cards
from .cards import LETTERS, MOST_DESKS, desk_numbers, draw_cards
from .images import BadScan, photo

MISUSE = 2
READS = ("desk", "answer", "state", "note")
WORDS: dict[Doubt, str] = {
    "two": "shows {letters} at once: not folded all the way",
    "small": "too small in one picture to be believed; take it from nearer",
    "letter": "shows {letters}",
    "nobody": "nobody has this desk number",
}


def main(arguments: Sequence[str] | None = None) -> int:
    options = _parser().parse_args(arguments)
    try:
        print(options.run(options))
    except (BadScan, ValueError) as error:
        print(f"verso cards: {error}", file=sys.stderr)
        return MISUSE
    except OSError as error:
        print(f"verso cards: {error.filename} cannot be used ({error.strerror})", file=sys.stderr)
        return MISUSE
    return 0


def make(options: argparse.Namespace) -> str:
    options.out.write_bytes(draw_cards(options.desks, options.paper))
    return f"{len(options.desks)} cards, one a page"


def read(options: argparse.Namespace) -> str:
    """Pictures of one question, each counted as a still; what two of them say differently follows the later."""
    desks = frozenset(options.desks)
    tally = CardTally(desks, LETTERS)
    for path in options.image:
        tally.see(find_cards(photo(path.read_bytes())), still=True)
    with options.out.open("w", encoding="utf-8", newline="") as file:
        writer = csv.writer(file, lineterminator="\n")
        writer.writerow(READS)
        for desk in sorted(desks | set(tally.doubts)):
            doubt, letters = tally.doubts.get(desk, (None, ""))
            if doubt is not None:
                writer.writerow([desk, "", "query", WORDS[doubt].format(letters=" and ".join(letters))])
            else:
                letter = tally.said.get(desk, "")
                writer.writerow([desk, letter, "answer" if letter else "missing", ""])
    sure = set(tally.said) - set(tally.doubts)
    missing = len(desks - sure - set(tally.doubts))
    return f"{len(options.image)} pictures, {len(sure)} cards read, {len(tally.doubts)} doubtful, {missing} missing"


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="verso cards", description="Cards to fold, and pictures of a class with them."
    )
    commands = parser.add_subparsers(required=True)
    making = commands.add_parser("make", help="a PDF with a card a page, to be printed on one side")
    making.add_argument("--desks", type=_desks, required=True, metavar="1-30")
    making.add_argument("--paper", choices=["A4", "Letter"], default="A4")
    making.add_argument("--out", type=Path, required=True, metavar="cards.pdf")
    making.set_defaults(run=make)
    reading = commands.add_parser("read", help="read pictures of a class, all of the same question")
    reading.add_argument("image", type=Path, nargs="+", metavar="IMAGE")
    reading.add_argument("--desks", type=_desks, default=list(range(1, MOST_DESKS + 1)), metavar="1-30")
    reading.add_argument("--out", type=Path, required=True, metavar="reads.csv")
    reading.set_defaults(run=read)
    return parser


def _desks(text: str) -> list[int]:
    try:
        return desk_numbers(text)
    except ValueError as error:
        raise argparse.ArgumentTypeError(str(error)) from None


if __name__ == "__main__":
    sys.exit(main())
