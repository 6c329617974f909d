"""OneRoster 1.2 CSV bundles (1EdTech, “OneRoster CSV Binding”, version 1.2): class lists in and out."""

import csv
import io
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date

from versomark.core.names import full_name

from .class_lists import StudentRow, Wrong
from .mail_address import is_mail_address
from .tables import read_text_table
from .untrusted import SafeZip, UnreadableFileError

VERSION = "1.2"
_FILES = (
    "academicSessions", "categories", "classes", "classResources", "courses", "courseResources", "demographics",
    "enrollments", "lineItemLearningObjectiveIds", "lineItems", "lineItemScoreScales", "orgs", "resources",
    "resultLearningObjectiveIds", "results", "resultScoreScales", "roles", "scoreScales", "userProfiles",
    "userResources", "users",
)  # fmt: skip


@dataclass(frozen=True)
class RosterClass:
    """A class of a bundle with its students."""

    identifier: str
    name: str
    students: list[StudentRow]
    wrong: list[Wrong]
    left_out: list[str] = field(default_factory=list)
    """Who is not brought in because the bundle says that they are not enabled, or not enrolled today."""


def looks_like_a_bundle(data: bytes) -> bool:
    """Whether this is a zip with a OneRoster manifest."""
    if not data.startswith(b"PK"):
        return False
    try:
        return any(name.rsplit("/", 1)[-1] == "manifest.csv" for name in SafeZip(data).names)
    except UnreadableFileError:
        return False


def read_bundle(data: bytes, today: date | None = None) -> list[RosterClass]:
    """The active classes of a bundle and their active students, by class name.

    today: enrolments that have ended before it, or begin after it, are left out and named. Raises Refused.
    """
    packed = SafeZip(data)
    named = next((name for name in packed.names if name.rsplit("/", 1)[-1] == "manifest.csv"), None)
    if named is None:
        raise UnreadableFileError("This zip has no manifest.csv, so it is no OneRoster bundle.")
    folder = named[: -len("manifest.csv")]
    manifest = {row.get("propertyname", ""): row.get("value", "") for row in _rows(packed, f"{folder}manifest.csv")}
    version = manifest.get("oneroster.version", "")
    if version not in ("1.2", "1.1"):
        raise UnreadableFileError(f"This bundle is of OneRoster version {version or 'unknown'}; 1.2 is read.")
    for wanted in ("classes", "users", "enrollments"):
        if manifest.get(f"file.{wanted}") == "absent" or f"{folder}{wanted}.csv" not in packed.names:
            raise UnreadableFileError(f"This bundle has no {wanted}.csv.")
    users = {row.get("sourcedid", ""): row for row in _rows(packed, f"{folder}users.csv") if _active(row)}
    members: dict[str, list[tuple[int, str]]] = {}
    outside: dict[str, list[str]] = {}
    for line, row in enumerate(_rows(packed, f"{folder}enrollments.csv"), start=2):
        if _active(row) and row.get("role", "") == "student":
            of_class, user = row.get("classsourcedid", ""), row.get("usersourcedid", "")
            why = _why_not(users.get(user), row, today)
            if why:
                outside.setdefault(of_class, []).append(f"{_full_name(users.get(user), user)}, {why}")
            else:
                members.setdefault(of_class, []).append((line, user))
    roster_classes = []
    for row in _rows(packed, f"{folder}classes.csv"):
        if _active(row):
            students, wrong = _students(members.get(row.get("sourcedid", ""), []), users)
            name = row.get("title", "") or row.get("classcode", "") or row.get("sourcedid", "")
            left_out = list(dict.fromkeys(outside.get(row.get("sourcedid", ""), [])))
            roster_classes.append(RosterClass(row.get("sourcedid", ""), name[:60], students, wrong, left_out))
    return sorted(roster_classes, key=lambda roster: roster.name)


def _why_not(user: dict[str, str] | None, enrollment: dict[str, str], today: date | None) -> str:
    """Why somebody is not brought in; nothing where they are. Names of columns from memory of the standard."""
    if user is not None and user.get("enableduser", "").casefold() == "false":
        return "not enabled"
    begins, ends = (_day(enrollment.get(name, "")) for name in ("begindate", "enddate"))
    if today is not None and ends is not None and ends < today:
        return f"not enrolled since {ends:%Y-%m-%d}"
    if today is not None and begins is not None and begins > today:
        return f"not enrolled before {begins:%Y-%m-%d}"
    return ""


