"""A student's result as they may see it: built from what may be shown, question by question."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Literal, NamedTuple
from uuid import UUID

from pydantic import BaseModel

from versomark.core.editions import EditionItem
from versomark.core.ink import PLACES, Place
from versomark.core.items import ItemResponse
from versomark.core.items.by_rubric import ByRubric, PerformanceResponse, WithFiles, WrittenResponse
from versomark.core.items.rubric import Criterion, Rubric, across_questions
from versomark.core.language import N_, _
from versomark.core.response_table import ResponseTable
from versomark.core.scoring import Band, score
from versomark.core.text import RichText
from versomark.school.delivery.public import Seat, Sitting
from versomark.school.errors import NotFound
from versomark.school.grading.public import (
    GoesWith,
    Mark,
    MarkAsked,
    MarkingPass,
    Moved,
    Remark,
    Shown,
    adjustments_in,
    current_mark,
    goes_with,
    marks_by_pass,
    may_ask,
    moved_by,
    overrides_in,
    picture_of_work,
    plays,
    questions_of,
    remarks_on,
    results_in,
    returned_to,
    scaled,
    window_of,
    with_rubrics_of_now,
)
from versomark.school.responses.public import responses_of
from versomark.school.room.public import not_asked

from .services import settings_of
from .skills import Offered, mastery_in, offered_as, offered_in

Verdict = Literal["right", "partly right", "not right", "nothing given", "to be marked", "left out", "not chosen"]
VERDICT_WORDS: dict[Verdict, str] = {
    "right": N_("right"),
    "partly right": N_("partly right"),
    "not right": N_("not right"),
    "nothing given": N_("nothing given"),
    "to be marked": N_("to be marked"),
    "left out": N_("left out"),
    "not chosen": N_("not chosen"),
}


class ShownLevel(BaseModel):
    """What one criterion of a rubric earned, in the words of its level."""

    criterion: str
    words: str
    points: float | None
    of: float | None


class ShownRemark(BaseModel):
    """What a marker put on the answer: on letters of `text`, or on a picture of it."""

    place: Place
    says: str
    criterion: str
    """Its name, where it belongs to one of the rubric."""


class ShownFile(BaseModel):
    """A file of theirs: as they handed it in, or as it came back with remarks in it."""

    id: UUID
    name: str
    plays: Literal["", "sound", "film"] = ""
    """Whether it is heard or looked at where it is."""


class ShownAsked(BaseModel):
    """What they asked about a mark, and what came of it."""

    reason: str
    at: datetime
    state: Literal["open", "kept", "changed"]
    answer: str
    by: str


class ShownNext(BaseModel):
    """What goes with a comment, to go on with."""

    follow_up: str
    material: Offered | None


class ShownQuestion(BaseModel):
    item: str
    number: int
    label: str
    stem: RichText
    stimulus: RichText
    verdict: Verdict
    gave: str
    """In plain words; empty where `text` has it."""
    text: RichText
    """What was written, where it was written at length."""
    marks: float | None
    of: float | None
    moved: float
    """How much of the marks was added, or taken off below 0, for how strictly their marker marked; 0 for nothing, and
    where no marks are shown."""
    levels: list[ShownLevel]
    comment: str
    next: list[ShownNext]
    remarks: list[ShownRemark]
    files: list[ShownFile]
    """As they were handed in, or kept by whoever watched."""
    watched: bool
    """Whether it was done before somebody's eyes, so that nothing was handed in."""
    returned: list[ShownFile]
    asked: ShownAsked | None
    """What they asked about its mark."""
    right: str
    """The right answer, where it is shown."""
    why: RichText

    @property
    def lowered(self) -> float:
        """How much was taken off; a number that a sentence can say."""
        return max(0.0, -self.moved)


class ShownSkill(BaseModel):
    """How far the student is with what the test asked for."""

    name: str
    band: Band | None
    """None where there are too few marks to say."""
    marks: float | None
    of: float | None
    materials: list[Offered]
    """What helps with it; nothing where it is secure."""


class SharedCriterion(BaseModel):
    """What one criterion that several questions share has earned in all of them."""

    name: str
    points: float
    of: float
    questions: int


class StudentResult(BaseModel):
    title: str
    student: str
    handed_in_at: datetime | None
    total: float | None
    of: float | None
    lost: float | None
    """Taken off for handing in late."""
    reason: str
    """Why the total was set, where a teacher set it."""
    waiting: int
    comment: str
    skills: list[ShownSkill]
    """Those that want work first."""
    criteria: list[SharedCriterion]
    """Those that several questions are marked for; none where no marks are shown."""
    questions: list[ShownQuestion]
    ask_until: datetime | None
    """Until when they may ask to have a mark looked at once more; None where they may not."""


