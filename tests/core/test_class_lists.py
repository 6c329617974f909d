"""Class lists from the files schools really have, and files that mean harm."""

import io
import zipfile

import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook

from versomark.core.formats import class_lists, oneroster, untrusted
from versomark.core.formats.class_lists import column_letter, guess, read_students
from versomark.core.formats.oneroster import SentClass, SentStudent, read_bundle, write_bundle
from versomark.core.formats.tables import Sheet, read_tables, read_text_table
from versomark.core.formats.untrusted import SafeZip, UnreadableFileError, read_xml

MESSY = """Kestrel Bay School;;;;;
Printed 3 September;;;;;
;;;;;
No.;Nachname;Vorname;Student ID;Extra time;Large print
1;de Vries;Bram;K-104;25%;
2;Okafor;Wren;K-105;;yes
;;;;;
3;;;K-106;;
4;Diallo;Malik;K-104;;
x;Rask;Tobias;K-108;abc;maybe
"""


def test_a_messy_list_is_read_with_every_problem_named_by_line_and_column() -> None:
    (sheet,) = read_tables("list.csv", MESSY.encode("cp1252"))
    result = guess(sheet)
    assert result.header == 3
    assert result.columns == ["desk", "family_name", "given_name", "number", "extra_time", "large_print"]
    read = read_students(sheet, result.header, result.columns)
    assert [(s.line, s.given_name, s.family_name, s.desk, s.extra_time, s.large_print) for s in read.students] == [
        (5, "Bram", "de Vries", 1, 25, False),
        (6, "Wren", "Okafor", 2, None, True),
    ]  # fmt: skip
    assert [(w.line, w.column, w.says) for w in read.wrong] == [
        (8, "C", "There is no name on this line."),
        (9, "C", "Malik Diallo stands on line 5 already."),
        (10, "A", "“x” is not a desk number from 1 to 999."),
        (10, "E", "“abc” is not a percentage from 0 to 200."),
        (10, "F", "“maybe” is neither yes nor no."),
    ]


@pytest.mark.parametrize(
    ("text", "names"),
    [
        ("Wren Okafor\nDiallo, Malik\nCher", [("Wren", "Okafor"), ("Malik", "Diallo"), ("Cher", "")]),
        ("1\tWren\tOkafor\n2\tMalik\tDiallo", [("Wren", "Okafor"), ("Malik", "Diallo")]),
        ('Pupil,Class\n"Okafor, Wren",8 Heron', [("Wren", "Okafor")]),
        ("First name|Surname\nWren|Okafor", [("Wren", "Okafor")]),
        ("\ufeffPrénom;Nom\nÉlodie;Lefèvre", [("Élodie", "Lefèvre")]),
    ],
)
def test_what_is_pasted_is_understood_without_help(text: str, names: list[tuple[str, str]]) -> None:
    sheet = read_text_table(text)
    result = guess(sheet)
    read = read_students(sheet, result.header, result.columns)
    assert [(s.given_name, s.family_name) for s in read.students] == names
    assert read.wrong == []


def test_a_workbook_is_read_sheet_by_sheet() -> None:
    book = Workbook()
    book.active.append(["Name", "Desk"])  # type: ignore[union-attr]
    book.active.append(["Wren Okafor", 7.0])  # type: ignore[union-attr]
    book.create_sheet("Empty")
    out = io.BytesIO()
    book.save(out)
    (sheet,) = read_tables("list.xlsx", out.getvalue())
    assert sheet.rows == [["Name", "Desk"], ["Wren Okafor", "7"]]


@given(st.lists(st.lists(st.text(max_size=6), max_size=4), max_size=5), st.none() | st.integers(0, 4))
def test_no_table_breaks_the_reader(rows: list[list[str]], header: int | None) -> None:
    width = max(map(len, rows), default=0)
    sheet = Sheet("s", [(row + [""] * width)[:width] for row in rows])
    read_students(sheet, header, guess(sheet).columns)


