"""Forms: every order equally likely, sets whole, anchors last; and the look's colours, which everybody can read."""

import re
from collections import Counter
from pathlib import Path

import pytest
from scipy import stats

from versomark.core.editions import BankItem, Edition, Stimulus, freeze, in_own_order, one_section
from versomark.core.items import Option, SingleChoice

SEEDS = 600


def edition(seed: int) -> Edition:
    bank = {}
    for at in range(6):
        options = [Option(id=id, text=f"{at}{id}") for id in "abcd"]
        options.append(Option(id="e", text="none of these", stays_last=True))
        stimulus = Stimulus(ref="5", title="A passage") if at in (2, 3) else None
        content = SingleChoice(stem=f"Stem {at}", options=options, key="b")
        bank[f"{at}"] = BankItem(f"{at}", content, [], stimulus)
    layout = one_section(list(bank)).model_copy(update={"forms": 2})
    return freeze("T", "", layout, bank, lambda rule: [], seed=seed)


def test_every_place_is_equally_likely_for_items_and_for_keys() -> None:
    """Chi-square against the even spread (SciPy); at p = .0001 one run in ten thousand would fail by chance, and the
    seeds are fixed, so it does not."""
    letters: Counter[str] = Counter()
    first: Counter[str] = Counter()
    for seed in range(SEEDS):
        form = edition(seed).in_form("B")
        items = list(form.items())
        first[items[0].ref] += 1
        for item in items:
            assert isinstance(item.content, SingleChoice)
            ids = [option.id for option in item.content.options]
            assert ids[-1] == "e"
            assert sorted(ids) == list("abcde")
            assert item.content.key == "b"
            letters["ABCD"[ids.index("b")]] += 1
        refs = [item.ref for item in items]
        assert abs(refs.index("2") - refs.index("3")) == 1
        assert refs.index("2") < refs.index("3"), "within a set the order is the author's"
    assert stats.chisquare([letters[letter] for letter in "ABCD"]).pvalue > 1e-4
    # Five things are shuffled, the set of two being one; it begins with “2”.
    assert set(first) == {"0", "1", "2", "4", "5"}
    assert stats.chisquare(list(first.values())).pvalue > 1e-4


def test_the_same_seed_gives_the_same_forms_and_form_a_is_as_it_was_built() -> None:
    for seed in range(20):
        one, again = edition(seed), edition(seed)
        assert one.fingerprint() == again.fingerprint()
        assert [item.ref for item in one.in_form("A").items()] == [f"{at}" for at in range(6)]
    orders = {tuple(item.ref for item in edition(seed).in_form("B").items()) for seed in range(40)}
    assert len(orders) > 20


STYLES = (Path(__file__).parents[2] / "web" / "src" / "styles.css").read_text(encoding="utf-8")


def tokens(selector: str) -> dict[str, tuple[float, float, float]]:
    """The colours that a block of the style sheet sets, as red, green and blue from 0 to 1."""
    block = re.search(rf"^{re.escape(selector)} {{(.*?)^}}", STYLES, re.MULTILINE | re.DOTALL)
    assert block, selector
    found = {}
    for name, digits in re.findall(r"--([\w-]+): #([0-9a-f]{6});", block[1]):
        red, green, blue = (int(digits[at : at + 2], 16) / 255 for at in (0, 2, 4))
        found[name] = (red, green, blue)
    return found


def contrast(one: tuple[float, float, float], other: tuple[float, float, float]) -> float:
    """WCAG 2.2, “relative luminance” and “contrast ratio”."""

    def luminance(colour: tuple[float, float, float]) -> float:
        parts = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in colour]
        return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]

    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


@pytest.mark.parametrize("theme", [":root", '[data-theme="dark"]'])
def test_every_text_can_be_read_on_every_ground(theme: str) -> None:
    colours = tokens(theme)
    assert contrast((0, 0, 0), (1, 1, 1)) == pytest.approx(21)
    for text in ("ink", "graphite", "iris", "teal", "ochre", "clay", "plum"):
        for ground in ("page", "page-2", "board") if text in ("ink", "graphite") else ("page", "page-2"):
            assert contrast(colours[text], colours[ground]) >= 4.5, (text, ground)
        if f"{text}-wash" in colours:
            assert contrast(colours[text], colours[f"{text}-wash"]) >= 4.5, text
            assert contrast(colours["ink"], colours[f"{text}-wash"]) >= 7, text
    # The edge of a field is a part of the control (1.4.11).
    assert contrast(colours["edge"], colours["page"]) >= 3


@pytest.mark.parametrize("ground", ["cream", "blue", "green", "rose"])
def test_coloured_grounds_keep_their_promise(ground: str) -> None:
    """The style sheet says 7:1 for the text of a student who reads on colour."""
    shared, own = tokens("[data-ground]"), tokens(f'[data-ground="{ground}"]')
    for page in ("page", "page-2"):
        assert contrast(shared["ink"], own[page]) >= 7
        for text in ("graphite", "ochre", "clay", "iris"):
            assert contrast(shared[text], own[page]) >= 4.5, (text, page)


def test_an_order_of_ones_own_is_the_same_test_and_stays_the_same() -> None:
    """Each student's own order: the same questions, options, keys and sets; another for another, the same again."""
    built = edition(1)
    orders = set()
    for student in range(40):
        own = in_own_order(built, f"kelp-47 {student}")
        assert own == in_own_order(built, f"kelp-47 {student}")
        refs = [item.ref for item in own.items()]
        assert sorted(refs) == sorted(item.ref for item in built.items())
        assert abs(refs.index("2") - refs.index("3")) == 1  # on the same passage
        for item in own.items():
            assert isinstance(item.content, SingleChoice)
            assert item.content.key == "b"
            assert item.content.options[-1].id == "e"
        orders.add(tuple(refs))
    assert len(orders) > 30
