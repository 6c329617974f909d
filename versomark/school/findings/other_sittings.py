"""The same test in other classes and other years: its questions side by side."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date
from typing import NamedTuple

from django.utils import timezone
from pydantic import BaseModel

from versomark.core.findings.words import FEWEST_STUDENTS
from versomark.core.language import _, _n, day, in_figures, listed
from versomark.core.scoring import score
from versomark.core.stats import reliability
from versomark.core.stats.differential import share_difference
from versomark.core.text import plain
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import SeatState, Sitting, name_of, sittings_of
from versomark.school.errors import NotFound
from versomark.school.grading.public import is_of_weights, keys_in, overrides_in
from versomark.school.responses.public import responses_of
from versomark.school.room.public import not_asked

from .dismissed_findings import dismissed_in, standing
from .models import CachedAnalysis
from .report import FindingsReport
from .services import findings_of_several

MOST = 8
"""Columns that fit beside each other; the latest."""


class SittingColumn(BaseModel):
    sitting: int
    name: str
    class_name: str
    held_on: date
    edition_number: int
    students: int
    mean: float | None
    """Share of the marks."""
    alpha: float | None


class QuestionRow(BaseModel):
    """One question: in each sitting its share of the marks, and whether a finding stands there."""

    ref: str
    label: str
    """As in the sitting that was opened."""
    stem: str
    p: list[float | None]
    flagged: list[bool]
    reworded: list[bool]
    """Whether it read otherwise there."""
    other_key: list[bool]
    """Whether it was scored there by another key than in the sitting that was opened: then the shares are of different
    things, and no difference is worked out."""
    by_this_key: list[bool]
    """Whether it is shown scored anew by the key of the sitting that was opened, for looking; nothing is kept."""
    difference: float | None
    """Of the sitting that was opened less the one it is put against."""
    low: float | None
    high: float | None


class OtherSittings(BaseModel):
    opening: str
    columns: list[SittingColumn]
    """The sitting that was opened first."""
    against: int | None
    """Which it is put against; None where there is no other."""
    rows: list[QuestionRow]


def side_by_side(
    teacher: Teacher, sitting: Sitting, against: int | None = None, one_key: bool = False
) -> OtherSittings:
    """The sitting and the latest others of its test, with differences from one of them: the latest unless named. With
    one key, all are looked at as if the key of the first held in each; nothing is changed by that."""
    others = sittings_of(teacher).filter(edition__test=sitting.edition.test_id).exclude(pk=sitting.pk)
    wanted = [sitting, *sorted(others, key=_held, reverse=True)]
    results = [
        (other_sitting, FindingsReport.model_validate(cached.body)) for other_sitting, cached in _with_findings(wanted)
    ]
    if not results or results[0][0].pk != sitting.pk:
        return OtherSittings(opening=_("No answers are counted yet."), columns=[], against=None, rows=[])
    if against is not None and against not in [other_sitting.pk for other_sitting, _ in results[1:]]:
        raise NotFound(_("sitting"))
    shown = results[:MOST]
    if against is not None and against not in [other_sitting.pk for other_sitting, _ in shown]:
        shown = [*shown[:-1], *[line for line in results if line[0].pk == against]]
    other = against if against is not None else shown[1][0].pk if len(shown) > 1 else None
    anew = (
        {other_sitting.pk: _by_the_key_of(sitting, other_sitting) for other_sitting, _ in shown[1:]} if one_key else {}
    )
    columns, rows = [_column(*line, anew.get(line[0].pk)) for line in shown], _rows(shown, other, anew)
    return OtherSittings(opening=_opening(columns, rows, other), columns=columns, against=other, rows=rows)


class _Anew(NamedTuple):
    """A sitting looked at by another's key."""

    refs: frozenset[str]
    """Questions that were scored otherwise."""
    p: Mapping[str, float]
    mean: float | None
    alpha: float | None


def _by_the_key_of(first: Sitting, other: Sitting) -> _Anew | None:
    """None where both have the same key, or only criteria are weighed otherwise, which is no key."""
    keys = keys_in([first, other])
    wanted, own = overrides_in(first), overrides_in(other)
    refs = {
        ref
        for ref in keys[first.pk].keys() | keys[other.pk].keys()
        if keys[first.pk].get(ref) != keys[other.pk].get(ref)
        and not any(is_of_weights(keys[entry.pk].get(ref)) for entry in (first, other))
    }
    if not refs:
        return None
    settled = {ref: override for ref, override in own.settled.items() if ref not in refs}
    settled |= {ref: wanted.settled[ref] for ref in refs if ref in wanted.settled}
    judged = replace(own, settled=settled, waived=(own.waived - refs) | (wanted.waived & refs))
    seats = other.seats.filter(state=SeatState.HANDED_IN).values_list("pk", flat=True)
    unasked = not_asked([other]).get(other.pk, frozenset()) | (wanted.waived & refs)
    table = score(other.edition.read(), responses_of(list(seats)), unasked, judged)
    shares = {column.id: float(table.points[:, at].mean()) / column.max for at, column in enumerate(table.items)}
    mean = float(table.points.sum(axis=1).mean()) / table.max_total if table.max_total else None
    return _Anew(frozenset(refs), shares, mean, reliability(table).alpha)


def _with_findings(sittings: Sequence[Sitting]) -> list[tuple[Sitting, CachedAnalysis]]:
    findings = findings_of_several(sittings)
    return [(sitting, finding) for sitting, finding in zip(sittings, findings, strict=True) if finding is not None]


