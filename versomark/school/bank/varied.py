"""Looking at the draws of a varied item while it is being written."""

from dataclasses import dataclass

from versomark.core.items import ItemContent, NoDraw, StudentItem, drawn
from versomark.core.items.variation import shown
from versomark.core.language import _


@dataclass(frozen=True)
class Draw:
    seed: int
    values: dict[str, str]
    item: StudentItem | None
    key: str
    refused: list[str]
    problem: str


def draws(content: ItemContent, count: int) -> list[Draw]:
    """The draws of the seeds 1 to `count`, each with the values it refused on the way and why."""
    return [_draw(content, seed) for seed in range(1, count + 1)] if content.variation else []


def _draw(content: ItemContent, seed: int) -> Draw:
    assert content.variation is not None
    refused = [
        f"{', '.join(f'{name} = {shown(value)}' for name, value in attempt.values.items())}: {attempt.why}"
        for attempt in content.variation.attempts(seed)[:5]
    ]
    values = content.variation.draw(seed)
    if isinstance(values, list):
        return Draw(seed, {}, None, "", refused, _("No draw keeps the rules."))
    words = {name: shown(value) for name, value in values.items()}
    try:
        instance = drawn(content, seed)
    except NoDraw as error:
        return Draw(seed, words, None, "", refused, str(error))
    return Draw(seed, words, instance.for_student(), instance.key_words(), refused, " ".join(instance.problems()))
