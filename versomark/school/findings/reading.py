"""The findings of a sitting with their words, as the page and the files that leave have them."""

from typing import Any

from versomark.school.delivery.public import Sitting
from versomark.school.room.public import Which

from . import services
from .analysis_filter import FilteredAnalysis, body_looked
from .dismissed_findings import dismissed_in
from .flag_notes import FindingsPageBody, read_aloud
from .ideas_over_time import ideas_elsewhere
from .written import raters_flags


def body_in_words(sitting: Sitting, result: FilteredAnalysis, which: Which = "first") -> dict[str, Any] | None:
    """As JSON; None where nobody has handed in. The kept analysis where the sitting is looked at as it is."""
    body: dict[str, Any] | None
    if result.scope.plain:
        cached = services.findings_of(sitting, which)
        body = cached.body if cached else None
    else:
        body = body_looked(result).model_dump(mode="json")
    if not body:
        return None
    # Second marks come without a new analysis of the answers.
    elsewhere = ideas_elsewhere(sitting) if which == "first" and result.scope.plain else {}
    return read_aloud(body, raters_flags(sitting), dismissed_in([sitting])[sitting.pk], elsewhere)


def findings_read(sitting: Sitting, result: FilteredAnalysis, which: Which = "first") -> FindingsPageBody | None:
    """The same, typed."""
    body = body_in_words(sitting, result, which)
    return FindingsPageBody.model_validate(body) if body else None