def student_result(seat: Seat, shown: Shown) -> StudentResult:
    """What this student sees of it. In words only, no number leaves."""
    sitting = seat.sitting
    edition, judged = sitting.edition.read(), overrides_in(sitting)
    unasked = not_asked([sitting]).get(sitting.pk, frozenset())
    responses = responses_of([seat.pk])
    given = responses[str(seat.pk)]
    table = score(edition, responses, unasked, judged)
    took = table.taken[0]
    earned = {column.id: (float(table.points[0, j]), column.max) for j, column in enumerate(table.items) if took[j]}
    not_chosen = {column.id for j, column in enumerate(table.items) if not took[j]}
    turns, adjustments = marks_by_pass(sitting, [seat.pk]), adjustments_in(sitting)
    result = results_in(sitting, [seat.pk])[0]
    overall = seat.overall_comments.first()
    shows_total = shown.marks and not is_total_held(seat, result.waiting)
    questions, marks_shown, marked = [], dict[str, Mark](), list[tuple[Rubric, Mapping[str, float]]]()
    asked = {ref: _asked(entry) for ref, entry in questions_of(seat).items()} if shown.marks else {}
    # Numbers and letters as they stood on this student's paper, whatever form that was.
    rubrics = with_rubrics_of_now(sitting)
    for number, item in enumerate(edition.in_form(seat.form).items(), start=1):
        if item.ref in unasked:
            continue
        if item.ref in rubrics and isinstance(item.content, ByRubric):
            item = rubrics[item.ref]
        mark = current_mark(turns, seat.pk, item.ref) if item.ref in judged.marks.get(str(seat.pk), ()) else None
        if mark is not None:
            marks_shown[item.ref] = mark
        if mark is not None and isinstance(item.content, ByRubric) and item.ref in earned:
            marked.append((item.content.rubric, mark.points))
        stimulus = edition.stimulus_of(item) if item.stimulus else None
        about = _About(
            number, item, stimulus.body if stimulus else "", item.ref in judged.waived, item.ref in not_chosen
        )
        remarks = remarks_on(seat, item.ref, [MarkingPass.FIRST, MarkingPass.AGREED]) if mark else []
        question = _question(about, given.get(item.ref), earned.get(item.ref), mark, remarks, shown)
        files = [ShownFile(id=entry.pk, name=entry.name) for entry in returned_to(seat, item.ref)] if mark else []
        moved = _moved(adjustments, seat, item, mark) if mark and shown.marks else 0.0
        questions.append(question.model_copy(update={"returned": files, "moved": moved, "asked": asked.get(item.ref)}))
    more = goes_with(marks_shown)
    questions = [
        question.model_copy(update={"next": [_next(entry) for entry in more[question.item]]})
        if question.item in more
        else question
        for question in questions
    ]
    return StudentResult(
        title=edition.title,
        student=seat.student.short_name,
        handed_in_at=seat.handed_in_at,
        total=result.total if shows_total else None,
        of=result.of if shows_total else None,
        lost=result.lost if shown.marks and result.lost and result.set_by is None else None,
        reason=result.set_by.reason if result.set_by and shown.marks else "",
        waiting=result.waiting,
        comment=overall.text if overall else "",
        skills=_skills(sitting, table, shown),
        criteria=[SharedCriterion(**entry._asdict()) for entry in across_questions(marked)] if shown.marks else [],
        questions=questions,
        ask_until=window_of(sitting) if shown.marks and may_ask(seat) else None,
    )


def _next(entry: GoesWith) -> ShownNext:
    return ShownNext(follow_up=entry.follow_up, material=offered_as(entry.material) if entry.material else None)


def _asked(entry: MarkAsked) -> ShownAsked:
    return ShownAsked(
        reason=entry.reason,
        at=entry.at,
        state=entry.state,
        answer=entry.answer,
        by=entry.by,
    )


def marked_picture(seat: Seat, ref: str, file: int, page: int) -> bytes:
    """A picture of an answer on which its marker put something that this student may see."""
    response = responses_of([seat.pk])[str(seat.pk)].get(ref)
    places = [entry.place for entry in remarks_on(seat, ref, [MarkingPass.FIRST, MarkingPass.AGREED])]
    if not any((place.get("file"), place.get("page")) == (file, page) for place in places):
        raise NotFound(_("picture"))
    return picture_of_work(seat, ref, response, file, page)


