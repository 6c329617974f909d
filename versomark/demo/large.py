"""Kestrel Bay School grown to a school of its size, for judging lists and speed: 40 teachers, 1,000 students.

Thirty-five forms of 28, each taught by several teachers, who give three tests of circuits over the year; O. Brandt has
300 sittings of ten years. Answers come from the same model as everybody's, but are put into the database in bulk,
since over 1,200 sittings through the students' own door would take most of an hour.
"""

from collections.abc import Iterator, Sequence
from datetime import datetime, timedelta
from itertools import cycle, islice

from django.db import transaction
from django.utils import timezone

from versomark.core.items import ItemContent
from versomark.school.accounts.public import School, Teacher
from versomark.school.bank.public import Details, make_item
from versomark.school.classes.public import Enrolment, SchoolClass, add_students, make_class
from versomark.school.delivery import public as delivery
from versomark.school.delivery.public import Seat, SeatState, Sitting, SittingState
from versomark.school.editions.public import Edition, freeze, keep_items, make_test
from versomark.school.responses.public import Answer, CurrentAnswer
from versomark.stand_ins import class_of_students as simulated

from .questions import Draws
from .sat import LASTS, response_to
from .sign_in import PASSWORD

TEACHERS, FORMS, IN_A_FORM, CLASSES_EACH, SITTINGS_EACH, OF_BRANDT = 40, 35, 28, 4, 6, 300
YEARS = range(7, 12)
BIRDS = ("Heron", "Tern", "Osprey", "Curlew", "Plover", "Avocet", "Gannet")
SUBJECTS = ("physics", "maths", "chemistry", "biology", "computing")
GIVEN = (
    "Adaeze", "Ben", "Carmen", "Dmitri", "Elif", "Farid", "Grace", "Hugo", "Imani", "Jakub", "Keiko", "Liam", "Maya",
    "Niamh", "Oskar", "Priya", "Rania", "Sofía", "Tomás", "Ursula", "Violeta", "Wei", "Xenia", "Youssef", "Zoë",
    "தமிழ்செல்வி", "Δημήτρης", "Оксана", "سلمى", "美玲",
)  # fmt: skip
FAMILY = (
    "Abbott", "Bergström", "Chowdhury", "Duarte", "El-Sayed", "Fitzgerald", "Gupta", "Hernández", "Ito", "Jankowski",
    "Kamau", "Lefèvre", "Mbeki", "Nakamura", "O’Sullivan", "Papadopoulos", "Quispe", "Rossi", "Schneider", "Tran",
    "Usman", "van der Merwe", "Wójcik", "Xu", "Yılmaz", "Zapata", "Ramanathan", "Shevchenko", "Haddad", "Lin",
    "Attenborough-Featherstonehaugh", "Ng", "Okonkwo", "Whitfield", "Marsh",
)  # fmt: skip
Asked = list[tuple[ItemContent, simulated.SimulatedItem]]


@transaction.atomic
def load(brandt: Teacher, items: Asked, held_by: dict[str, float]) -> None:
    """Added to the demo school, once."""
    school = brandt.school
    if School.objects.filter(pk=school.pk, teachers__username="teacher1").exists():
        return
    draws = Draws((8, 4))
    teachers = [brandt, *_teachers(school)]
    forms = list(_forms(teachers[1:], draws))
    able = [simulated.make_class(IN_A_FORM, held_by, draws.rng) for _ in forms]
    taught = cycle(range(FORMS))
    for at, teacher in enumerate(teachers):
        places = list(islice(taught, CLASSES_EACH))
        classes = [_class_of(teacher, forms[place], SUBJECTS[at % len(SUBJECTS)]) for place in places]
        papers = _papers(teacher, items)
        count = OF_BRANDT if teacher == brandt else SITTINGS_EACH * CLASSES_EACH
        for number in range(count):
            edition, behind = papers[number % len(papers)]
            place = number % CLASSES_EACH
            _sat(teacher, edition, classes[place], able[places[place]], behind, _day(number, count), draws)


