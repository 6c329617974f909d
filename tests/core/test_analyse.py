"""`./verso analyse` from files to JSON: what it writes, and what it says of bad input."""

import csv
import json
from html.parser import HTMLParser
from pathlib import Path
from typing import Any

import pytest
from openpyxl import load_workbook

from versomark.core import cli
from versomark.core.formats import MAX_STUDENTS

KEY = "item,key,max,options,skill\nq1,A,1,4,Loops\nq2,B|C,2,ABCD,Loops\nq3,A+C,1,,Meters\n"
ANSWERS = "student,q1,q2,q3\nana,A,C,c+a\nbo,B,B,A\ncy,A,,A+C\ndi,,D,\n"


def write(folder: Path, name: str, text: str | bytes) -> Path:
    path = folder / name
    path.write_bytes(text.encode() if isinstance(text, str) else text)
    return path


def run(
    folder: Path, answers: str | bytes = ANSWERS, key: str | None = KEY, groups: str | None = None
) -> dict[str, Any]:
    out = folder / "out.json"
    arguments = [str(write(folder, "answers.csv", answers)), "--json", str(out)]
    if key is not None:
        arguments += ["--key", str(write(folder, "key.csv", key))]
    if groups is not None:
        arguments += ["--groups", str(write(folder, "groups.csv", groups))]
    assert cli.main(arguments) == 0
    return dict(json.loads(out.read_text()))


def test_options_alternatives_and_several_letters(tmp_path: Path) -> None:
    out = run(tmp_path)
    assert [item["id"] for item in out["items"]] == ["q1", "q2", "q3"]
    assert out["test"]["students"] == 4
    assert out["test"]["max"] == 4
    # By hand: ana 1+2+1, bo 0+2+0, cy 1+0+1, di 0.
    assert (out["test"]["mean"], out["test"]["max_score"], out["test"]["min"]) == (2.0, 4.0, 0.0)
    assert [item["p"] for item in out["items"]] == [0.5, 0.5, 0.5]
    assert [(o["option"], o["key"], o["count"]) for o in out["items"][1]["options"]] == [
        ("A", False, 0),
        ("B", True, 1),
        ("C", True, 1),
        ("D", False, 1),
    ]
    assert [o["option"] for o in out["items"][2]["options"]] == ["A", "A+C"]
    # cy left q2 out but answered q3; di never came to q3.
    assert [(item["omitted"], item["not_reached"]) for item in out["items"]] == [(1, 0), (1, 0), (0, 1)]
    assert [skill["skill"] for skill in out["skills"]] == ["Loops", "Meters"]


def test_the_shape_is_the_documented_one(tmp_path: Path) -> None:
    out = run(tmp_path)
    assert set(out) == {"test", "items", "ideas", "rasch", "skills", "dif", "reasons"}
    assert set(out["test"]) == {
        "students",
        "items",
        "max",
        "mean",
        "median",
        "sd",
        "min",
        "max_score",
        "q1",
        "q3",
        "skewness",
        "kurtosis",
        "alpha",
        "alpha_low",
        "alpha_high",
        "kr20",
        "kr21",
        "lambda2",
        "split_half",
        "sem",
    }
    assert set(out["items"][0]) == {
        "id",
        "max",
        "p",
        "sd",
        "p_low",
        "p_high",
        "r_total",
        "r_rest",
        "d",
        "d_rest",
        "alpha_without",
        "omitted",
        "not_reached",
        "options",
        "explanations",
        "flags",
    }
    assert set(out["items"][0]["options"][0]) == {
        "option",
        "key",
        "count",
        "share",
        "upper",
        "middle",
        "lower",
        "mean_total",
        "r_rest",
    }
    assert out["rasch"] is None
    assert out["dif"] is None
    assert {"rasch", "dif", "test.kr20"} <= set(out["reasons"])


