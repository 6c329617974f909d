"""An analysis as a page to read and as a workbook, for `./verso analyse`."""

import io
from collections.abc import Iterable, Sequence
from html import escape

from .analysis import Analysis, ItemFigures
from .words import number

Cell = str | float | int | None

ITEMS = (
    *("Item", "Marks", "p", "p low", "p high", "r total", "r rest", "D", "D rest"),
    *("alpha without", "Omitted", "Not reached", "Flags"),
)
OPTIONS = ("Item", "Option", "Key", "Chosen by", "Share", "Upper", "Middle", "Lower", "Mean total", "r rest")
EXPLANATIONS = ("Item", "Explanation", "Option", "Probability")
IDEAS = ("Idea", "Probability", "Held by", "From", "To", "Shows in")
SCALE = ("Item", "Difficulty", "Error", "Thresholds", "Infit", "Outfit", "z infit", "z outfit", "Infit ML", "Outfit ML")
PERSONS = ("Student", "Total", "Measure", "Error", "Infit", "Outfit")
DIF = ("Item", "Group", "Odds ratio", "Chi-square", "p", "Delta", "Class")


def tables(analysis: Analysis) -> list[tuple[str, Sequence[str], list[list[Cell]]]]:
    """Name, heads and rows of every part that has any."""
    t = analysis.test
    results: list[tuple[str, Sequence[str], list[list[Cell]]]] = [
        ("Test", ("Figure", "Value"), [[name.replace("_", " "), value] for name, value in t.model_dump().items()]),
        (
            "Items",
            ITEMS,
            [
                [
                    item.id,
                    item.max,
                    *(
                        item.p,
                        item.p_low,
                        item.p_high,
                        item.r_total,
                        item.r_rest,
                        item.d,
                        item.d_rest,
                        item.alpha_without,
                    ),
                    item.omitted,
                    item.not_reached,
                    " ".join(flag.says for flag in item.flags),
                ]
                for item in analysis.items
            ],
        ),
        (
            "Options",
            OPTIONS,
            [
                [item.id, option.option, "yes" if option.key else "", *list(vars(option).values())[2:]]
                for item in analysis.items
                for option in item.options
            ],
        ),
    ]
    results.append(("Explanations", EXPLANATIONS, [row for item in analysis.items for row in _explanations(item)]))
    ideas: list[list[Cell]] = [
        [idea.idea, idea.p, idea.expected, idea.low, idea.high, ", ".join(f"{s.item} {s.option}" for s in idea.signs)]
        for idea in analysis.ideas
    ]
    results.append(("Ideas", IDEAS, ideas))
    if analysis.rasch:
        items: list[list[Cell]] = [
            [
                *(item.id, item.difficulty, item.difficulty_se, "  ".join(f"{value:.2f}" for value in item.thresholds)),
                *(item.infit, item.outfit, item.infit_z, item.outfit_z, item.infit_ml, item.outfit_ml),
            ]
            for item in analysis.rasch.items
        ]
        persons: list[list[Cell]] = [
            [person.student, person.total, person.measure, person.se, person.infit, person.outfit]
            for person in analysis.rasch.persons
        ]
        results += [("Scale", SCALE, items), ("Students", PERSONS, persons)]
    if analysis.dif:
        rows: list[list[Cell]] = [list(vars(entry).values()) for entry in analysis.dif]
        results.append(("Groups", DIF, rows))
    results.append(("Not computed", ("Figure", "Why"), [[path, why] for path, why in analysis.reasons.items()]))
    return [(name, heads, rows) for name, heads, rows in results if rows]


def _explanations(item: ItemFigures) -> list[list[Cell]]:
    """Of an item: each explanation, likeliest first."""
    if item.explanations is None:
        return []
    rows: list[list[Cell]] = []
    for name, value in item.explanations.model_dump().items():
        of_options = value if isinstance(value, list) else [{"option": "", "p": value}]
        rows += [[item.id, name.replace("_", " "), entry["option"], entry["p"]] for entry in of_options]
    return sorted(rows, key=lambda row: -float(row[3] or 0))


def as_workbook(analysis: Analysis) -> bytes:
    """A sheet a part; numbers are numbers, and what begins like a formula is text."""
    from openpyxl import Workbook
    from openpyxl.styles import Font

    book = Workbook()
    book.remove(book.worksheets[0])
    for name, heads, rows in tables(analysis):
        sheet = book.create_sheet(name)
        sheet.append(list(heads))
        for cell in sheet[1]:
            cell.font = Font(bold=True)
        for row in rows:
            sheet.append(row)
        for line in sheet.iter_rows(min_row=2):
            for cell in line:
                if isinstance(cell.value, str):
                    cell.data_type = "s"
        sheet.freeze_panes = "B2"
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


STYLE = """body{font:16px/1.5 Georgia,serif;max-width:70rem;margin:2rem auto;padding:0 1rem;color:#1b2330}
table{border-collapse:collapse;font:13px/1.4 sans-serif;margin:1rem 0 2rem}th{text-align:left}
th,td{padding:.25rem .7rem .25rem 0;border-bottom:1px solid #d9d4c8;vertical-align:top}
td.n{text-align:right;font-variant-numeric:tabular-nums}caption{text-align:left;font-weight:bold}"""


def as_html(analysis: Analysis, title: str) -> str:
    """One page without scripts and without anything from elsewhere."""
    from . import words

    t = analysis.test
    share = f" {t.mean / t.max:.0%} of the marks on average." if t.mean is not None and t.max else ""
    opening = f"{t.students} students, {t.items} items.{share} {words.alpha_in_words(t.alpha, t.alpha_low, t.students)}"
    sentences = [(item.id, flag.says) for item in analysis.items for flag in item.flags]
    flags = "".join(f"<li><b>{escape(item)}</b> {escape(says)}</li>" for item, says in sentences)
    parts = "".join(_table(name, heads, rows) for name, heads, rows in tables(analysis))
    return (
        f'<!doctype html><html lang="en"><meta charset="utf-8"><title>{escape(title)}</title><style>{STYLE}</style>'
        f"<h1>{escape(title)}</h1><p>{escape(opening)}</p><ul>{flags}</ul>{parts}</html>\n"
    )


def _table(name: str, heads: Iterable[str], rows: Iterable[Sequence[Cell]]) -> str:
    head = "".join(f'<th scope="col">{escape(head)}</th>' for head in heads)
    body = "".join(f"<tr>{''.join(map(_cell, row))}</tr>" for row in rows)
    return f"<table><caption>{escape(name)}</caption><thead><tr>{head}</tr></thead><tbody>{body}</tbody></table>"


def _cell(value: Cell) -> str:
    if value is None:
        return '<td class="n">–</td>'
    if isinstance(value, str):
        return f"<td>{escape(value)}</td>"
    text = f"{value:g}" if float(value).is_integer() else number(float(value))
    return f'<td class="n">{text}</td>'
