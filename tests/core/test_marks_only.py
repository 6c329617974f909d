"""Marks of a test given elsewhere: how they are typed, described, read from tables, and what is computed of them."""

import csv
import io
from typing import Any

import pingouin
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from versomark.core.editions import (
    Edition,
    ExternalAssessment,
    ExternalGroup,
    description_problems,
    edition_described,
    is_described,
    student_paper,
)
from versomark.core.findings import analyse
from versomark.core.formats.marks_table import (
    MarksColumn,
    MarksStudent,
    ReadMarks,
    groups_from_table,
    mark_refused,
    points_typed,
    read_marks,
)
from versomark.core.formats.tables import read_tables, read_text_table
from versomark.core.items import ItemResponse, TrueFalseResponse, read_response
from versomark.core.items.marks_only import MarksOnly, MarksOnlyResponse
from versomark.core.scoring import score


def group(label: str = "1", marks: float | None = 4, **more: Any) -> ExternalGroup:
    return ExternalGroup(ref=label.encode().hex()[:30] or "0", label=label, marks=marks, **more)


def edition(*labelled: tuple[str, float], half_marks: bool = False) -> Edition:
    described = ExternalAssessment(groups=[group(*entry) for entry in labelled], half_marks=half_marks)
    assert description_problems("T", described) == []
    return edition_described("T", described)


def columns(of: Edition) -> list[MarksColumn]:
    return [MarksColumn(item.ref, item.content) for item in of.items() if isinstance(item.content, MarksOnly)]


STUDENTS = [
    MarksStudent(11, 1, "Ines", "Almeida", "A7"),
    MarksStudent(12, 2, "Bram", "de Vries"),
    MarksStudent(13, 3, "Suri", ""),
    MarksStudent(14, 4, "Ines", "Almeida"),
]
PAPER = edition(("1–2a", 6), ("2b", 4), ("3", 12), half_marks=True)
REFS = {column.content.label: column.ref for column in columns(PAPER)}


def read(text: str, paper: Edition = PAPER) -> ReadMarks:
    return read_marks(read_text_table(text), columns(paper), STUDENTS)


# Usual ways of writing a half mark, common practice, no source.
@pytest.mark.parametrize(
    ("typed", "points"),
    [("3", 3), (" 12 ", 12), ("3.5", 3.5), ("3,5", 3.5), ("3½", 3.5), ("½", 0.5), ("0", 0), ("2 ½", 2.5), ("4.0", 4)],
)
def test_a_mark_is_read_as_people_write_it(typed: str, points: float) -> None:
    assert points_typed(typed) == points


@pytest.mark.parametrize(
    "typed", ["", "-1", "3.25", "nan", "inf", "1e2", "three", "3/4", "1.2.3", "½½", "9999", "٣٫٥x"]
)
def test_what_is_no_mark_is_none(typed: str) -> None:
    assert points_typed(typed) is None


@given(st.integers(2, 200).map(lambda halves: halves / 2), st.booleans(), st.integers(0, 250).map(lambda n: n / 2))
def test_a_mark_stands_up_to_its_maximum_and_says_why_beyond(top: float, halves: bool, points: float) -> None:
    content = MarksOnly(label="5", marks=top, half_marks=halves)
    may = points <= top and (halves or points == int(points))
    assert (mark_refused(content, points) == "") == may
    if may:
        response = MarksOnlyResponse(points=points)
        content.fits(response)
        assert content.score(response) == points
        assert content.given(response)
        assert content.says(response) == f"{points:g}"
    elif points <= 100:
        with pytest.raises(ValueError, match="5"):
            content.fits(MarksOnlyResponse(points=points))


