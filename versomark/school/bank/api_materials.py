"""The shelf of materials."""

from uuid import UUID

from django.http import FileResponse, HttpRequest
from ninja import Router

from versomark.school.http import Done, attachment, file_in, teacher_of

from . import materials
from .models import Material
from .schemas import MaterialBody, MaterialFile, MaterialLine

router = Router(tags=["bank"])


def line(material: Material) -> MaterialLine:
    return MaterialLine(
        id=material.pk,
        kind=material.kind,  # type: ignore[arg-type]
        title=material.title,
        note=material.note,
        link=material.link,
        skills=[skill.name for skill in material.skills.all()],
        keywords=material.keywords,
        file=material.file,
    )


@router.get("/materials", response=list[MaterialLine])
def shelf(request: HttpRequest, search: str = "", skill: str = "") -> list[MaterialLine]:
    return [line(material) for material in materials.materials_of(teacher_of(request), search.strip(), skill)[:400]]


@router.post("/materials", response=MaterialLine)
def add(request: HttpRequest, body: MaterialBody) -> MaterialLine:
    return line(materials.keep_material(teacher_of(request), body.read()))


@router.put("/materials/{uuid:material_id}", response=MaterialLine)
def change(request: HttpRequest, material_id: UUID, body: MaterialBody) -> MaterialLine:
    teacher = teacher_of(request)
    return line(materials.keep_material(teacher, body.read(), materials.material_of(teacher, material_id)))


@router.delete("/materials/{uuid:material_id}", response=Done)
def take_away(request: HttpRequest, material_id: UUID) -> Done:
    materials.remove(materials.material_of(teacher_of(request), material_id))
    return Done()


@router.put("/materials/{uuid:material_id}/file", response=MaterialLine)
def put_file(request: HttpRequest, material_id: UUID, body: MaterialFile) -> MaterialLine:
    material = materials.material_of(teacher_of(request), material_id)
    materials.put_file(material, body.name, file_in(body.data))
    return line(material)


@router.get("/materials/{uuid:material_id}/file", response={200: None})
def file(request: HttpRequest, material_id: UUID) -> FileResponse:
    return attachment(materials.stored_file(materials.material_of(teacher_of(request), material_id)))
