"""The teacher's own materials, by skill and keyword: offered beside each weak skill, on feedback sheets, and to the
student on their own page."""

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import NamedTuple
from uuid import UUID

from django.conf import settings
from django.db import transaction
from django.db.models import Q, QuerySet

from versomark.core.language import _
from versomark.school import disk, files
from versomark.school.accounts.public import Teacher
from versomark.school.errors import DomainError, NotFound

from .models import Material, Skill

MOST_BYTES = 10 * 1024 * 1024
MOST_OFFERED = 3


class MaterialKept(NamedTuple):
    kind: str
    title: str
    note: str
    link: str
    skills: Sequence[str]
    keywords: Sequence[str]


def materials_of(teacher: Teacher, typed: str = "", skill: str = "") -> QuerySet[Material]:
    materials = Material.objects.filter(owner=teacher).prefetch_related("skills")
    if typed:
        words = Q(title__icontains=typed) | Q(note__icontains=typed) | Q(keywords__icontains=typed)
        materials = materials.filter(words | Q(skills__name__icontains=typed)).distinct()
    return materials.filter(skills__name=skill) if skill else materials


def material_of(teacher: Teacher, material_id: UUID) -> Material:
    material = Material.objects.filter(owner=teacher, pk=material_id).first()
    if material is None:
        raise NotFound(_("material"))
    return material


def offered(teacher: Teacher, skills: Sequence[str]) -> Mapping[str, list[Material]]:
    """skill -> what helps with it, a few of them, explanations first."""
    order = [kind.value for kind in Material.Kind]
    result: dict[str, list[Material]] = {}
    rows = Material.objects.filter(owner=teacher, skills__name__in=skills).prefetch_related("skills").distinct()
    for material in sorted(rows, key=lambda row: (order.index(row.kind), row.title)):
        for skill in material.skills.all():
            if skill.name in skills and len(result.setdefault(skill.name, [])) < MOST_OFFERED:
                result[skill.name].append(material)
    return result


@transaction.atomic
def keep_material(teacher: Teacher, material_kept: MaterialKept, material: Material | None = None) -> Material:
    title = " ".join(material_kept.title.split())[:200]
    if not title:
        raise DomainError(_("Give it a title: that is what students read."), status=422)
    if material_kept.link and not material_kept.link.startswith(("https://", "http://")):
        raise DomainError(_("A link begins with https:// or http://."), status=422)
    material = material or Material(owner=teacher)
    material.kind, material.title, material.note, material.link = (
        material_kept.kind,
        title,
        material_kept.note.strip(),
        material_kept.link,
    )
    material.keywords = list(
        dict.fromkeys(" ".join(word.split())[:60] for word in material_kept.keywords if word.strip())
    )
    material.save()
    names = dict.fromkeys(" ".join(name.split())[:120] for name in material_kept.skills if name.strip())
    material.skills.set([Skill.objects.get_or_create(owner=teacher, name=name)[0] for name in names])
    return material


@transaction.atomic
def put_file(material: Material, name: str, data: bytes) -> None:
    """The file that belongs to it, in place of one before; no data takes it away."""
    if len(data) > MOST_BYTES:
        raise DomainError(
            _("A file may have {value} MB. Put a link to it instead.", value=MOST_BYTES // 1024 // 1024), status=413
        )
    path = path_of(material)
    if data:
        disk.refuse_when_full()
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(data)
        files.keep(path)
        material.file = Path(name.replace("\\", "/")).name[:200] or "file"
    else:
        files.remove(path)
        material.file = ""
    material.save(update_fields=["file", "changed_at"])


def remove(material: Material) -> None:
    files.remove(path_of(material))
    material.delete()


def path_of(material: Material) -> Path:
    return Path(settings.DATA) / "materials" / str(material.pk)


def stored_file(material: Material) -> tuple[Path, str] | None:
    """Where the file of a material lies, and what it is called; None for a link or a note."""
    return (path_of(material), material.file) if material.file else None
