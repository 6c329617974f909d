"""A student whose name is taken away, while what they answered stays for the figures."""

from .models import Student, StudentRequest
from .naming import tell_apart
from .services import replace_passes


def erase(sender: object, student: Student, **more: object) -> None:
    """Name, number, addresses, needs, tags and requests. The pass is another one, so that nobody comes in with it."""
    StudentRequest.objects.filter(student=student).delete()
    student.tags.clear()
    student.given_name, student.family_name = f"#{student.pk}", ""
    student.number = student.email = student.guardian_email = student.language = ""
    student.extra_time, student.large_print, student.quiet_start = 0, False, False
    student.break_minutes, student.alone_on_page, student.large_targets = 0, False, False
    student.ground = student.read_aloud = ""
    student.save()
    replace_passes([student])
    tell_apart([student])
