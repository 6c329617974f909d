"""Classes and tags of a teacher who leaves become a colleague's."""

from django.db.models import Q

from versomark.school.accounts.public import Teacher

from .models import CoTeacher, SchoolClass, Tag


def hand_over(sender: object, owner: Teacher, to: Teacher, **more: object) -> None:
    """Also the places in classes of others, where the colleague has none yet."""
    CoTeacher.objects.filter(teacher=to, school_class__owner=owner).delete()
    SchoolClass.objects.filter(owner=owner).update(owner=to)
    there = Q(school_class__owner=to) | Q(school_class__co_teachers__teacher=to)
    CoTeacher.objects.filter(teacher=owner).exclude(there).update(teacher=to)
    CoTeacher.objects.filter(teacher=owner).delete()
    own = {tag.name: tag for tag in to.tags.all()}
    for tag in Tag.objects.filter(owner=owner):
        if twin := own.get(tag.name):
            twin.students.add(*tag.students.all())
            tag.delete()
        else:
            tag.owner = to
            tag.save(update_fields=["owner"])
