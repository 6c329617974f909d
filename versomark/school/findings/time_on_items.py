"""How long the questions took, online and in the room."""

import numpy as np
from django.db.models import Max
from pydantic import BaseModel

from versomark.core.findings import times
from versomark.core.findings.times import TimeFigures, time_figures
from versomark.school.responses.public import seconds_on_items
from versomark.school.room.public import RoundAnswer

from .analysis_filter import FilteredAnalysis


class TimePage(BaseModel):
    opening: str
    figures: TimeFigures
    labels: dict[str, str]
    numbers: dict[str, int]


def time_of(filtered_analysis: FilteredAnalysis) -> TimePage:
    """In the room a student's time runs from the first asking of a question to the answer that stood."""
    table = filtered_analysis.table
    seats, places = [int(student) for student in table.students], {item.id: j for j, item in enumerate(table.items)}
    seconds = np.full(table.points.shape, np.nan)
    rows = {seat: i for i, seat in enumerate(seats)}
    for seat, spent in seconds_on_items(seats).items():
        for ref, length in spent.items():
            if ref in places:
                seconds[rows[seat], places[ref]] = length
    given = RoundAnswer.objects.filter(seat__in=seats, round__number=1, round__item__in=places)
    for seat, ref, asked, last in given.values_list("seat", "round__item", "round__asked_at").annotate(Max("kept_at")):
        seconds[rows[seat], places[ref]] = (last - asked).total_seconds()
    figures = time_figures(table, np.where(table.taken, seconds, np.nan))
    return TimePage(
        opening=times.opening(figures, table, filtered_analysis.labels),
        figures=figures,
        labels=filtered_analysis.labels,
        numbers={item.id: item.number for item in table.items},
    )
