"""Comments that are used again."""

from uuid import UUID

from django.http import HttpRequest
from ninja import Field, Router, Schema

from versomark.school.accounts.public import departments_of
from versomark.school.bank.public import Material
from versomark.school.http import Done, teacher_of

from . import comment_bank
from .models import OwnComment

router = Router(tags=["marking"])


class CommentLevel(Schema):
    criterion: str
    name: str
    points: float
    words: str


class CommentLine(Schema):
    id: int
    text: str
    every_question: bool
    used: int
    by: str
    mine: bool
    department: int | None
    department_name: str
    criterion: str
    points: float | None
    """The level with which it is offered."""
    levels: list[CommentLevel]
    """Those with which it could be; none of a comment for every question."""
    material: UUID | None
    follow_up: str


class CommentMaterial(Schema):
    id: UUID
    title: str


class CommentDepartment(Schema):
    id: int
    name: str


class CommentPage(Schema):
    comments: list[CommentLine]
    departments: list[CommentDepartment]
    """With which one's own can be shared."""
    materials: list[CommentMaterial]
    """One's own, of which one can go with a comment."""
    changed: int = 0
    """How many marks say it in the new words."""


class CommentBody(Schema):
    text: str = Field(min_length=1, max_length=400)
    every_question: bool = True
    department: int | None = None
    criterion: str = Field("", max_length=36)
    points: float | None = None
    material: UUID | None = None
    follow_up: str = Field("", max_length=400)

    def more(self) -> comment_bank.More:
        level = (self.criterion, self.points) if self.criterion and self.points is not None else None
        return comment_bank.More(level, self.material, self.follow_up)


def _page(request: HttpRequest, changed: int = 0) -> CommentPage:
    teacher = teacher_of(request)

    def line(comment: OwnComment) -> CommentLine:
        own = comment.teacher_id == teacher.pk
        return CommentLine(
            id=comment.pk,
            text=comment.text,
            every_question=not comment.item,
            used=comment.used,
            by=comment.teacher.name,
            mine=own,
            department=comment.department_id,
            department_name=comment.department.name if comment.department else "",
            criterion=comment.criterion,
            points=comment.points,
            levels=[
                CommentLevel(criterion=criterion.id, name=criterion.name, points=level.points, words=level.words)
                for criterion in (
                    comment_bank.levels_of_question(comment.item) if comment.teacher_id == teacher.pk else []
                )
                for level in sorted(criterion.levels, key=lambda level: level.points)
            ],
            material=comment.material_id,
            follow_up=comment.follow_up,
        )

    return CommentPage(
        comments=[line(comment) for comment in comment_bank.comments_of(teacher)],
        departments=[CommentDepartment(id=entry.pk, name=entry.name) for entry in departments_of(teacher)],
        materials=[
            CommentMaterial(id=entry.pk, title=entry.title)
            for entry in Material.objects.filter(owner=teacher).only("pk", "title")
        ],
        changed=changed,
    )


@router.get("/comments", response=CommentPage)
def comments(request: HttpRequest) -> CommentPage:
    """One's own, and those of one's departments."""
    return _page(request)


@router.post("/comments", response=CommentPage)
def add(request: HttpRequest, body: CommentBody) -> CommentPage:
    """A comment for every question."""
    comment_bank.add_comment(teacher_of(request), body.text, "", body.department, body.more())
    return _page(request)


@router.put("/comments/{int:comment_id}", response=CommentPage)
def change(request: HttpRequest, comment_id: int, body: CommentBody) -> CommentPage:
    """Changed once, it is changed in every mark that no student may see yet."""
    teacher = teacher_of(request)
    done = comment_bank.change_comment(
        teacher, comment_id, body.text, body.every_question, body.department, body.more()
    )
    return _page(request, done.marks)


@router.delete("/comments/{int:comment_id}", response=Done)
def take_out(request: HttpRequest, comment_id: int) -> Done:
    comment_bank.take_out(teacher_of(request), comment_id)
    return Done()