def test_a_zero_is_a_mark_and_an_empty_cell_is_none() -> None:
    content = MarksOnly(label="5", marks=4)
    assert content.given(MarksOnlyResponse(points=0))
    assert not content.given(None)
    assert content.score(None) == 0
    for wrong in (-1, 0.25, 101, float("nan")):
        with pytest.raises(ValidationError):
            MarksOnlyResponse(points=wrong)
    with pytest.raises(ValueError, match="does not belong"):
        content.fits(TrueFalseResponse(value=True))


def test_a_description_says_what_is_missing_and_passes_over_empty_lines() -> None:
    assert description_problems(" ", ExternalAssessment()) == [
        "The test has no title yet.",
        "No question is described yet.",
    ]
    rough = ExternalAssessment(
        groups=[group("1", None), group("1", 2.5), ExternalGroup(ref="ab", marks=3), ExternalGroup(ref="cd")]
    )
    assert description_problems("T", rough) == [
        "1 has no maximum.",
        "1 has a maximum of 2.5, but half marks are not given in this test.",
        "Line 3 has no label.",
        "Two lines are called 1.",
        "Two lines have the same reference.",
    ]
    made = edition(("1", 2.5), ("2", 3), half_marks=True)
    assert made.total_marks == 5.5
    assert is_described(made)


def test_students_see_label_and_maximum_and_neither_skills_nor_what_follows() -> None:
    described = ExternalAssessment(
        groups=[group("2b", 3, about="Oil on water", skills=["Secret skill"], follow_up="Secret next")]
    )
    shown = student_paper(edition_described("T", described)).model_dump_json()
    assert "2b" in shown
    assert "Oil on water" in shown
    assert "Secret" not in shown


def test_lines_of_a_spreadsheet_become_lines_of_the_description() -> None:
    text = "Question\tOut of\tSkills\n1–2a\t6\tDensity; Units ;Density\tOil\tAgain?\n\n2b\t\n3\tlots\n4\t2,5\n"
    groups, wrong = groups_from_table(read_text_table(text))
    assert [(g.label, g.marks, g.skills, g.about, g.follow_up) for g in groups] == [
        ("1–2a", 6, ["Density", "Units"], "Oil", "Again?"),
        ("2b", None, [], "", ""),
        ("4", 2.5, [], "", ""),
    ]
    assert wrong == ["Line 5: “lots” is no maximum; it is a number up to 100."]


def test_a_table_of_marks_names_students_in_any_of_the_usual_ways() -> None:
    by_name = read('Name,1-2a,2b,3\nBram de Vries,5,4,11.5\n"Almeida, Ines",1,1,1\nSuri,,0,\n')
    assert by_name.marks == {
        (12, REFS["1–2a"]): 5, (12, REFS["2b"]): 4, (12, REFS["3"]): 11.5, (13, REFS["2b"]): 0,
    }  # fmt: skip
    assert by_name.refused == ["Line 3: several students are called Ines Almeida."]
    by_desk = read("2b\tDesk\tName\n3\t4\tInes Almeida\n")
    assert by_desk.marks == {(14, REFS["2b"]): 3}
    assert by_desk.missing == ["1–2a", "3"]
    by_number = read("Student ID;Surname;First name;2b;Grade\nA7;Nobody;Known;2;B\n")
    assert by_number.marks == {(11, REFS["2b"]): 2}
    assert by_number.unknown == ["Grade"]
    desk_only = read("Desk,2b\n2,3\n9,1\n")
    assert desk_only.marks == {(12, REFS["2b"]): 3}
    assert desk_only.refused == ["Line 3: 9 is not on the list."]


