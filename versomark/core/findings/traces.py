"""Who chose what, from the weakest students to the strongest: the bars beside the paper and the trace lines."""

from pydantic import BaseModel

from versomark.core.language import N_, _
from versomark.core.response_table import ResponseTable
from versomark.core.stats import option_shares_by_group, trace_groups, wilson

GROUP_NAMES = {
    3: (N_("lower third"), N_("middle"), N_("upper third")),
    4: (N_("lowest fourth"), N_("second"), N_("third"), N_("top fourth")),
    5: (N_("lowest fifth"), N_("second"), N_("middle"), N_("fourth"), N_("top fifth")),
}


class TracePoint(BaseModel):
    group: str
    share: float
    low: float
    high: float


class OptionTrace(BaseModel):
    """One option: how many of each third chose it, weakest first (ties shared), and its share per score group."""

    option: str
    thirds: list[float]
    points: list[TracePoint]


def option_traces(table: ResponseTable) -> list[list[OptionTrace]]:
    """Per item, per option. Thirds always, for the bars; as many trace groups as the class can bear."""
    groups = trace_groups(len(table.students))
    thirds, third_sizes = option_shares_by_group(table, 3)
    counts, sizes = (thirds, third_sizes) if groups == 3 else option_shares_by_group(table, groups)
    traces = []
    for j, item in enumerate(table.items):
        lines = []
        for k, option in enumerate(item.options):
            low, high = wilson(counts[:, j, k], sizes[:, j])
            points = [
                TracePoint(
                    group=_(GROUP_NAMES[groups][g]),
                    share=float(counts[g, j, k] / sizes[g, j]),
                    low=float(low[g]),
                    high=float(high[g]),
                )
                for g in range(groups)
                # Of a group in which nobody took it nothing is said.
                if sizes[g, j] > 0
            ]
            lines.append(OptionTrace(option=option.label, thirds=thirds[:, j, k].tolist(), points=points))
        traces.append(lines)
    return traces
