"""A class with all it has earned as a OneRoster bundle, for the school's own records."""

from versomark.core.formats.oneroster import (
    SentClass,
    SentGradebook,
    SentLineItem,
    SentResult,
    SentStudent,
    write_bundle,
)
from versomark.school.classes.public import SchoolClass, places_of

from .class_record import record_of
from .standing import RecordCell

OTHER = "verso-category-other"


def bundle_of(school_class: SchoolClass) -> bytes:
    """Every sitting that counts as a line item, each total as a result; not one of which nobody has a
    total yet."""
    record = record_of(school_class)
    students = {place.student_id: place.student for place in places_of(school_class)}
    named = {pk: student.number or f"verso-{pk}" for pk, student in students.items()}
    known = [
        SentStudent(named[pk], student.given_name, student.family_name, student.email)
        for pk, student in students.items()
    ]
    items, results = list[SentLineItem](), list[SentResult]()
    for at, sitting in enumerate(record.sittings):
        cells = {row.student: cell for row in record.students if (cell := row.cells[at]) is not None}
        most = max((cell.of for cell in cells.values() if cell.of is not None), default=None)
        if most is None or not sitting.counts:
            continue
        identifier = f"verso-sitting-{sitting.id}"
        category = f"verso-category-{sitting.category}" if sitting.category else OTHER
        items.append(SentLineItem(identifier, sitting.title, sitting.held_on, category, most))
        results += [_result(identifier, named[student], cell) for student, cell in cells.items()]
    categories = [(f"verso-category-{category.id}", category.name, category.weight) for category in record.categories]
    gradebook = SentGradebook([*categories, (OTHER, "Other", record.rules.other_weight)], items, results)
    sent = SentClass(f"verso-class-{school_class.pk}", school_class.name, known)
    return write_bundle(school_class.owner.school.name, [sent], gradebook)


def _result(item: str, student: str, cell: RecordCell) -> SentResult:
    status = {
        "": "fully graded",
        "waiting": "partially graded",
        "excused": "exempt",
        "absent": "not submitted",
        "missing": "not submitted",
    }[cell.word]
    return SentResult(item, student, status, cell.total, cell.late, cell.word == "missing", cell.said)
