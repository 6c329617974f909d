"""The core from a shell, on open files: `./verso analyse`."""

import argparse
import sys
from collections.abc import Sequence
from pathlib import Path

from versomark.core.findings import Analysis, analyse, words
from versomark.core.findings.report import as_html, as_workbook
from versomark.core.formats import BadFile, read_groups, read_responses

MISUSE = 2
"""Exit status when the input is at fault."""


def main(arguments: Sequence[str] | None = None) -> int:
    options = _parser().parse_args(arguments)
    try:
        table = read_responses(options.responses, options.key)
        groups = read_groups(options.groups, table.students) if options.groups else None
        earlier = [read_responses(path, options.key) for path in options.earlier]
        analysis, _ = analyse(table, explained=not options.figures_only, models=True, groups=groups, earlier=earlier)
        if options.json:
            _write(options.json, (analysis.model_dump_json(indent=1, by_alias=True) + "\n").encode())
        if options.html:
            _write(options.html, as_html(analysis, options.responses.stem).encode())
        if options.xlsx:
            _write(options.xlsx, as_workbook(analysis))
    except BadFile as error:
        print(f"verso analyse: {error}", file=sys.stderr)
        return MISUSE
    if not (options.json or options.html or options.xlsx):
        print(summary(analysis))
    return 0


def summary(analysis: Analysis) -> str:
    """The analysis as a table for the terminal."""

    def figure(value: float | None, places: int = 2) -> str:
        return "–" if value is None else words.number(value, places)

    t = analysis.test
    lines = [
        f"{t.students} students, {t.items} items, {t.max:g} marks",
        f"mean {figure(t.mean)}  sd {figure(t.sd)}  alpha {figure(t.alpha)}"
        f" ({figure(t.alpha_low)} to {figure(t.alpha_high)})  SEM {figure(t.sem)}",
        "",
        f"{'item':<16}{'p':>6}{'r rest':>8}{'D':>7}  flags",
    ]
    for item in analysis.items:
        flags = "; ".join(f"{f.flag} {f.option or ''}".rstrip() + f" ({figure(f.p)})" for f in item.flags)
        lines.append(
            f"{item.id[:15]:<16}{figure(item.p):>6}{figure(item.r_rest):>8}{figure(item.d_rest):>7}  {flags}".rstrip()
        )
    return "\n".join(lines)


def _write(path: Path, data: bytes) -> None:
    try:
        path.write_bytes(data)
    except OSError as error:
        raise BadFile(path, f"cannot be written ({error.strerror})") from None


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="verso analyse", description="Item analysis of a file of responses.")
    parser.add_argument("responses", type=Path, metavar="RESPONSES.csv", help="student,ITEM,… with one row a student")
    parser.add_argument(
        "--key", type=Path, metavar="KEY.csv", help="item,key,max,options,skill,idea; without it cells are points"
    )
    parser.add_argument(
        "--earlier",
        type=Path,
        action="append",
        default=[],
        metavar="BEFORE.csv",
        help="answers of another class to the same items, as evidence; may be given several times",
    )
    parser.add_argument("--groups", type=Path, metavar="GROUPS.csv", help="student,group")
    parser.add_argument(
        "--json", type=Path, metavar="OUT.json", help="write every figure here; without it a table is printed"
    )
    parser.add_argument("--html", type=Path, metavar="OUT.html", help="write a page to read")
    parser.add_argument("--xlsx", type=Path, metavar="OUT.xlsx", help="write a workbook, a sheet a part")
    parser.add_argument(
        "--figures-only",
        action="store_true",
        help="no explanations and flags: for very large files",
    )
    return parser


if __name__ == "__main__":
    sys.exit(main())
