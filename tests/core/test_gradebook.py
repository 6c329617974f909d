"""The gradebook of a OneRoster bundle, for any class: read back as CSV, every reference leads somewhere, every cell is
what went in (1EdTech, OneRoster 1.2 CSV; columns from memory)."""

import csv
import io
import zipfile
from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st

from versomark.core.formats.oneroster import (
    SentClass,
    SentGradebook,
    SentLineItem,
    SentResult,
    SentStudent,
    read_bundle,
    write_bundle,
)

text = st.text(st.characters(codec="utf-8", exclude_categories=["Cs", "Cc"]), min_size=1, max_size=12).map(str.strip)
names = text.filter(bool)
STATUS = st.sampled_from(["fully graded", "partially graded", "not submitted", "exempt"])


@st.composite
def gradebooks(draw: st.DrawFn) -> tuple[SentClass, SentGradebook]:
    students = [
        SentStudent(f"s{at}", given_name, "Name", "") for at, given_name in enumerate(draw(st.lists(names, max_size=4)))
    ]
    categories = [
        (f"c{at}", name, draw(st.floats(0, 9))) for at, name in enumerate(draw(st.lists(names, min_size=1, max_size=3)))
    ]
    items = [
        SentLineItem(
            f"i{at}",
            title,
            date(2026, 1, 1) + timedelta(days=draw(st.integers(0, 300))),
            draw(st.sampled_from(categories))[0],
            draw(st.integers(1, 60)),
        )
        for at, title in enumerate(draw(st.lists(names, max_size=4)))
    ]
    results = [
        SentResult(
            item.identifier,
            student.identifier,
            draw(STATUS),
            draw(st.none() | st.integers(0, 120).map(lambda half: half / 2)),
            draw(st.booleans()),
            draw(st.booleans()),
            draw(st.sampled_from(["", "A", "not yet"])),
        )
        for item in items
        for student in students
    ]
    return SentClass("k", draw(names), students), SentGradebook(categories, items, results)


def tables_in(bundle: bytes) -> dict[str, list[dict[str, str]]]:
    packed = zipfile.ZipFile(io.BytesIO(bundle))
    return {
        name.removesuffix(".csv"): list(csv.DictReader(io.StringIO(packed.read(name).decode(), newline="")))
        for name in packed.namelist()
    }


@given(gradebooks())
def test_every_reference_leads_somewhere_and_every_cell_is_what_went_in(
    sent: tuple[SentClass, SentGradebook],
) -> None:
    one, gradebook = sent
    bundle = write_bundle("School", [one], gradebook)
    tables = tables_in(bundle)
    stated = {row["propertyName"]: row["value"] for row in tables.pop("manifest")}
    assert {name for name in tables if stated[f"file.{name}"] == "bulk"} == set(tables)
    ids = {name: [row["sourcedId"] for row in rows] for name, rows in tables.items()}
    for name, rows in tables.items():
        assert len(set(ids[name])) == len(rows), name
    for row in tables["lineItems"]:
        assert row["classSourcedId"] in ids["classes"]
        assert row["categorySourcedId"] in ids["categories"]
    for row in tables["results"]:
        assert row["lineItemSourcedId"] in ids["lineItems"]
        assert row["studentSourcedId"] in ids["users"]
    assert [(row["title"], float(row["resultValueMax"])) for row in tables["lineItems"]] == [
        (item.title, item.most) for item in gradebook.line_items
    ]
    results = [
        (row["scoreStatus"], row["score"], row["late"], row["missing"], row["textScore"]) for row in tables["results"]
    ]
    yes = {True: "true", False: "false"}
    assert results == [
        (each.status, "" if each.score is None else f"{each.score:g}", yes[each.late], yes[each.missing], each.word)
        for each in gradebook.results
    ]
    # A school that reads class lists only finds the same class in it.
    (again,) = read_bundle(bundle)
    assert len(again.students) == len(one.students)


@given(gradebooks())
def test_without_a_gradebook_a_bundle_is_the_class_alone(sent: tuple[SentClass, SentGradebook]) -> None:
    tables = tables_in(write_bundle("School", [sent[0]]))
    stated = {row["propertyName"]: row["value"] for row in tables["manifest"]}
    assert not {"results", "lineItems", "categories"} & set(tables)
    assert all(stated[f"file.{name}"] == "absent" for name in ("results", "lineItems", "categories"))