def _day(text: str) -> date | None:
    try:
        return date.fromisoformat(text[:10])
    except ValueError:
        return None


def _full_name(user: dict[str, str] | None, identifier: str) -> str:
    given, family = (user or {}).get("givenname", ""), (user or {}).get("familyname", "")
    return full_name(given, family) or identifier


def _students(
    members: Sequence[tuple[int, str]], users: dict[str, dict[str, str]]
) -> tuple[list[StudentRow], list[Wrong]]:
    students, wrong, seen = list[StudentRow](), list[Wrong](), set[str]()
    for line, sourced_id in members:
        user = users.get(sourced_id)
        if user is None:
            wrong.append(Wrong(line, "userSourcedId", f"enrollments.csv names {sourced_id}, who is not in users.csv."))
        elif sourced_id not in seen:
            seen.add(sourced_id)
            given = user.get("preferredgivenname") or user.get("givenname", "")
            family = user.get("preferredfamilyname") or user.get("familyname", "")
            if not (given or family):
                wrong.append(Wrong(line, "givenName", f"{sourced_id} has no name in users.csv."))
                continue
            if user.get("email") and not _address(user):
                wrong.append(
                    Wrong(line, "email", f"“{user['email'][:80]}” of {given or family} is not a mail address.")
                )
            students.append(
                StudentRow(line, (given or family)[:60], family[:60] if given else "", sourced_id, _address(user))
            )
    return sorted(students, key=lambda student: (student.family_name, student.given_name)), wrong


def _address(user: dict[str, str]) -> str:
    """The mail address, where it is one."""
    email = user.get("email", "")
    return email if is_mail_address(email) else ""


def _active(row: dict[str, str]) -> bool:
    # In a bulk file the status is empty; in a delta it says which rows go.
    return row.get("status", "") != "tobedeleted"


def _rows(packed: SafeZip, name: str) -> list[dict[str, str]]:
    sheet = read_text_table(packed.read(name).decode("utf-8-sig", errors="replace"), name)
    if not sheet.rows:
        return []
    heads = [head.casefold() for head in sheet.rows[0]]
    return [dict(zip(heads, row, strict=False)) for row in sheet.rows[1:]]


@dataclass(frozen=True)
class SentStudent:
    identifier: str
    given_name: str
    family_name: str
    email: str = ""


@dataclass(frozen=True)
class SentClass:
    identifier: str
    name: str
    students: Sequence[SentStudent]


@dataclass(frozen=True)
class SentResult:
    """status: of the standard's words, `fully graded`, `partially graded`, `not submitted` or `exempt`."""

    line_item: str
    student: str
    status: str
    score: float | None
    late: bool
    missing: bool
    word: str = ""
    """On the school's scale."""


@dataclass(frozen=True)
class SentLineItem:
    identifier: str
    title: str
    day: date
    category: str
    most: float


@dataclass(frozen=True)
class SentGradebook:
    """What a class has earned. categories: identifier, title, weight."""

    categories: Sequence[tuple[str, str, float]]
    line_items: Sequence[SentLineItem]
    results: Sequence[SentResult]


