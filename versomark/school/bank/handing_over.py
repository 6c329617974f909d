"""Questions, passages, pictures, skills and help pages of a teacher who leaves become a colleague's."""

from versomark.school.accounts.public import Teacher

from .models import Item, Material, Picture, Skill, Stimulus


def hand_over(sender: object, owner: Teacher, to: Teacher, **more: object) -> None:
    """A skill of which the colleague has one of that name is that one from now on."""
    own = {skill.name: skill for skill in to.skills.all()}
    for skill in Skill.objects.filter(owner=owner):
        twin = own.get(skill.name)
        if twin is None:
            continue
        for item in skill.items.all():
            item.skills.add(twin)
        for material in skill.materials.all():
            material.skills.add(twin)
        skill.children.update(parent=twin)
        skill.delete()
    Skill.objects.filter(owner=owner).update(owner=to)
    pictures = list(to.pictures.values_list("digest", flat=True))
    # The same picture twice stays where it is: questions name it by its id, whoever it belongs to.
    Picture.objects.filter(owner=owner).exclude(digest__in=pictures).update(owner=to)
    for model in (Item, Stimulus, Material):
        model.objects.filter(owner=owner).update(owner=to)
