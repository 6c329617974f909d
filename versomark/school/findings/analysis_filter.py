"""What figures are looked at: a sitting as it is, or without some questions or students, with other end groups, or with
other sittings of the same edition. Nothing of it is kept: it is a way to look."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from versomark.core.editions import Edition
from versomark.core.items import ItemResponse
from versomark.core.language import _, _n
from versomark.core.response_table import ResponseTable, put_together
from versomark.core.scoring import ScoringOverrides, formula_scored, score
from versomark.school.accounts.public import Teacher
from versomark.school.delivery.public import Seat, Sitting, seat_counts, sitting_of, sittings_of
from versomark.school.errors import DomainError
from versomark.school.grading.public import overrides_in
from versomark.school.responses.public import responses_of
from versomark.school.room.public import not_asked

from .report import FindingsReport, body_of
from .services import counted_positions
from .written import with_levels

SHARES = (27, 33, 50)


@dataclass(frozen=True)
class AnalysisFilter:
    """share: percent of the students in the upper and in the lower group. without: refs. out: seats. also: sittings."""

    share: int = 27
    without: frozenset[str] = frozenset()
    out: frozenset[int] = frozenset()
    also: tuple[int, ...] = ()

    @property
    def plain(self) -> bool:
        return self == AnalysisFilter()


@dataclass(frozen=True)
class FilteredAnalysis:
    """The sittings that are looked at, the one that was opened first, and how."""

    sittings: Sequence[Sitting]
    scope: AnalysisFilter = field(default_factory=AnalysisFilter)

    @property
    def first(self) -> Sitting:
        return self.sittings[0]

    @property
    def edition(self) -> Edition:
        return self.first.edition.read()

    @cached_property
    def seats(self) -> dict[int, Seat]:
        """All of their seats; the same number on two desks is two students."""
        order = [sitting.pk for sitting in self.sittings]
        seats = Seat.objects.filter(sitting__in=order).select_related("student", "sitting__school_class")
        return {seat.pk: seat for seat in sorted(seats, key=lambda seat: (order.index(seat.sitting_id), seat.desk))}

    @cached_property
    def responses(self) -> Mapping[str, Mapping[str, ItemResponse]]:
        """Of the students who count."""
        positions = counted_positions(self.sittings)
        counted = [seat for position in positions.values() for seat in position.seats if seat not in self.scope.out]
        return responses_of(counted)

    @cached_property
    def judged(self) -> dict[int, ScoringOverrides]:
        return {sitting.pk: overrides_in(sitting) for sitting in self.sittings}

    @cached_property
    def table(self) -> ResponseTable:
        """Every answer scored as its own sitting was settled. NotPossible, in words, where nothing is left."""
        unasked, tables = not_asked(self.sittings), list[ResponseTable]()
        for sitting in self.sittings:
            own = {
                seat: given for seat, given in self.responses.items() if self.seats[int(seat)].sitting_id == sitting.pk
            }
            if own:
                tables.append(score(self.edition, own, unasked.get(sitting.pk, frozenset()), self.judged[sitting.pk]))
        if not tables:
            raise DomainError(_("No student is left.") if self.scope.out else _("Nobody has handed in yet."))
        try:
            table = put_together(tables)
        except ValueError as error:
            raise DomainError(_("These sittings cannot be put together: {error}", error=error)) from None
        places = [j for j, item in enumerate(table.items) if item.id not in self.scope.without]
        if not places:
            raise DomainError(
                _("No question is left.") if self.scope.without else _("No question of this test has been marked yet.")
            )
        return table.columns(places)

    @cached_property
    def totals(self) -> dict[str, float]:
        """By seat, as marks."""
        return dict(zip(self.table.students, map(float, self.as_totals.totals), strict=True))

    @cached_property
    def as_totals(self) -> ResponseTable:
        """The table with points as they count in totals."""
        return formula_scored(self.edition, self.table)

    @cached_property
    def labels(self) -> dict[str, str]:
        """What each question is called on its paper, by ref."""
        named = enumerate(self.edition.items(), start=1)
        return {item.ref: item.content.own_label or str(number) for number, item in named}

    def name_of(self, seat: Seat) -> str:
        """Beside others of the same sitting a name does; among several classes it needs its class."""
        name = seat.student.short_name
        return name if len(self.sittings) == 1 else f"{name} ({seat.sitting.school_class.name})"


def looked(teacher: Teacher, sitting: Sitting, scope: AnalysisFilter) -> FilteredAnalysis:
    """NotFound for a sitting that is not the teacher's to see, NotPossible for one of another edition."""
    others = [sitting_of(teacher, pk) for pk in dict.fromkeys(scope.also) if pk != sitting.pk]
    if any(entry.edition.fingerprint != sitting.edition.fingerprint for entry in others):
        raise DomainError(_("Only sittings of the same edition can be put together."))
    return FilteredAnalysis([sitting, *others], scope)


def body_looked(analysis: FilteredAnalysis) -> FindingsReport:
    """The figures so looked at, of which nothing is kept."""
    first = analysis.judged[analysis.first.pk]
    marks = {ref: dict(given) for ref, given in first.marks.items()}
    for judged in analysis.judged.values():
        for ref, given in judged.marks.items():
            marks.setdefault(ref, {}).update(given)
    merged = ScoringOverrides(marks=marks, settled=first.settled, shares=first.shares, waived=first.waived)
    unasked = not_asked([analysis.first]).get(analysis.first.pk, frozenset())
    body = body_of(
        analysis.edition,
        analysis.responses,
        analysis.table,
        merged,
        unasked,
        analysis.scope.without,
        analysis.scope.share / 100,
    )
    return with_levels(body, analysis.sittings, analysis.table)


def same_edition(teacher: Teacher, sitting: Sitting) -> list[Sitting]:
    """Other sittings in which somebody has handed in, which could be put together with this one."""
    sittings = sittings_of(teacher).filter(edition__fingerprint=sitting.edition.fingerprint).exclude(pk=sitting.pk)
    return [entry for entry in sittings if seat_counts(entry).handed_in > 0]


def in_words(analysis: FilteredAnalysis) -> str:
    """How these figures differ from the sitting's own; empty where they do not."""
    scope, phrases = analysis.scope, list[str]()
    if scope.without:
        named = [analysis.labels[item.ref] for item in analysis.edition.items() if item.ref in scope.without]
        phrases.append(_n("without question {list}", "without questions {list}", len(named), list=", ".join(named)))
    if scope.out:
        phrases.append(
            _(
                "without {names}",
                names=_names([analysis.name_of(s) for pk, s in analysis.seats.items() if pk in scope.out]),
            )
        )
    if len(analysis.sittings) > 1:
        phrases.append(
            _("together with {names}", names=_names([sitting.school_class.name for sitting in analysis.sittings[1:]]))
        )
    if scope.share != AnalysisFilter.share:
        phrases.append(_("upper and lower groups of {share}%", share=scope.share))
    return ", ".join(phrases)


def _names(names: Collection[str]) -> str:
    some = list(names)
    return (
        ", ".join(some)
        if len(some) <= 3
        else _("{list} and {value} more", list=", ".join(some[:2]), value=len(some) - 2)
    )
