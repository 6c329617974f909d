"""From an edition to what stands on its answer sheets, and from what was read back to responses."""

from dataclasses import dataclass

from versomark.core.editions import Edition, EditionItem
from versomark.core.items import EditionContent, ItemResponse
from versomark.core.items.by_rubric import ByRubric

from .spec import SheetCriterion, SheetItem


@dataclass(frozen=True)
class SheetPlan:
    """The items of an edition on a sheet, and the orders of its other forms."""

    items: list[SheetItem]
    forms: dict[str, list[str]]
    numbers: dict[str, dict[str, str]]
    elsewhere: list[int]
    """Numbers, in form A, of questions that a sheet cannot take: a place in a picture, a file, a performance."""


def sheet_plan(edition: Edition) -> SheetPlan:
    numbered = list(enumerate(edition.items(), start=1))
    items = [sheet_item for _, item in numbered if (sheet_item := _sheet_item(item))]
    on_sheet = {item.id for item in items}
    return SheetPlan(
        items=items,
        forms={
            form.name: [ref for section in form.sections for ref in section if ref in on_sheet]
            for form in edition.forms
        },
        numbers={form: labels_in(edition, form) for form in edition.form_names},
        elsewhere=[number for number, item in numbered if item.ref not in on_sheet],
    )


def labels_in(edition: Edition, form: str) -> dict[str, str]:
    """ref -> the number a question has in a form."""
    return {item.ref: str(at) for at, item in enumerate(edition.in_form(form).items(), start=1)}


def _sheet_item(item: EditionItem) -> SheetItem | None:
    place = item.content.on_sheet()
    if place is None:
        return None
    criteria = _criteria(item.content)
    return SheetItem(
        id=item.ref,
        kind=place.kind,
        options=place.options,
        rows=place.rows,
        digits=place.digits,
        lines=place.lines,
        max=item.content.marks,
        criteria=criteria,
        scored=bool(criteria),
    )


def _criteria(content: EditionContent) -> list[SheetCriterion]:
    if not isinstance(content, ByRubric):
        return []
    # More than thirty points would need three lines of circles: such an answer is marked at the desk.
    if any(criterion.max > 30 for criterion in content.rubric.criteria):
        return []
    return [
        SheetCriterion(
            id=criterion.id,
            name=criterion.name,
            max=criterion.max,
            halves=any(level.points % 1 for level in criterion.levels),
        )
        for criterion in content.rubric.criteria
    ]


def response_from(content: EditionContent, answer: str) -> ItemResponse | None:
    """The response an answer on a sheet says, in the order of parts of that student's form; None for a blank.

    Raises ValueError, in words, for one that does not belong to the item.
    """
    if not answer:
        return None
    item_response: ItemResponse = content.from_sheet(answer)  # type: ignore[assignment]
    content.fits(item_response)
    return item_response
