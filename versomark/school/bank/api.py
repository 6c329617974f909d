from uuid import UUID

from django.http import FileResponse, Http404, HttpRequest
from ninja import File, Query, Router, UploadedFile

from versomark.core.items.rubric import Rubric
from versomark.core.text import plain
from versomark.school.errors import NotFound
from versomark.school.http import Done, teacher_of

from . import pictures, services, skill_tree, varied
from .history import version_now
from .models import Item, Skill, Stimulus
from .pictures import TYPES, path_of, picture_of
from .schemas import (
    Draw,
    Draws,
    HowMany,
    ItemChange,
    ItemDraft,
    ItemHistory,
    ItemPage,
    ItemSearch,
    ItemsFound,
    ManyItems,
    MergeInto,
    PictureLine,
    RubricLine,
    SkillChange,
    SkillLine,
    SkillOrder,
    StimulusChange,
    StimulusDraft,
    StimulusPage,
    VersionLine,
    item_line,
    use_line,
)

router = Router(tags=["bank"])


def item_page(item: Item) -> ItemPage:
    content = item.read()
    return ItemPage(
        id=item.pk,
        content=content,
        skills=[skill.name for skill in item.skills.all()],
        keywords=item.keywords,
        source=item.source,
        author=item.author,
        stimulus=item.stimulus_id,
        revision=item.revision,
        problems=content.problems(),
        changed_at=item.changed_at,
        times_used=item.times_used,
        difficulty=item.difficulty,
    )


def details(body: ItemDraft) -> services.Details:
    return services.Details(body.skills, body.keywords, body.source, body.author, body.stimulus)


@router.get("/items", response=ItemsFound)
def items(request: HttpRequest, wanted: Query[ItemSearch]) -> ItemsFound:
    parts = wanted.model_dump(exclude={"search", "most", "start"})
    result = services.find_items(teacher_of(request), services.ItemFilter(typed=wanted.search, **parts))
    total, shown = services.page_of(result, wanted.start, wanted.most)
    return ItemsFound(total=total, items=[item_line(item) for item in shown])


@router.post("/items", response=ItemPage)
def make_item(request: HttpRequest, body: ItemDraft) -> ItemPage:
    return item_page(services.make_item(teacher_of(request), body.content, details(body)))


@router.post("/items/archive", response=HowMany)
def archive_items(request: HttpRequest, body: ManyItems) -> HowMany:
    return HowMany(count=services.archive_items(teacher_of(request), body.ids))


@router.post("/items/restore", response=HowMany)
def restore_items(request: HttpRequest, body: ManyItems) -> HowMany:
    return HowMany(count=services.restore_items(teacher_of(request), body.ids))


@router.post("/items/tag", response=HowMany)
def tag_items(request: HttpRequest, body: ManyItems) -> HowMany:
    count = services.tag_items(teacher_of(request), body.ids, body.add_skills, body.take_skills, body.add_keywords)
    return HowMany(count=count)


@router.post("/items/draws", response=Draws)
def draws(request: HttpRequest, body: ItemDraft, count: int = 10) -> Draws:
    """The first draws of an item as it is being written; nothing is kept."""
    return Draws(draws=[Draw(**vars(draw)) for draw in varied.draws(body.content, min(max(count, 1), 20))])


@router.get("/items/{uuid:item_id}", response=ItemPage)
def item(request: HttpRequest, item_id: UUID) -> ItemPage:
    return item_page(services.item_of(teacher_of(request), item_id))


@router.put("/items/{uuid:item_id}", response=ItemPage)
def keep_item(request: HttpRequest, item_id: UUID, body: ItemChange) -> ItemPage:
    result = services.item_of(teacher_of(request), item_id)
    return item_page(services.keep_item(result, body.content, details(body), body.revision))


@router.post("/items/{uuid:item_id}/copy", response=ItemPage)
def copy_item(request: HttpRequest, item_id: UUID) -> ItemPage:
    return item_page(services.copy_item(services.item_of(teacher_of(request), item_id)))


@router.get("/items/{uuid:item_id}/history", response=ItemHistory)
def history(request: HttpRequest, item_id: UUID) -> ItemHistory:
    result = services.item_of(teacher_of(request), item_id)
    version = version_now(result)
    return ItemHistory(
        uses=[use_line(use, version) for use in result.uses.all()],
        versions=[
            VersionLine(
                number=version.number,
                reason=version.reason,
                made_at=version.made_at,
                words=plain(version.content.get("stem", ""))[:200],
                same=version.content == result.content,
            )
            for version in result.versions.all()
        ],
    )


