"""From what a student earned to the total that stands: what lateness costs, and what a teacher set."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from math import ceil

DAY = timedelta(days=1)


@dataclass(frozen=True)
class LateRule:
    """What handing in late costs: percent of the full marks for every day begun, up to `most` percent.

    Common practice, no source; a day is 24 hours from `due` + `grace`.
    """

    due: datetime
    grace: timedelta
    per_day: float
    most: float

    def lost(self, handed_in_at: datetime | None, earned: float, of: float) -> float:
        """Marks taken off, never more than was earned."""
        if handed_in_at is None:
            return 0.0
        late = handed_in_at - (self.due + self.grace)
        if late <= timedelta(0):
            return 0.0
        percent = min(self.most, self.per_day * ceil(late / DAY))
        return min(max(0.0, earned), of * percent / 100)


def total_of(earned: float, lost: float, set_to: float | None) -> float:
    """What stands: the total a teacher set, else what was earned less what lateness costs."""
    return earned - lost if set_to is None else set_to