def test_points_without_a_key(tmp_path: Path) -> None:
    out = run(tmp_path, "student,essay,task\na,3,0.5\nb,,1\nc,4,0\n", key=None)
    assert [item["max"] for item in out["items"]] == [4, 1]
    assert out["items"][0]["p"] == pytest.approx(7 / 12)
    assert out["items"][0]["options"] == []
    assert out["items"][0]["omitted"] == 1


def test_the_same_file_gives_the_same_figures(tmp_path: Path) -> None:
    assert run(tmp_path) == run(tmp_path)


def test_without_json_a_table_is_printed(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    answers, key = write(tmp_path, "a.csv", ANSWERS), write(tmp_path, "k.csv", KEY)
    assert cli.main([str(answers), "--key", str(key)]) == 0
    printed = capsys.readouterr().out
    assert "4 students, 3 items, 4 marks" in printed
    assert "q2" in printed


IDEAS = "item,key,options,idea\nq1,A,4,B=never meets|C=goes round\nq2,B,4,A= goes round\nq3,A,4,\n"


def test_a_key_file_names_ideas_and_explanations_add_up(tmp_path: Path) -> None:
    rows = "".join(
        f"s{n},{letters[0]},{letters[1]},{letters[2]}\n" for n, letters in enumerate(["ABA", "CAA", "CAB"] * 5)
    )
    out = run(tmp_path, "student,q1,q2,q3\n" + rows, IDEAS)
    idea = next(entry for entry in out["ideas"] if entry["idea"] == "goes round")
    assert [(sign["item"], sign["option"], sign["chosen"]) for sign in idea["signs"]] == [
        ("q1", "C", 10),
        ("q2", "A", 10),
    ]
    assert idea["low"] <= idea["expected"] <= idea["high"]
    assert [entry["student"] for entry in idea["students"]] == [f"s{n}" for n in range(15)]
    for item in out["items"]:
        parts = item["explanations"]
        named = [entry["p"] for kind in ("wrong_key", "two_right", "shared_idea") for entry in parts[kind]]
        assert parts["fair"] + parts["guessing"] + sum(named) == pytest.approx(1)
    few = run(tmp_path)
    assert few["items"][0]["explanations"] is None
    assert few["reasons"]["items.q1.explanations"] == "8 students are needed."


def test_a_key_of_marks_alone_gives_points_their_maximum(tmp_path: Path) -> None:
    out = run(tmp_path, "student,essay,task\na,3,0.5\nb,,1\n", "item,max\nessay,6\ntask,1\n")
    assert [(item["max"], item["p"]) for item in out["items"]] == [(6, 0.25), (1, 0.75)]


BAD = {
    "empty": ("", KEY, "answers.csv, line 1, column 1: the file is empty"),
    "no students": ("student,q1,q2,q3\n", KEY, "line 2, column 1: there is a header but no student"),
    "no student column": ("name,q1\nx,A\n", KEY, "line 1, column 1: the first column must be headed"),
    "ragged": ("student,q1,q2,q3\nana,A,B\n", KEY, "answers.csv, line 2, column 4: 3 cells where the header has 4"),
    "too many cells": ("student,q1,q2,q3\nana,A,B,A,A\n", KEY, "line 2, column 5: 5 cells"),
    "unknown letter": (ANSWERS.replace("di,,D", "di,,E"), KEY, "answers.csv, line 5, column 3: “E” is not an option"),
    "not a letter": (ANSWERS.replace("bo,B", "bo,7"), KEY, "answers.csv, line 3, column 2: “7”"),
    "same student twice": (
        ANSWERS + "ana,A,A,A\n",
        KEY,
        "answers.csv, line 6, column 1: student “ana” stands in line 2",
    ),
    "same item twice": (ANSWERS.replace("q3", "q1"), KEY, "line 1, column 4: two items are called “q1”"),
    "nameless student": (ANSWERS + ",A,A,A\n", KEY, "line 6, column 1: a row has no student"),
    "not text": (b"student,q1\nana,\xff\xfe\n", KEY, "answers.csv, line 2, column 1: not UTF-8 text"),
    "broken quotes": ('student,q1\nana,"A\n', KEY, "not readable as CSV"),
    "key for no item": (ANSWERS, KEY + "q9,A,1,4,\n", "key.csv, line 5, column 1: there is no item “q9”"),
    "item without key": (ANSWERS, "item,key\nq1,A\nq2,B\n", "key.csv: no line for item “q3”"),
    "two keys": (ANSWERS, KEY + "q1,B,1,4,\n", "key.csv, line 5, column 1: item “q1” has a key already"),
    "key not an option": (ANSWERS, KEY.replace("q1,A", "q1,F"), "key.csv, line 2, column 2: “F” is not a key"),
    "marks": (ANSWERS, KEY.replace("A,1,4", "A,-1,4"), "key.csv, line 2, column 3: “-1” is not a number of marks"),
    "options": (ANSWERS, KEY.replace("A,1,4", "A,1,1"), "key.csv, line 2, column 4: “1” is neither"),
    "key header": (ANSWERS, "question,answer\n", "key.csv, line 1, column 1: the header has no column “item”"),
    "idea": (ANSWERS, IDEAS.replace("B=", "E="), "key.csv, line 2, column 4: “E=never meets” is not an option"),
    "more points than there are": (
        "student,q1\nana,3\n",
        "item,max\nq1,2\n",
        "answers.csv, line 2, column 2: 3 points for item “q1”, which has 2",
    ),
    "points": (ANSWERS, None, "answers.csv, line 2, column 2: “A” is not a number of points"),
}


@pytest.mark.parametrize("case", BAD)
def test_bad_input_is_named_by_file_line_and_column(
    case: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    answers, key, message = BAD[case]
    arguments = [str(write(tmp_path, "answers.csv", answers))]
    if key is not None:
        arguments += ["--key", str(write(tmp_path, "key.csv", key))]
    assert cli.main(arguments) == cli.MISUSE
    err = capsys.readouterr().err
    assert message in err
    assert "Traceback" not in err


def test_missing_file_and_wrong_groups(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert cli.main([str(tmp_path / "none.csv")]) == cli.MISUSE
    assert "none.csv: cannot be opened" in capsys.readouterr().err
    for groups, message in [
        ("student,group\nana,x\nzed,y\n", "groups.csv, line 3, column 1: there is no student “zed”"),
        ("student,group\nana,x\nana,y\n", "groups.csv, line 3, column 1: student “ana” stands in it twice"),
        ("student,group\nana,\n", "groups.csv, line 2, column 2"),
    ]:
        arguments = [str(write(tmp_path, "a.csv", ANSWERS)), "--key", str(write(tmp_path, "k.csv", KEY))]
        assert cli.main([*arguments, "--groups", str(write(tmp_path, "groups.csv", groups))]) == cli.MISUSE
        assert message in capsys.readouterr().err


def test_a_million_rows_are_refused_at_the_limit(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "many.csv"
    with path.open("w", newline="") as file:
        writer = csv.writer(file)
        writer.writerow(["student", "q1"])
        writer.writerows((n, "A") for n in range(1_000_000))
    assert cli.main([str(path)]) == cli.MISUSE
    assert f"many.csv, line {MAX_STUDENTS + 2}, column 1: more than 250,000 students" in capsys.readouterr().err


REFERENCES = Path(__file__).parent / "references" / "models.json"


def as_csv(rows: list[list[int]]) -> str:
    heads = ",".join(["student", *(f"q{j}" for j in range(1, len(rows[0]) + 1))])
    return "\n".join([heads, *(f"s{i}," + ",".join(map(str, row)) for i, row in enumerate(rows))]) + "\n"


def test_the_scale_and_groups_come_out_as_r_has_them(tmp_path: Path) -> None:
    """`raschdat1` through the shell: difficulties and standard errors of R's eRm (see test_scales.py)."""
    reference = json.loads(REFERENCES.read_text())
    rows = reference["rasch_data"]
    groups = "student,group\n" + "".join(f"s{i},{'one' if i % 2 else 'other'}\n" for i in range(len(rows)))
    out = run(tmp_path, as_csv(rows), None, groups)
    scale = out["rasch"]
    assert scale["model"] == "Rasch"
    assert [item["difficulty"] for item in scale["items"]] == pytest.approx(reference["rasch_beta"], abs=1e-4)
    assert [item["difficulty_se"] for item in scale["items"]] == pytest.approx(reference["rasch_se"], abs=1e-4)
    assert scale["andersen"]["p"] == pytest.approx(reference["rasch_lr"][2], abs=1e-4)
    assert len(scale["persons"]) == len(rows)
    assert all(person["se"] > 0 for person in scale["persons"])
    assert [entry["id"] for entry in out["dif"]] == [f"q{j}" for j in range(1, 31)]
    # The groups were dealt by turns, so nothing large is between them.
    assert [entry["id"] for entry in out["dif"] if entry["class"] == "C"] == []
    assert {"odds_ratio", "chi2", "p", "delta", "class"} <= set(out["dif"][0])
    few = run(tmp_path, as_csv(rows[:24]), None, "student,group\n" + "".join(f"s{i},g{i % 2}\n" for i in range(24)))
    assert "nothing here is certain" in few["reasons"]["dif"]


def test_steps_make_it_partial_credit(tmp_path: Path) -> None:
    reference = json.loads(REFERENCES.read_text())
    out = run(tmp_path, as_csv(reference["pcm_data"]), None)
    assert out["rasch"]["model"] == "partial credit"
    items = [value for item in out["rasch"]["items"] for value in item["thresholds"]]
    assert items == pytest.approx(reference["pcm_psychotools"], abs=1e-4)
    assert "Needs items of one mark each" in out["reasons"]["test.kr20"]


def test_a_page_and_a_workbook_hold_the_same_figures(tmp_path: Path) -> None:
    """Opened again: the workbook by openpyxl, the page by the standard library's parser; what looks like a formula or a
    tag is text."""
    rows = "".join(f"=s{i},{i % 2},{i % 3}\n" for i in range(24))
    answers = write(tmp_path, "answers.csv", f"student,=1+1,<b>q2</b>\n{rows}")
    page, book, out = (tmp_path / name for name in ("out.html", "out.xlsx", "out.json"))
    assert cli.main([str(answers), "--html", str(page), "--xlsx", str(book), "--json", str(out)]) == 0
    figures = json.loads(out.read_text())
    sheets = load_workbook(book)
    assert sheets.sheetnames[:2] == ["Test", "Items"]
    items = list(sheets["Items"].iter_rows(min_row=2, values_only=True))
    assert [row[0] for row in items] == ["=1+1", "<b>q2</b>"]
    assert all(cell.data_type != "f" for sheet in sheets for row in sheet.iter_rows() for cell in row)
    assert [row[2] for row in items] == pytest.approx([item["p"] for item in figures["items"]])
    test = dict(sheets["Test"].iter_rows(min_row=2, values_only=True, max_col=2))
    assert test["alpha"] == pytest.approx(figures["test"]["alpha"])

    class Texts(HTMLParser):
        def __init__(self) -> None:
            super().__init__()
            self.cells, self.tags = list[str](), set[str]()

        def handle_starttag(self, tag: str, attrs: Any) -> None:
            self.tags.add(tag)

        def handle_data(self, data: str) -> None:
            self.cells.append(data)

    texts = Texts()
    texts.feed(page.read_text())
    assert "<b>q2</b>" in texts.cells
    assert "script" not in texts.tags
    assert "24 students, 2 items" in page.read_text()