def test_columns_are_lettered_as_a_spreadsheet_does() -> None:
    assert [column_letter(at) for at in (0, 25, 26, 51, 701, 702)] == ["A", "Z", "AA", "AZ", "ZZ", "AAA"]


def test_two_columns_cannot_be_the_same_thing_and_names_are_needed() -> None:
    sheet = Sheet("s", [["a", "b"]])
    assert (
        "Two columns are matched to given name"
        in read_students(sheet, None, ["given_name", "given_name"]).wrong[0].says
    )
    assert "No column is matched" in read_students(sheet, None, ["desk", None]).wrong[0].says


def zipped(**files: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, data in files.items():
            packed.writestr(name, data)
    return out.getvalue()


@given(
    st.lists(
        st.tuples(st.text("abcdé' -", min_size=1, max_size=9).map(str.strip).filter(bool), st.text("xyzß", max_size=9)),
        max_size=6,
    )
)
def test_a_oneroster_bundle_we_wrote_is_read_the_same(names: list[tuple[str, str]]) -> None:
    students = [SentStudent(f"s{k}", " ".join(given.split()), family) for k, (given, family) in enumerate(names)]
    (roster,) = read_bundle(write_bundle("Bay", [SentClass("c1", "8 Heron", students)]))
    assert (roster.name, roster.wrong) == ("8 Heron", [])
    assert {(s.number, s.given_name, s.family_name) for s in roster.students} == {
        (s.identifier, s.given_name, s.family_name) for s in students
    }


def test_a_bundle_of_another_system_is_read_by_the_standard() -> None:
    """Columns and values of 1EdTech's OneRoster 1.2 CSV binding (from memory): other order, teachers, some to go."""
    bundle = zipped(
        **{
            "manifest.csv": b"propertyName,value\noneroster.version,1.2\nfile.classes,bulk\nfile.users,bulk\n",
            "classes.csv": b"sourcedId,status,dateLastModified,title\nc1,,,Maths 9\nc2,tobedeleted,,Gone\n",
            "users.csv": b"familyName,givenName,sourcedId,status,preferredGivenName\n"
            b"Okafor,Wrenna,u1,,Wren\nLeft,Ann,u2,tobedeleted,\nMark,Tea,t1,,\n",
            "enrollments.csv": b"sourcedId,classSourcedId,userSourcedId,role,status\n"
            b"e1,c1,u1,student,\ne2,c1,t1,teacher,\ne3,c1,u2,student,\ne4,c1,u9,student,\n",
        }
    )
    assert oneroster.looks_like_a_bundle(bundle)
    (roster,) = read_bundle(bundle)
    assert [(s.given_name, s.family_name, s.number) for s in roster.students] == [("Wren", "Okafor", "u1")]
    assert [wrong.line for wrong in roster.wrong] == [4, 5]
    with pytest.raises(UnreadableFileError, match="of OneRoster version"):
        read_bundle(zipped(**{"manifest.csv": b"propertyName,value\noneroster.version,1.0\n"}))
    with pytest.raises(UnreadableFileError, match="has no users"):
        read_bundle(
            zipped(**{"manifest.csv": b"propertyName,value\noneroster.version,1.2\n", "classes.csv": b"sourcedId\n"})
        )


def test_hostile_zips_are_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    for name in ("../evil", "/etc/passwd", "a/../../b", "..\\evil", "C:\\evil"):
        with pytest.raises(UnreadableFileError, match="outside its folder"):
            SafeZip(zipped(**{name: b"x"}))
    with pytest.raises(UnreadableFileError, match="not a whole zip"):
        SafeZip(zipped(a=b"x" * 99)[:40])
    bomb = zipped(bomb=b"0" * 60_000_000)
    assert len(bomb) < 100_000
    with pytest.raises(UnreadableFileError, match="too large"):
        SafeZip(bomb).read("bomb")
    with pytest.raises(UnreadableFileError, match="larger than 200 MB"):
        SafeZip(zipped(**{f"b{k}": b"0" * 45_000_000 for k in range(5)}))
    monkeypatch.setattr(untrusted, "MOST_FILES", 50)
    with pytest.raises(UnreadableFileError, match="holds 60 files"):
        SafeZip(zipped(**{f"f{k}": b"" for k in range(60)}))


def test_a_zip_that_lies_about_its_sizes_is_counted_as_it_unpacks() -> None:
    data = bytearray(zipped(a=b"0" * 60_000_000))
    size = (60_000_000).to_bytes(4, "little")
    while size in data:
        at = data.index(size)
        data[at : at + 4] = (10).to_bytes(4, "little")
    with pytest.raises(UnreadableFileError):
        SafeZip(bytes(data)).read("a")


@pytest.mark.parametrize(
    "xml",
    [
        b'<!DOCTYPE a [<!ENTITY x "y">]><a>&x;</a>',
        b'<!DOCTYPE a SYSTEM "http://elsewhere/a.dtd"><a/>',
        b'<!DOCTYPE a [<!ENTITY x SYSTEM "file:///etc/passwd">]><a>&x;</a>',
        b"<a><b></a>",
        b"",
        b"<a>" * 200 + b"</a>" * 200,
        b"<a>" + b"x" * 9_000_000 + b"</a>",
    ],
)
def test_hostile_xml_is_refused(xml: bytes) -> None:
    with pytest.raises(UnreadableFileError):
        read_xml(xml)


def test_tables_that_are_none_are_refused_in_words() -> None:
    for data, words in [
        (b"", "empty"),
        (b"\xd0\xcf\x11\xe0old", "old Excel"),
        (b"PK\x03\x04broken", "not a whole zip"),
        (zipped(a=b"x"), "not a workbook"),
        (b"a\x00b", "not a table"),
        (b"x\n" * 25_001, "25,000 rows"),
        (b"," * 300 + b"x\n", "too many columns"),
    ]:
        with pytest.raises(UnreadableFileError, match=words):
            read_tables("f", data)
    assert class_lists.words("number") == "student number"


@pytest.mark.parametrize("heading", ["E-mail", "Email address", "School e-mail", "student mail"])
def test_addresses_are_found_by_any_usual_heading_and_wrong_ones_are_named(heading: str) -> None:
    lines = ["Wren;wren@school.example", "Malik;", "Ines;ines at school", "Otis;a@b.c, d@e.f", "Yuna;y@mail"]
    (sheet,) = read_tables("list.csv", "\n".join([f"Given name;{heading}", *lines]).encode())
    result = guess(sheet)
    assert result.columns == ["given_name", "email"]
    read = read_students(sheet, result.header, result.columns)
    assert [(student.given_name, student.email) for student in read.students] == [
        ("Wren", "wren@school.example"),
        ("Malik", ""),
    ]
    assert [(entry.line, entry.column, entry.says) for entry in read.wrong] == [
        (4, "B", "“ines at school” is not a mail address."),
        (5, "B", "“a@b.c, d@e.f” is not a mail address."),
        (6, "B", "“y@mail” is not a mail address."),
    ]


@given(st.emails())
def test_an_address_goes_out_in_a_bundle_and_comes_back(address: str) -> None:
    """Hypothesis makes addresses by RFC 5322; those with signs that a letter's head parts at are not ours."""
    sent = SentClass("c1", "8 Heron", [SentStudent("s1", "Wren", "Okafor", address), SentStudent("s2", "A", "B")])
    (roster,) = read_bundle(write_bundle("Bay", [sent]))
    assert {student.given_name: student.email for student in roster.students} == {"Wren": address, "A": ""}
    broken = SentClass("c1", "8 Heron", [SentStudent("s1", "Wren", "Okafor", "not an address")])
    assert read_bundle(write_bundle("Bay", [broken]))[0].students[0].email == ""