def _forms(tutors: Sequence[Teacher], draws: Draws) -> Iterator[SchoolClass]:
    """Each form's list, as its tutor has it."""
    names = [f"{year} {bird}" for bird in BIRDS for year in YEARS][:FORMS]
    for tutor, name in zip(tutors, names, strict=False):
        form = make_class(tutor, f"{name} form")
        add_students(form, [f"{draws.rng.choice(GIVEN)} {draws.rng.choice(FAMILY)}" for _ in range(IN_A_FORM)])
        yield form


def _teachers(school: School) -> Iterator[Teacher]:
    first = Teacher.objects.create_teacher(school, _teacher_name(1), "teacher1", PASSWORD)
    yield first
    rest = range(2, TEACHERS - Teacher.objects.filter(school=school).count() + 2)
    for at in rest:
        # One password for all, worked out once: making it is slow on purpose.
        yield Teacher.objects.create(
            school=school, name=_teacher_name(at), username=f"teacher{at}", password=first.password
        )


def _teacher_name(at: int) -> str:
    return f"{GIVEN[at % 25][0]}. {FAMILY[at % len(FAMILY)]}"


def _class_of(teacher: Teacher, form: SchoolClass, subject: str) -> SchoolClass:
    school_class = make_class(teacher, f"{form.name.removesuffix(' form')} {subject}")
    places = form.places.order_by("desk")
    Enrolment.objects.bulk_create(
        Enrolment(school_class=school_class, student_id=place.student_id, desk=place.desk) for place in places
    )
    SchoolClass.objects.filter(pk=school_class.pk).update(desks_given=IN_A_FORM)
    return school_class


def _papers(teacher: Teacher, items: Asked) -> list[tuple[Edition, dict[str, simulated.SimulatedItem]]]:
    """Three tests of six questions of their own."""
    own = [(make_item(teacher, content, Details(["Circuits"])), behind) for content, behind in items]
    papers = []
    for name, chosen in (("A", own[:6]), ("B", own[3:9]), ("C", own[6:12])):
        title = f"Circuits, check {name}"
        test = keep_items(make_test(teacher, title), title, "", [item.pk for item, _ in chosen])
        papers.append((freeze(test), {str(item.pk): behind for item, behind in chosen}))
    return papers


def _day(number: int, count: int) -> datetime:
    """Over this year, or for many over ten."""
    days = (3650 if count == OF_BRANDT else 250) * (count - number) // count + 4
    return timezone.localtime().replace(hour=8 + number % 7, minute=45, second=0, microsecond=0) - timedelta(days=days)


def _sat(
    teacher: Teacher,
    edition: Edition,
    school_class: SchoolClass,
    students: list[simulated.SimulatedStudent],
    behind: dict[str, simulated.SimulatedItem],
    when: datetime,
    draws: Draws,
) -> None:
    sitting = delivery.plan(teacher, edition, school_class, when)
    end, answers = when + LASTS, list[Answer]()
    kinds = {item.ref: item.content.kind for item in edition.read().items()}
    away = int(draws.rng.integers(len(students)))
    seats = list(sitting.seats.order_by("desk"))
    for place, (seat, student) in enumerate(zip(seats, students, strict=True)):
        if place == away:
            continue
        given = simulated.answer_paper(student, list(behind.values()), draws.rng)
        answers += [
            Answer(
                seat=seat,
                client_id=draws.uuid(),
                sequence=number,
                item=ref,
                response=response_to(kinds[ref], option),
                kept_at=end,
            )
            for number, (ref, option) in enumerate(zip(behind, given, strict=True), start=1)
            if option is not None
        ]
    added = Answer.objects.bulk_create(answers)
    CurrentAnswer.objects.bulk_create(
        CurrentAnswer(seat=answer.seat, item=answer.item, answer=answer) for answer in added
    )
    Seat.objects.filter(sitting=sitting).update(
        state=SeatState.HANDED_IN, started_at=when, handed_in_at=end, last_seen=end
    )
    Seat.objects.filter(pk=seats[away].pk).update(
        state=SeatState.ABSENT, started_at=None, handed_in_at=None, last_seen=None
    )
    Sitting.objects.filter(pk=sitting.pk).update(
        state=SittingState.CLOSED, made_at=when - timedelta(days=1), opened_at=when, closed_at=end
    )