def test_what_cannot_stand_is_named_and_the_rest_is_taken() -> None:
    result = read(
        "Name,1–2a,2b,3,Total\nMaximum,6,4,12,22\nSuri,7,x,12,12\nBram de Vries,a,,,\nSuri,1,1,1,3\nAverage,3,3,3,3\n"
    )
    assert result.marks == {(13, REFS["3"]): 12}
    assert result.absences == {12: "absent"}
    assert result.unknown == []
    assert result.refused == [
        "Suri, 1–2a: “7”. 1–2a has at most 6.",
        "Suri, 2b: “x”. A mark is a number, in halves at most.",
        "Line 5: Suri stands on line 3 already.",
    ]
    both = read("Name,1–2a,2b\nBram de Vries,5,excused\n")
    assert both.marks == {(12, REFS["1–2a"]): 5}
    assert both.absences == {}
    assert both.refused == ["Bram de Vries has marks, and is said to be away; the marks are taken."]
    assert "label of the test, such as 1–2a, 2b, 3" in read("Name,9\nSuri,1\n").refused[0]
    assert "whose marks" in read("1–2a,2b\n1,2\n").refused[0]
    assert read("Name,2b,2B\nSuri,1,3\n").refused == ["Two columns are called 2b; the right one is taken."]


NAMES = st.text(st.characters(categories=["L"], max_codepoint=0x17F), min_size=1, max_size=9)


@given(
    st.lists(st.tuples(NAMES, NAMES), min_size=1, max_size=8, unique_by=lambda n: f"{n[0]} {n[1]}".casefold()),
    st.data(),
)
def test_any_grid_written_as_a_table_is_read_as_it_was(names: list[tuple[str, str]], data: st.DataObject) -> None:
    students = [MarksStudent(100 + n, n, given, family) for n, (given, family) in enumerate(names, start=1)]
    cells = {
        (student.key, column.ref): data.draw(st.integers(0, int(2 * column.content.marks)).map(lambda n: n / 2))
        for student in students
        for column in columns(PAPER)
        if data.draw(st.booleans())
    }
    text = io.StringIO()
    writer = csv.writer(text, delimiter=data.draw(st.sampled_from(",;\t")))
    writer.writerow(["Desk", "Given name", "Family name", *REFS])
    for student in students:
        row = [f"{cells[student.key, ref]:g}" if (student.key, ref) in cells else "" for ref in REFS.values()]
        writer.writerow([student.desk, student.given_name, student.family_name, *row])
    marks = read_marks(read_tables("m.csv", text.getvalue().encode())[0], columns(PAPER), students)
    assert marks.marks == cells
    assert marks.refused == []


def test_marks_keyed_in_give_the_alpha_of_a_worked_example() -> None:
    """The questionnaire of Cohen, Manion and Morrison (2007) as pingouin ships it: eleven answers of ten people on a
    scale to 7, entered here as marks. pingouin's documentation prints alpha .592 for it; its code is run as well."""
    long = pingouin.read_dataset("cronbach_alpha")
    wide = long.pivot_table(index="Subj", columns="Items", values="Scores")
    paper = edition(*[(str(name), 7.0) for name in wide.columns])
    refs = [item.ref for item in paper.items()]
    responses: dict[str, dict[str, ItemResponse]] = {
        str(subject): {
            ref: read_response({"kind": "marks_only", "points": float(value)})
            for ref, value in zip(refs, row, strict=True)
        }
        for subject, row in zip(wide.index, wide.to_numpy(), strict=True)
    }
    table = score(paper, responses)
    analysis, _ = analyse(table)
    alpha = analysis.test.alpha
    assert alpha is not None
    assert alpha == pytest.approx(pingouin.cronbach_alpha(data=wide)[0], abs=1e-9)
    assert alpha == pytest.approx(0.592, abs=5e-4)
    assert table.points.tolist() == wide.to_numpy().tolist()


def test_a_student_called_max_is_no_line_of_maxima() -> None:
    students = [MarksStudent(1, 1, "Max", ""), MarksStudent(2, 2, "Total", "Mean")]
    marks = read_marks(
        read_text_table('Name,2b\nMax,3\nMean Total,1\n"Mean, Total",2\nMaximum,4\n'), columns(PAPER), students
    )
    assert marks.marks == {(1, REFS["2b"]): 3, (2, REFS["2b"]): 2}
    assert marks.refused == []
