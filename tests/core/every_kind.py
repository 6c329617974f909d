"""An item of any kind and answers to it, for Hypothesis. Shared by the tests that go through every kind there is."""

from hypothesis import strategies as st

from versomark.core.items import ContentBase, ItemResponse, Option, SingleChoice, TrueFalse, read_response
from versomark.core.items.by_rubric import FileTask, Performance, Written
from versomark.core.items.expression import Expression, WrongFormula
from versomark.core.items.gaps import Gap, Gaps, ListedWord
from versomark.core.items.matching import MatchChoice, Matching, MatchRow
from versomark.core.items.numeric import IdeaRange, Numeric
from versomark.core.items.ordering import Entry, Ordering
from versomark.core.items.picture_point import PicturePoint, Region
from versomark.core.items.rubric import Criterion, Exemplar, Level, Rubric
from versomark.core.items.several_answers import SeveralAnswers
from versomark.core.items.short_text import ShortText
from versomark.core.items.wording import Wording, WrongWords

WORD = st.text("abcdefgh ÄéΩ", min_size=1, max_size=12).map(str.strip).filter(bool)
RICH = st.builds(
    lambda words, wrap: wrap.replace("…", words),
    WORD,
    st.sampled_from(["…", "<strong>…</strong>", "<p>…</p><p>$x^2 &lt; 4$</p>", "<em>…</em> x<sub>1</sub>"]),
)
MARKS = st.integers(1, 12).map(lambda halves: halves / 2)
NOTE = st.text("abc ", max_size=10)
SHARED = {"stem": RICH, "marks": MARKS, "rationale": RICH}


def options(count: int, text: str) -> list[Option]:
    return [Option(id=f"o{k}", text=f"{k} {text}", idea_note="n" * k, stays_last=k == count - 1) for k in range(count)]


COUNT = st.integers(2, 6)
RUBRIC = st.builds(
    lambda maxima: Rubric(
        criteria=[
            Criterion(id=f"c{k}", name=f"C{k}", max=top, levels=[Level(points=0, words="none"), Level(points=top)])
            for k, top in enumerate(maxima)
        ],
        exemplars=[Exemplar(id="e", name="E", text="so", points={"c0": maxima[0]}, reasons={"c0": "why so"})],
    ),
    st.lists(MARKS, min_size=1, max_size=4),
)

CONTENTS: dict[str, st.SearchStrategy[ContentBase]] = {
    "single_choice": st.builds(
        lambda n, t, at, **s: SingleChoice(options=options(n, t), key=f"o{at % n}", **s),
        COUNT, WORD, st.integers(0, 9), **SHARED,
    ),
    "several_answers": st.builds(
        lambda n, t, at, credit, **s: SeveralAnswers(
            options=options(n, t), keys=sorted({"o0", f"o{at % n}"}), credit=credit, **s
        ),
        COUNT, WORD, st.integers(0, 9), st.sampled_from(["all", "each", "right_minus_wrong"]), **SHARED,
    ),
    "true_false": st.builds(TrueFalse, key=st.booleans(), idea_note=NOTE, **SHARED),
    "numeric": st.builds(
        lambda value, amount, unit, **s: Numeric(
            value=value, tolerance="absolute", amount=amount, unit=unit, unit_rule="required" if unit else "none",
            without_unit=0.5 if unit else 0, ideas=[IdeaRange(low=value + 100, high=value + 200, idea_note="far")], **s
        ),
        st.integers(-500, 500).map(lambda tenths: tenths / 10), st.sampled_from([0.5, 1, 2]),
        st.sampled_from(["", "mA", "m/s"]), **SHARED,
    ),
    "short_text": st.builds(
        lambda word, slips, **s: ShortText(
            wording=Wording(accepted=[word], slips=slips, wrong=[WrongWords(text=f"not {word}", idea_note="n")]), **s
        ),
        WORD, st.integers(0, 3), **SHARED,
    ),
    "gaps": st.builds(
        lambda word, credit, **s: Gaps(
            text="One [a], two [b].",
            gaps=[
                Gap(name="a", wording=Wording(accepted=[word])),
                Gap(name="b", choices=[ListedWord(id="x", text="p"), ListedWord(id="y", text="q")], key="y"),
            ],
            credit=credit, **s,
        ),
        WORD, st.sampled_from(["all", "each", "right_minus_wrong"]), **SHARED,
    ),
    "matching": st.builds(
        lambda n, credit, **s: Matching(
            rows=[MatchRow(id=f"r{k}", text=f"row {k}", key=f"h{k}") for k in range(n)],
            choices=[MatchChoice(id=f"h{k}", text=f"choice {k}") for k in range(n + 1)], credit=credit, **s,
        ),
        COUNT, st.sampled_from(["all", "each", "right_minus_wrong"]), **SHARED,
    ),
    "ordering": st.builds(
        lambda n, credit, **s: Ordering(
            entries=[Entry(id=f"e{k}", text=f"entry {k}") for k in range(n)], credit=credit, **s
        ),
        COUNT, st.sampled_from(["all", "places", "pairs"]), **SHARED,
    ),
    "expression": st.builds(
        lambda a, **s: Expression(key=f"{a}(x+1)", wrong=[WrongFormula(formula=f"{a}x+1+{a}^2", idea_note="n")], **s),
        st.integers(2, 9), **SHARED,
    ),
    "picture_point": st.builds(
        lambda x, round, **s: PicturePoint(
            picture="0" * 8 + "-0000-4000-8000-" + "0" * 12, picture_words="a lamp",
            regions=[
                Region(id="a", x=x, y=0.1, width=0.2, height=0.2, round=round, right=True, name="here"),
                Region(id="b", x=x, y=0.6, width=0.2, height=0.2, name="there", idea_note="n"),
            ], **s,
        ),
        st.sampled_from([0.0, 0.3, 0.8]), st.booleans(), **SHARED,
    ),
    "written": st.builds(Written, rubric=RUBRIC, show_rubric=st.booleans(), most_words=st.just(200), **SHARED),
    "file": st.builds(FileTask, rubric=RUBRIC, most_files=st.integers(1, 3), **SHARED),
    "performance": st.builds(Performance, rubric=RUBRIC, minutes=st.integers(0, 9), **SHARED),
}  # fmt: skip
ANY = st.one_of(*CONTENTS.values())
KEYED = st.one_of(*(made for kind, made in CONTENTS.items() if kind not in ("written", "file", "performance")))