@router.post("/items/{uuid:item_id}/versions/{int:number}/put-back", response=ItemPage)
def put_back(request: HttpRequest, item_id: UUID, number: int, revision: int) -> ItemPage:
    return item_page(services.put_back(services.item_of(teacher_of(request), item_id), number, revision))


def _skill(skill: Skill) -> SkillLine:
    counts = skill.__dict__
    return SkillLine(
        id=skill.pk,
        name=skill.name,
        parent=skill.parent_id,
        code=skill.code,
        statement=skill.statement,
        questions=counts["question_count"],
        materials=counts["material_count"],
    )


def _counted(skill: Skill) -> SkillLine:
    return _skill(skill_tree.with_counts(skill.owner).get(pk=skill.pk))


@router.get("/rubrics", response=list[RubricLine])
def rubrics(request: HttpRequest) -> list[RubricLine]:
    """The rubrics of other questions, to copy from."""
    return [
        RubricLine(id=item.pk, words=item_line(item).words[:80], rubric=Rubric.model_validate(item.content["rubric"]))
        for item in services.items_with_rubric(teacher_of(request))
    ]


@router.get("/skills", response=list[SkillLine])
def list_skills(request: HttpRequest) -> list[SkillLine]:
    return [_skill(skill) for skill in skill_tree.with_counts(teacher_of(request))]


@router.post("/skills", response=SkillLine)
def make_skill(request: HttpRequest, body: SkillChange) -> SkillLine:
    return _counted(skill_tree.make_skill(teacher_of(request), body.name, body.parent, body.code))


@router.put("/skills/order", response=Done)
def order_skills(request: HttpRequest, body: SkillOrder) -> Done:
    skill_tree.order_skills(teacher_of(request), body.ids)
    return Done()


@router.put("/skills/{int:skill_id}", response=SkillLine)
def keep_skill(request: HttpRequest, skill_id: int, body: SkillChange) -> SkillLine:
    skill = skill_tree.skill_of(teacher_of(request), skill_id)
    return _counted(skill_tree.keep_skill(skill, body.name, body.parent, body.code))


@router.post("/skills/{int:skill_id}/merge", response=SkillLine)
def merge_skill(request: HttpRequest, skill_id: int, body: MergeInto) -> SkillLine:
    """Its questions, materials and what stands below it become the other's."""
    teacher = teacher_of(request)
    return _counted(
        skill_tree.merge_skill(skill_tree.skill_of(teacher, skill_id), skill_tree.skill_of(teacher, body.skill))
    )


@router.delete("/skills/{int:skill_id}", response=Done)
def remove_skill(request: HttpRequest, skill_id: int) -> Done:
    skill_tree.remove_skill(skill_tree.skill_of(teacher_of(request), skill_id))
    return Done()


def _stimulus(stimulus: Stimulus) -> StimulusPage:
    return StimulusPage(
        id=stimulus.pk,
        title=stimulus.title,
        body=stimulus.body,
        revision=stimulus.revision,
        items=sum(not item.archived for item in stimulus.items.all()),
    )


@router.get("/stimuli", response=list[StimulusPage])
def stimuli(request: HttpRequest) -> list[StimulusPage]:
    return [_stimulus(stimulus) for stimulus in services.stimuli_of(teacher_of(request))]


@router.post("/stimuli", response=StimulusPage)
def make_stimulus(request: HttpRequest, body: StimulusDraft) -> StimulusPage:
    return _stimulus(services.make_stimulus(teacher_of(request), body.title, body.body))


@router.put("/stimuli/{uuid:stimulus_id}", response=StimulusPage)
def keep_stimulus(request: HttpRequest, stimulus_id: UUID, body: StimulusChange) -> StimulusPage:
    stimulus = services.stimulus_of(teacher_of(request), stimulus_id)
    return _stimulus(services.keep_stimulus(stimulus, body.title, body.body, body.revision))


@router.post("/pictures", response=PictureLine)
def keep_picture(request: HttpRequest, file: File[UploadedFile]) -> PictureLine:
    data = file.read(pictures.MOST_BYTES + 1)
    picture = pictures.keep_picture(teacher_of(request), file.name or "", data)
    return PictureLine(id=picture.pk, address=f"/pictures/{picture.pk}", width=picture.width, height=picture.height)


def picture(request: HttpRequest, picture_id: UUID) -> FileResponse:
    """Its id cannot be guessed, so whoever was given a question can see its picture, student or teacher."""
    try:
        result = picture_of(picture_id)
    except NotFound:
        raise Http404 from None
    response = FileResponse(path_of(result).open("rb"), content_type=TYPES[result.format])
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    response.headers["X-Content-Type-Options"] = "nosniff"
    return response