def _held(sitting: Sitting) -> date:
    return timezone.localdate(sitting.opened_at or sitting.made_at)


def _column(sitting: Sitting, body: FindingsReport, anew: _Anew | None = None) -> SittingColumn:
    test = body.test
    mean = test.mean / test.max if test.mean is not None and test.max else None
    return SittingColumn(
        sitting=sitting.pk,
        name=name_of(sitting),
        class_name=sitting.school_class.name,
        held_on=_held(sitting),
        edition_number=sitting.edition.number,
        students=test.students,
        mean=anew.mean if anew else mean,
        alpha=anew.alpha if anew else test.alpha,
    )


def _rows(
    shown: Sequence[tuple[Sitting, FindingsReport]], other: int | None, anew: Mapping[int, _Anew | None]
) -> list[QuestionRow]:
    aside = dismissed_in(shown_sitting for shown_sitting, _ in shown)
    flagged = [
        {f["ref"] for f in standing([flag.model_dump() for flag in body.flags], aside[shown_sitting.pk]) if f["urgent"]}
        for shown_sitting, body in shown
    ]
    figures = [{q.ref: q.figures for q in body.paper} for _, body in shown]
    keys = keys_in([shown_sitting for shown_sitting, _ in shown])
    settled = [keys[shown_sitting.pk] for shown_sitting, _ in shown]
    stems = [{q.ref: q.stem for q in body.paper} for _, body in shown]
    at = next((place for place, (shown_sitting, _) in enumerate(shown) if shown_sitting.pk == other), None)
    if at is not None and min(shown[k][1].test.students for k in (0, at)) < FEWEST_STUDENTS:
        at = None  # of so few no difference is worked out
    rows = []
    for question in shown[0][1].paper:
        ref = question.ref
        p = [own[ref].p if ref in own and own[ref] is not None else None for own in figures]  # type: ignore[union-attr]
        by_this_key = [
            (own := anew.get(shown_sitting.pk)) is not None and ref in own.refs for shown_sitting, _ in shown
        ]
        p = [
            _share(anew[shown_sitting.pk], ref) if by_this_key[k] else p[k]
            for k, (shown_sitting, _) in enumerate(shown)
        ]
        difference = low = high = None
        theirs = p[at] if at is not None else None
        other_key = [
            own.get(ref) != settled[0].get(ref) and not anewed for own, anewed in zip(settled, by_this_key, strict=True)
        ]
        if at is not None and p[0] is not None and theirs is not None and not other_key[at]:
            apart = share_difference(p[0], shown[0][1].test.students, theirs, shown[at][1].test.students)
            difference, low, high = float(apart.difference), float(apart.low), float(apart.high)
        rows.append(
            QuestionRow(
                ref=ref,
                label=question.label,
                stem=plain(question.stem),
                p=p,
                flagged=[ref in own for own in flagged],
                reworded=[ref in own and own[ref] != question.stem for own in stems],
                other_key=other_key,
                by_this_key=by_this_key,
                difference=difference,
                low=low,
                high=high,
            )
        )
    return rows


def _share(anew: _Anew | None, ref: str) -> float | None:
    return anew.p.get(ref) if anew is not None else None


def _opening(columns: Sequence[SittingColumn], rows: Sequence[QuestionRow], other: int | None) -> str:
    """The sentences that matter, for a teacher."""
    against = next((column for column in columns if column.sitting == other), None)
    if against is None:
        return _("Nobody else has sat this test yet, so there is nothing to put beside it.")
    here = columns[0]
    name = f"{against.class_name}, {day(against.held_on, 'd MMMM y')}"
    sentences = [
        _(
            "{class_name} earned {value} of the marks, {name}: {value_2}.",
            class_name=here.class_name,
            value=in_figures(here.mean or 0, ".0%"),
            name=name,
            value_2=in_figures(against.mean or 0, ".0%"),
        )
    ]
    easier = [row.label for row in rows if row.low is not None and row.low > 0]
    harder = [row.label for row in rows if row.high is not None and row.high < 0]
    if easier:
        sentences.append(
            _n(
                "Question {labels} was clearly easier here.",
                "Questions {labels} were clearly easier here.",
                len(easier),
                labels=listed(easier),
            )
        )
    if harder:
        sentences.append(
            _n(
                "Question {labels} was clearly harder here.",
                "Questions {labels} were clearly harder here.",
                len(harder),
                labels=listed(harder),
            )
        )
    place = next(at for at, column in enumerate(columns) if column.sitting == other)
    unequal = [row.label for row in rows if row.other_key[place]]
    if unequal:
        sentences.append(
            _n(
                "Question {labels} is scored by another key there than here, so nothing is said of what differs in it.",
                "Questions {labels} are scored by another key there than here, "
                "so nothing is said of what differs in them.",
                len(unequal),
                labels=listed(unequal),
            )
        )
    anew = [row.label for row in rows if row.by_this_key[place]]
    if anew:
        sentences.append(
            _n(
                "Question {labels} is scored there by the key of {name}, for looking; no mark is changed by that.",
                "Questions {labels} are scored there by the key of {name}, for looking; no mark is changed by that.",
                len(anew),
                labels=listed(anew),
                name=here.class_name,
            )
        )
    return " ".join(sentences)
    compared = sum(row.difference is not None for row in rows)
    if not easier and not harder:
        sentences.append(_("No question differs by more than chance brings between classes of this size."))
    elif compared >= 20:
        sentences.append(_("Of {compared} questions one or so looks different by chance alone.", compared=compared))
    return " ".join(sentences)