def write_bundle(school: str, classes: Sequence[SentClass], gradebook: SentGradebook | None = None) -> bytes:
    """A bulk bundle of these classes: the files that the standard asks for in a rostering export, and those of a
    gradebook where there is one, which is that of the first class. Columns of the gradebook files are from memory."""
    org, course, session = "verso-school", "verso-course", "verso-session"
    students = {student.identifier: student for class_ in classes for student in class_.students}
    tables: dict[str, list[list[str]]] = {
        "orgs": [["sourcedId", "status", "dateLastModified", "name", "type", "identifier", "parentSourcedId"],
                 [org, "", "", school, "school", "", ""]],
        "academicSessions": [
            ["sourcedId", "status", "dateLastModified", "title", "type", "startDate", "endDate", "parentSourcedId",
             "schoolYear"]],
        "courses": [["sourcedId", "status", "dateLastModified", "schoolYearSourcedId", "title", "courseCode", "grades",
                     "orgSourcedId", "subjects", "subjectCodes"],
                    [course, "", "", "", "Classes", "", "", org, "", ""]],
        "classes": [["sourcedId", "status", "dateLastModified", "title", "grades", "courseSourcedId", "classCode",
                     "classType", "location", "schoolSourcedId", "termSourcedIds", "subjects", "subjectCodes",
                     "periods"],
                    *([class_.identifier, "", "", class_.name, "", course, "", "scheduled", "", org, session, "", "",
                       ""]
                      for class_ in classes)],
        "users": [["sourcedId", "status", "dateLastModified", "enabledUser", "username", "userIds", "givenName",
                   "familyName", "middleName", "identifier", "email", "sms", "phone", "agentSourcedIds", "grades",
                   "password", "userMasterIdentifier", "resourceSourcedIds", "preferredGivenName",
                   "preferredMiddleName", "preferredFamilyName", "primaryOrgSourcedId", "pronouns"],
                  *([s.identifier, "", "", "true", s.identifier, "", s.given_name, s.family_name, "", "", s.email, "",
                     "", "", "", "", "", "", "", "", "", org, ""] for s in students.values())],
        "roles": [["sourcedId", "status", "dateLastModified", "userSourcedId", "roleType", "role", "beginDate",
                   "endDate", "orgSourcedId", "userProfileSourcedId"],
                  *([f"role-{s.identifier}", "", "", s.identifier, "primary", "student", "", "", org, ""]
                    for s in students.values())],
        "enrollments": [["sourcedId", "status", "dateLastModified", "classSourcedId", "schoolSourcedId",
                         "userSourcedId", "role", "primary", "beginDate", "endDate"],
                        *([f"{class_.identifier}-{s.identifier}", "", "", class_.identifier, org, s.identifier,
                           "student", "", "", ""] for class_ in classes for s in class_.students)],
    }  # fmt: skip
    if gradebook is not None:
        tables |= _gradebook(gradebook, classes[0].identifier, org, session)
    manifest = [["propertyName", "value"], ["manifest.version", "1.0"], ["oneroster.version", VERSION]]
    manifest += [[f"file.{name}", "bulk" if name in tables else "absent"] for name in _FILES]
    manifest += [["source.systemName", "Verso Mark"], ["source.systemCode", "verso-mark"]]
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, rows in [("manifest", manifest), *tables.items()]:
            text = io.StringIO()
            csv.writer(text, lineterminator="\r\n").writerows(rows)
            packed.writestr(f"{name}.csv", text.getvalue())
    return out.getvalue()


def _gradebook(gradebook: SentGradebook, of_class: str, org: str, session: str) -> dict[str, list[list[str]]]:
    days = {item.identifier: item.day for item in gradebook.line_items}
    return {
        "categories": [["sourcedId", "status", "dateLastModified", "title", "weight"],
                       *([identifier, "", "", title, f"{weight:g}"]
                         for identifier, title, weight in gradebook.categories)],
        "lineItems": [["sourcedId", "status", "dateLastModified", "title", "description", "assignDate", "dueDate",
                       "classSourcedId", "categorySourcedId", "gradingPeriodSourcedId", "resultValueMin",
                       "resultValueMax", "schoolSourcedId"],
                      *([line_item.identifier, "", "", line_item.title, "", f"{line_item.day:%Y-%m-%d}",
                         f"{line_item.day:%Y-%m-%d}", of_class, line_item.category, session, "0",
                         f"{line_item.most:g}", org] for line_item in gradebook.line_items)],
        "results": [["sourcedId", "status", "dateLastModified", "lineItemSourcedId", "studentSourcedId", "scoreStatus",
                     "score", "scoreDate", "comment", "textScore", "classSourcedId", "inProgress", "incomplete", "late",
                     "missing"],
                    *([f"{result.line_item}-{result.student}", "", "", result.line_item, result.student, result.status,
                       "" if result.score is None else f"{result.score:g}", f"{days[result.line_item]:%Y-%m-%d}", "",
                       result.word, of_class, "false", _yes(result.status == "partially graded"), _yes(result.late),
                       _yes(result.missing)]
                      for result in gradebook.results)],
    }  # fmt: skip


def _yes(value: bool) -> str:
    return "true" if value else "false"