def is_total_held(seat: Seat, waiting: int) -> bool:
    """Whether the total is not shown yet: somebody handed in once the others had their results, so that theirs were
    released before anybody had looked at them, and some answers wait for a mark. A release to this student alone,
    afterwards, is the teacher's word that they may see what there is."""
    if not waiting:
        return False
    closed, handed_in = seat.sitting.closed_at, seat.handed_in_at
    if closed is None or handed_in is None or handed_in <= closed:
        return False
    return not seat.releases.filter(taken_back_at=None, at__gt=handed_in).exists()


ORDER: tuple[Band | None, ...] = ("not yet", "nearly", "secure", None)


def _skills(sitting: Sitting, table: ResponseTable, shown: Shown) -> list[ShownSkill]:
    mastery, settings = mastery_in(table), settings_of(sitting)
    cuts = (settings.secure / 100, settings.nearly / 100)
    helps = offered_in(sitting, mastery.skills)
    skills = [
        ShownSkill(
            name=name,
            band=mastery.band(0, at, cuts),
            marks=float(mastery.earned[0, at]) if shown.marks else None,
            of=float(mastery.of[at]) if shown.marks else None,
            materials=helps.get(name, []) if mastery.band(0, at, cuts) in ("nearly", "not yet") else [],
        )
        for at, name in enumerate(mastery.skills)
        if mastery.of[at] > 0
    ]
    return sorted(skills, key=lambda skill: ORDER.index(skill.band))


class _About(NamedTuple):
    number: int
    item: EditionItem
    stimulus: RichText
    left_out: bool
    not_chosen: bool
    """Beyond what the student had to answer."""


def _question(
    about: _About,
    response: ItemResponse | None,
    earned: tuple[float, float] | None,
    mark: Mark | None,
    remarks: Sequence[Remark],
    shown: Shown,
) -> ShownQuestion:
    content = about.item.content
    given = content.given(response)
    criteria = (
        {criterion.id: criterion.name for criterion in content.rubric.criteria} if isinstance(content, ByRubric) else {}
    )
    at_length = isinstance(response, WrittenResponse)
    return ShownQuestion(
        item=about.item.ref,
        number=about.number,
        label=content.own_label or str(about.number),
        stem=content.stem,
        stimulus=about.stimulus,
        verdict="left out"
        if about.left_out
        else "not chosen"
        if about.not_chosen
        else _verdict(given, content.score(response) is None, earned),
        gave=content.says_fully(response) if response is not None and given and not at_length else "",
        text=response.text if isinstance(response, WrittenResponse) else "",
        marks=earned[0] if earned and shown.marks else None,
        of=earned[1] if earned and shown.marks else None,
        levels=_levels(content, mark, shown) if mark and isinstance(content, ByRubric) else [],
        comment=mark.comment if mark else "",
        next=[],
        remarks=[
            ShownRemark(
                place=PLACES.validate_python(entry.place),
                says=entry.text,
                criterion=criteria.get(entry.criterion, ""),
            )
            for entry in remarks
        ],
        files=[ShownFile(id=UUID(file.file), name=file.name, plays=plays(file.name)) for file in response.files]
        if isinstance(response, WithFiles)
        else [],
        watched=isinstance(response, PerformanceResponse),
        returned=[],
        moved=0,
        asked=None,
        right=content.key_fully() if shown.answers and content.marked_by == "key" else "",
        why=content.rationale if shown.answers else "",
    )


def _verdict(given: bool, to_mark: bool, earned: tuple[float, float] | None) -> Verdict:
    if earned is None:
        return "to be marked" if to_mark else "nothing given"
    points, of = earned
    if points >= of:
        return "right"
    if points > 0:
        return "partly right"
    return "not right" if given else "nothing given"


def _moved(adjustments: Moved | None, seat: Seat, item: EditionItem, mark: Mark) -> float:
    given = scaled(item.content, mark)
    if adjustments is None or given is None or mark.turn != MarkingPass.FIRST or not isinstance(item.content, ByRubric):
        return 0.0
    return moved_by(adjustments, item.content, (seat.pk, item.ref), mark, given) - given


def _levels(content: ByRubric, mark: Mark, shown: Shown) -> list[ShownLevel]:
    """Of each criterion the words of the level that was reached; between two levels those of both, since neither alone
    is true of it."""
    shown_levels = []
    for criterion in content.rubric.criteria:
        points = mark.points.get(criterion.id, 0)
        shown_levels.append(
            ShownLevel(
                criterion=criterion.name,
                words=level_words(criterion, points),
                points=points if shown.marks else None,
                of=criterion.max if shown.marks else None,
            )
        )
    return shown_levels


def level_words(criterion: Criterion, points: float) -> str:
    below, above = criterion.about(points)
    if below is None or above is None:
        return below.words if below else ""
    return (
        _("between “{words}” and “{words_2}”", words=below.words, words_2=above.words)
        if below.words and above.words
        else ""
    )