def _response(kind: str, **parts: object) -> ItemResponse:
    return read_response({"kind": kind, **parts})


def right_answer(content: ContentBase) -> ItemResponse:
    """A response that a human marker would call entirely right."""
    stored = content.model_dump()
    match content.kind:
        case "single_choice":
            return _response("single_choice", option=stored["key"])
        case "several_answers":
            return _response("several_answers", options=stored["keys"])
        case "true_false":
            return _response("true_false", value=stored["key"])
        case "numeric":
            return _response("numeric", text=f"{stored['value']} {stored['unit']}")
        case "short_text":
            return _response("short_text", text=stored["wording"]["accepted"][0])
        case "gaps":
            return _response("gaps", gaps={"a": stored["gaps"][0]["wording"]["accepted"][0], "b": "y"})
        case "matching":
            return _response("matching", pairs={row["id"]: row["key"] for row in stored["rows"]})
        case "ordering":
            return _response("ordering", order=[entry["id"] for entry in stored["entries"]])
        case "expression":
            return _response("expression", text=stored["key"])
        case "picture_point":
            return _response("picture_point", x=stored["regions"][0]["x"] + 0.1, y=0.2)
        case "written":
            return _response("written", text="Because the current is the same all round.")
        case "file":
            return _response(
                "file", files=[{"file": "0" * 8 + "-0000-4000-8000-" + "0" * 12, "name": "a.pdf", "bytes": 9}]
            )
    return _response("performance")


def wrong_answer(content: ContentBase) -> ItemResponse:
    """A response with nothing right in it, of the kinds that have a key."""
    stored = content.model_dump()
    match content.kind:
        case "single_choice":
            return _response(
                "single_choice", option=next(o["id"] for o in stored["options"] if o["id"] != stored["key"])
            )
        case "several_answers":
            ids = [option["id"] for option in stored["options"]]
            return _response("several_answers", options=[id for id in ids if id not in stored["keys"]])
        case "true_false":
            return _response("true_false", value=not stored["key"])
        case "numeric":
            return _response("numeric", text="nothing")
        case "gaps":
            return _response("gaps", gaps={"a": "zzz zzz", "b": "x"})
        case "matching":
            last = stored["choices"][-1]["id"]
            return _response("matching", pairs={row["id"]: last for row in stored["rows"]})
        case "ordering":
            order = [entry["id"] for entry in stored["entries"]]
            # The other way round, the middle one of three stands in its place; one along, most pairs are in order.
            return _response("ordering", order=order[::-1] if stored["credit"] == "pairs" else [*order[1:], order[0]])
        case "picture_point":
            return _response("picture_point", x=stored["regions"][1]["x"] + 0.1, y=0.7)
        case "expression":
            return _response("expression", text=stored["wrong"][0]["formula"])
    return _response(content.kind, text="zzz zzz zzz")
