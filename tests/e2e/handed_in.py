"""A class of the demo's teacher that handed in files, put straight into the data of a server that may be running."""

import sys
from io import BytesIO
from uuid import uuid4

from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone
from PIL import Image, ImageDraw
from reportlab.pdfgen.canvas import Canvas

NAMES = ["Ada Lovelace", "தமிழ்ச்செல்வி இராமநாதன்", "Søren Kierkegaard-Nagy"]


def report() -> bytes:
    """Two pages of a lab report."""
    out = BytesIO()
    page = Canvas(out, pagesize=(595, 842))
    for at, title in enumerate(("What we measured", "What it shows"), start=1):
        page.setFont("Helvetica-Bold", 20)
        page.drawString(60, 760, f"{title} ({at})")
        page.setFont("Helvetica", 12)
        for line in range(18):
            page.drawString(
                60, 720 - 20 * line, f"Length {10 + line} cm, current {3.2 - 0.1 * line:.1f} A, as we read it."
            )
        page.showPage()
    page.save()
    return out.getvalue()


def photo() -> bytes:
    picture = Image.new("RGB", (900, 500), "#efe7d8")
    draw = ImageDraw.Draw(picture)
    draw.line([(120, 400), (300, 120), (500, 380), (760, 150)], fill="#335", width=6)
    draw.text((60, 30), "I = U / R, so twice the length is half the current", fill="#222", font_size=30)
    out = BytesIO()
    picture.save(out, "JPEG")
    return out.getvalue()


def hand_in(names: list[str] = NAMES, class_name: str = "9 Gannet") -> int:
    """The number of the sitting."""
    from versomark.core.items.by_rubric import FileTask
    from versomark.core.items.rubric import Criterion, Rubric
    from versomark.school.accounts.models import Teacher
    from versomark.school.bank.services import Details, make_item
    from versomark.school.classes.services import add_students, make_class
    from versomark.school.delivery import services
    from versomark.school.delivery.models import SeatState
    from versomark.school.editions.services import freeze, keep_items, make_test
    from versomark.school.responses.files import take_file
    from versomark.school.responses.models import Answer, CurrentAnswer

    brandt = Teacher.objects.get(username="brandt")
    school_class = make_class(brandt, class_name)
    add_students(school_class, names)
    parts = [("a", "Measuring", 4), ("b", "Reasoning", 3), ("c", "Units", 1)]
    rubric = Rubric(criteria=[Criterion(id=i, name=n, max=m) for i, n, m in parts])
    task = FileTask(
        stem="Your report on the wire.", marks=8, rubric=rubric, file_kinds=["pdf", "picture"], most_files=2
    )
    item = make_item(brandt, task, Details(["Measuring"]))
    test = keep_items(make_test(brandt, "T"), "Report on a wire", "", [item.pk])
    sitting = services.open_sitting(services.plan(brandt, freeze(test), school_class, None))
    ref = next(iter(sitting.edition.read().items())).ref
    sitting.seats.update(state=SeatState.WORKING)
    for seat in sitting.seats.order_by("desk"):
        given = []
        for name, data in (("report.pdf", report()), ("board.jpg", photo())):
            given.append(take_file(seat.pk, ref, SimpleUploadedFile(name, data)).model_dump())
        response = {"kind": "file", "files": given}
        answer = Answer.objects.create(seat=seat, item=ref, response=response, sequence=1, client_id=uuid4())
        CurrentAnswer.objects.create(seat=seat, item=ref, answer=answer)
    sitting.seats.update(state=SeatState.HANDED_IN, handed_in_at=timezone.now())
    services.close_sitting(sitting)
    return int(sitting.pk)


if __name__ == "__main__":
    import django

    django.setup()
    sys.stdout.write(f"{hand_in(class_name=sys.argv[-1])}\n")
