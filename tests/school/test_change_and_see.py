"""Figures looked at otherwise, sittings together and side by side, findings set aside; the core is the reference."""

import re
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from tests.conftest import Staffroom, devices, refs
from tests.core.tables import choices
from versomark.core.findings.groups import compare_groups
from versomark.core.findings.totals import totals_figures
from versomark.core.items import Option, SingleChoice
from versomark.core.items.numeric import IdeaRange, Numeric
from versomark.core.items.short_text import ShortText
from versomark.core.items.wording import Wording
from versomark.core.stats import item_measures
from versomark.school.bank.services import Details, make_item
from versomark.school.classes.services import add_students, keep_group, make_class
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.editions.services import freeze, keep_items, keep_test, make_test
from versomark.school.findings.models import CachedAnalysis, DismissedFinding

pytestmark = pytest.mark.django_db
KEYS = "bbcb"
LONGER = "bbcbbbbbbbbb"
"""Four questions of sixteen students are too few to call a key wrong."""
WRONG = 2
"""The question whose key is wrong: those who know choose B."""


def papers(students: int, seed: int, questions: int = len(KEYS)) -> list[str]:
    """A row of letters a student; at question 3 the strong choose B, which the key does not have."""
    rng = np.random.default_rng(seed)
    able = np.sort(rng.random(students))[::-1]
    right = [[rng.random() < 0.15 + 0.8 * entry for _ in range(questions)] for entry in able]
    return ["".join("b" if hit else str(rng.choice(list("acd"))) for hit in row) for row in right]


def sat(school: Staffroom, rows: list[str], like: Sitting | None = None, keys: str = KEYS) -> Sitting:
    options = [Option(id=name, text=name) for name in "abcd"]
    if like is None:
        contents: list[Any] = [SingleChoice(stem=f"Q{n}?", options=options, key=key) for n, key in enumerate(keys)]
        sitting = school.open_sitting(contents=contents, students=len(rows))
    else:
        other = make_class(school.teacher, f"Beside {len(rows)}")
        add_students(other, [f"Other{n} Family" for n in range(len(rows))])
        sitting = services.open_sitting(services.plan(school.teacher, like.edition, other, None))
    for device, row in zip(devices(sitting), rows, strict=True):
        device.join()
        for at, (ref, letter) in enumerate(zip(refs(sitting), row, strict=True), start=1):
            device.answer(ref, {"kind": "single_choice", "option": letter}, at)
        device.post("hand-in")
    return services.close_sitting(sitting)


@pytest.fixture
def sitting(school: Staffroom) -> Sitting:
    return sat(school, papers(16, 4))


def see(school: Staffroom, sitting: Sitting, which: str = "", **scope: Any) -> Any:
    path = f"/api/v1/sittings/{sitting.pk}/findings{'/' if which else ''}{which}"
    return school.client.get(path, {name: str(value) for name, value in scope.items()})


def figures(page: Any, name: str) -> list[Any]:
    return [line["figures"] and line["figures"][name] for line in page["body"]["paper"]]


def test_figures_without_a_question_or_a_student_and_with_other_groups_are_those_of_the_core(
    school: Staffroom, sitting: Sitting
) -> None:
    rows, named = papers(16, 4), refs(sitting)
    table = choices([row.upper() for row in rows], KEYS.upper())
    assert see(school, sitting).json()["seen"] == ""
    kept = list(CachedAnalysis.objects.values_list("pk", flat=True))

    without = see(school, sitting, without=named[WRONG]).json()
    rest = item_measures(table.columns([0, 1, 3]))
    assert figures(without, "r_rest")[WRONG] is None
    assert [figure for figure in figures(without, "r_rest") if figure is not None] == pytest.approx(
        rest.r_rest[0].tolist()
    )
    assert without["body"]["paper"][WRONG]["left_out"] is True
    assert without["seen"] == "without question 3"

    seats = list(sitting.seats.order_by("desk").values_list("pk", flat=True))
    fewer = see(school, sitting, out=f"{seats[0]},{seats[5]}", share=50).json()
    left = item_measures(table.rows([i for i in range(16) if i not in (0, 5)]), share=0.5)
    assert figures(fewer, "d") == pytest.approx(left.d[0].tolist())
    assert [student["total"] is None for student in fewer["students"]] == [i in (0, 5) for i in range(16)]
    assert "Student1 F., Student6 F." in fewer["seen"]
    assert "groups of 50%" in fewer["seen"]
    # To look is to look: nothing of it is kept, and the sitting is as it was.
    assert list(CachedAnalysis.objects.values_list("pk", flat=True)) == kept
    for which in ("table", "scale", "totals"):
        page = see(school, sitting, which, without=named[WRONG]).json()
        listed = page["items"] if which == "table" else (page.get("scale") or page["figures"]).get("items", [])
        assert named[WRONG] not in str(listed)


def test_what_cannot_be_looked_at_is_said_in_words(school: Staffroom, sitting: Sitting) -> None:
    assert "No question is left" in see(school, sitting, without=",".join(refs(sitting))).json()["detail"]
    everybody = ",".join(str(pk) for pk in sitting.seats.values_list("pk", flat=True))
    assert "No student is left" in see(school, sitting, out=everybody).json()["detail"]
    for bad in ({"share": 40}, {"out": "x"}, {"also": "1;2"}, {"out": "9" * 30}):
        assert see(school, sitting, **bad).status_code == 422
    assert see(school, sitting, "totals", cuts="0").status_code == 422
    assert see(school, sitting, "totals", cuts="").status_code == 422
    assert see(school, sitting, "compared", by="group:9").status_code == 409


def test_sittings_of_one_edition_are_put_together_and_compared(
    school: Staffroom, staffroom: Callable[[str], Staffroom], sitting: Sitting
) -> None:
    beside = sat(school, papers(12, 7), like=sitting)
    offered = see(school, sitting).json()["others"]
    assert [(entry["id"], entry["students"], entry["chosen"]) for entry in offered] == [(beside.pk, 12, False)]

    table = choices([row.upper() for row in papers(16, 4) + papers(12, 7)], KEYS.upper())
    both = see(school, sitting, also=beside.pk).json()
    assert both["body"]["test"]["students"] == 28
    assert figures(both, "r_rest") == pytest.approx(item_measures(table).r_rest[0].tolist())
    assert both["seen"] == f"together with {beside.school_class.name}"
    assert both["students"][-1]["name"].endswith(f"({beside.school_class.name})")

    page = see(school, sitting, "compared", also=beside.pk).json()
    assert [choice["key"] for choice in page["choices"]] == [f"sitting:{beside.pk}"]
    second = np.arange(28) >= 16
    apart = compare_groups(table, second, ("one", "other"))
    assert [item["difference"] for item in page["compared"]["items"]] == pytest.approx(
        [item.difference for item in apart.items]
    )
    assert page["compared"]["first"] == sitting.school_class.name

    side = see(school, sitting, "other-sittings").json()
    assert [column["sitting"] for column in side["columns"]] == [sitting.pk, beside.pk]
    assert [row["difference"] for row in side["rows"]] == pytest.approx([item.difference for item in apart.items])
    assert [row["p"][1] for row in side["rows"]] == pytest.approx((table.points[16:].mean(axis=0)).tolist())
    assert see(school, sitting, "other-sittings", against=10**6).status_code == 404

    # Another test, and somebody else's sitting, are not put together with it.
    other = sat(school, papers(4, 1))
    assert "same edition" in see(school, sitting, also=other.pk).json()["detail"]
    stranger = staffroom("stranger")
    theirs = sat(stranger, papers(3, 2))
    assert see(school, sitting, also=theirs.pk).status_code == 404
    assert "nothing to put beside" in see(school, other, "other-sittings").json()["opening"]


def test_a_group_of_the_class_stands_beside_the_others(school: Staffroom, sitting: Sitting) -> None:
    empty = see(school, sitting, "compared").json()
    assert (empty["choices"], empty["compared"]) == ([], None)
    seats = list(sitting.seats.order_by("desk").values_list("student", flat=True))
    group = keep_group(sitting.school_class, "Red", seats[:6])
    keep_group(sitting.school_class, "Everybody", seats)
    page = see(school, sitting, "compared").json()
    assert [choice["name"] for choice in page["choices"]] == ["Red"]
    assert page["chosen"] == f"group:{group.pk}"
    compared = page["compared"]
    assert (compared["second"], compared["second_students"], compared["first_students"]) == ("Red", 6, 10)
    assert "nothing here is certain" in compared["warning"]
    table = choices([row.upper() for row in papers(16, 4)], KEYS.upper())
    apart = compare_groups(table, np.arange(16) < 6, ("the others", "Red"))
    assert [item["low"] for item in compared["items"]] == pytest.approx([item.low for item in apart.items])


def test_the_totals_are_those_of_the_core_at_any_cut(school: Staffroom, sitting: Sitting) -> None:
    page = see(school, sitting, "totals", cuts="75").json()
    table = choices([row.upper() for row in papers(16, 4)], KEYS.upper())
    expected = totals_figures(table, [0.75])
    assert page["figures"]["alpha"] == pytest.approx(expected.alpha)
    assert page["figures"]["cuts"][0]["reach"] == expected.cuts[0].reach
    assert page["figures"]["cuts"][0]["kappa"] == pytest.approx(expected.cuts[0].kappa)
    assert sum(entry["students"] for entry in page["distribution"]) == 16
    assert page["opening"].startswith("The totals")


def test_a_finding_set_aside_stays_with_the_question_and_is_taken_up_again(school: Staffroom) -> None:
    sitting = sat(school, papers(24, 4, len(LONGER)), keys=LONGER)

    def post(what: str, **body: Any) -> Any:
        path = f"/api/v1/sittings/{sitting.pk}/findings/{what}"
        return school.client.post(path, body, content_type="application/json")

    def history(ref: str) -> Any:
        return school.client.get(f"/api/v1/items/{ref}/history").json()["uses"][0]

    flags = see(school, sitting).json()["body"]["flags"]
    flag = next(flag for flag in flags if flag["flag"] == "check the key")
    assert flag["ref"] == refs(sitting)[WRONG]
    assert flag["advice"]
    assert [found["heading"] for found in history(flag["ref"])["standing"]] == [
        one["heading"] for one in flags if one["ref"] == flag["ref"] and one["urgent"]
    ]
    named = {"ref": flag["ref"], "flag": flag["flag"], "options": flag["options"]}
    assert "Say why" in post("dismissed", **named, note="  ").json()["detail"]
    assert post("dismissed", **{**named, "flag": "guessing"}, note="No.").status_code == 409
    assert post("dismissed", **named, note="B was printed twice.").status_code == 200
    assert post("dismissed", **named, note="B was printed twice; mended.").status_code == 200
    assert DismissedFinding.objects.count() == 1

    assert see(school, sitting).json()["dismissed"] == [
        {**named, "note": "B was printed twice; mended.", "by": "Brandt"}
    ]
    assert flag["heading"] not in [found["heading"] for found in history(flag["ref"])["standing"]]
    assert history(flag["ref"])["notes"] == ["check the key: B was printed twice; mended."]
    news = school.client.get("/api/v1/desk").json()["news"][0]
    assert (news["first"] or {}).get("flag") != "check the key"
    rows = see(school, sitting, "other-sittings").json()["rows"]
    urgent = [one for one in flags if one["ref"] == flag["ref"] and one["urgent"]]
    assert rows[WRONG]["flagged"] == [len(urgent) > 1]

    assert post("taken-up", **named).status_code == 200
    assert see(school, sitting).json()["dismissed"] == []
    assert flag["heading"] in [found["heading"] for found in history(flag["ref"])["standing"]]
    assert history(flag["ref"])["notes"] == []


CLAIMS = re.compile(
    "dependable enough|look dependable|good enough|shaky|clearly|more than chance brings|No question|stands? out|"
    "tells them apart|Too close to|more questions? like these|has grown|fallen back|much harder"
)


def test_wrong_answers_that_several_typed_are_offered_to_be_named(school: Staffroom) -> None:
    added = Numeric(stem="0.5 A less 0.3 A?", value=0.2, ideas=[IdeaRange(low=0.5, high=0.5, idea_note="takes one")])
    named = ShortText(stem="It is?", wording=Wording(accepted=["a wire"]))
    sitting = school.open_sitting(contents=[added, named], students=12)
    typed = ["0.8", "0.80", " 0.8", "0.8", "0.5", "0.5", "0.5", "0.2", "0.2", "7", "7", ""]
    for device, number in zip(devices(sitting), typed, strict=True):
        device.join()
        device.answer(refs(sitting)[0], {"kind": "numeric", "text": number}, 1)
        device.answer(refs(sitting)[1], {"kind": "short_text", "text": "A rope " if number else "a wire"}, 2)
        device.post("hand-in")
    paper = see(school, services.close_sitting(sitting)).json()["body"]["paper"]
    # Three of .5 are named already, and two of 7 are not many.
    assert [(often["typed"], len(often["seats"])) for often in paper[0]["often"]] == [("0.8", 4)]
    assert [(often["typed"].strip(), len(often["seats"])) for often in paper[1]["often"]] == [("A rope", 11)]


def test_a_sitting_of_the_same_paper_before_is_evidence_until_the_key_is_settled(school: Staffroom) -> None:
    def of_question(sitting: Sitting) -> dict[str, Any]:
        body = see(school, sitting).json()["body"]
        explained: dict[str, Any] = body["paper"][WRONG]["figures"]["explanations"]
        return {"before": body["before"], "evidence": body["evidence"], **explained}

    def of_b(explanations: dict[str, Any]) -> float:
        return float(next(entry["p"] for entry in explanations["wrong_key"] if entry["option"] == "B"))

    first = sat(school, papers(24, 4, len(LONGER)), keys=LONGER)
    alone = of_question(first)
    second = sat(school, papers(12, 8, len(LONGER)), like=first)
    # Where nothing else is known, twelve students say less than twelve after twenty-four.
    both = of_question(second)
    assert (alone["before"], both["before"]) == (0, 24)
    assert both["evidence"] == "24 papers handed in before count as evidence too."
    assert of_question(first) == alone  # what comes later changes nothing of what was said
    body: dict[str, Any] = {"accepted": ["b"], "reason": "B is right."}
    path = f"/api/v1/sittings/{first.pk}/settling/{refs(first)[WRONG]}"
    assert school.client.post(path, body, content_type="application/json").status_code == 200
    # Scored otherwise there, it is another version of the question: twelve students stand alone.
    assert of_b(of_question(second)) < of_b(both)


@pytest.mark.parametrize(("students", "seed"), [(1, 0), (2, 0), (2, 3), (3, 1), (5, 2), (7, 0), (7, 4)])
def test_of_fewer_than_eight_no_page_claims_anything(school: Staffroom, students: int, seed: int) -> None:
    """Whatever they answered: nothing of dependability, of single questions, or of what differs between classes."""
    here = sat(school, papers(students, seed))
    sat(school, papers(students, seed + 50), like=here)
    pages = [see(school, here, name) for name in ("", "totals", "table", "scale", "time", "other-sittings")]
    paths = [f"sittings/{here.pk}/results/skills"]
    paths += [f"classes/{here.school_class_id}/{name}" for name in ("growth", "record")]
    pages += [school.client.get(f"/api/v1/{path}") for path in paths]
    for page in pages:
        assert page.status_code == 200, page.content
        claim = CLAIMS.search(page.content.decode())
        assert claim is None, (page.request["PATH_INFO"], claim)


def test_an_idea_that_is_set_aside_on_each_question_is_not_spoken_of(school: Staffroom) -> None:
    """Half of the class takes C at both of the first questions, and C is noted there."""
    noted = [Option(id=name, text=name, idea_note="It is used up." * (name == "c")) for name in "abcd"]
    plain = [Option(id=name, text=name) for name in "abcd"]
    contents: list[Any] = [SingleChoice(stem=f"Q{n}?", options=noted if n < 2 else plain, key="b") for n in range(10)]
    rows = papers(24, 4, 10)
    sitting = school.open_sitting(contents=contents, students=24)
    for at, (device, row) in enumerate(zip(devices(sitting), rows, strict=True)):
        device.join()
        for number, letter in enumerate(row):
            drawn = number < 2 and at % 2 == 0
            device.answer(
                refs(sitting)[number], {"kind": "single_choice", "option": "c" if drawn else letter}, number + 1
            )
        device.post("hand-in")
    sitting = services.close_sitting(sitting)
    body = see(school, sitting).json()["body"]
    for question in body["paper"]:
        # That nothing is wrong is said only where it is all but certain; else what may be stands there.
        fair = question["figures"]["explanations"]["fair"]
        assert (question["quiet"] == "Nothing says that it misled anybody.") == (fair >= 0.95)
        assert fair >= 0.75 or question["may_be"]
    (idea,) = body["shown_ideas"]
    assert [(sign["number"], sign["works"]) for sign in idea["signs"]] == [(1, True), (2, True)]
    assert 8 <= len(idea["holders"]) <= 14
    made = {"idea": idea["idea"], "name": "Used up"}
    path = f"/api/v1/sittings/{sitting.pk}/findings/"
    group = school.client.post(f"{path}groups", made, content_type="application/json").json()
    assert group["students"] == len(idea["holders"])
    assert (
        school.client.post(f"{path}groups", {**made, "idea": "x"}, content_type="application/json").status_code == 404
    )
    for flag in [flag for flag in body["flags"] if flag["idea"]]:
        named = {"ref": flag["ref"], "flag": flag["flag"], "options": flag["options"], "note": "As planned."}
        assert school.client.post(f"{path}dismissed", named, content_type="application/json").status_code == 200
    assert see(school, sitting).json()["body"]["shown_ideas"] == []


def test_totals_corrected_for_guessing_are_the_same_on_every_page(school: Staffroom) -> None:
    """R − W/3 on four options, by hand; questions keep their shares of right answers."""
    options = [Option(id=name, text=name) for name in "abcd"]
    items = [
        make_item(school.teacher, SingleChoice(stem=f"Q{n}?", options=options, key="b"), Details()) for n in "1234"
    ]
    test = keep_items(make_test(school.teacher, "T"), "T", "", [item.pk for item in items])
    keep_test(test, "T", "", test.read().model_copy(update={"correct_for_guessing": True}))
    own = make_class(school.teacher, "Guessers")
    add_students(own, [f"Other{n} Family" for n in range(9)])
    sitting = services.open_sitting(services.plan(school.teacher, freeze(test), own, None))
    rows = ["bbbb", "bbba", "bbaa", "baaa", "aaaa", "bb--", "b---", "bbb-", "aa--"]
    for device, row in zip(devices(sitting), rows, strict=True):
        device.join()
        for at, (ref, letter) in enumerate(zip(refs(sitting), row, strict=True), start=1):
            if letter != "-":
                device.answer(ref, {"kind": "single_choice", "option": letter}, at)
        device.post("hand-in")
    services.close_sitting(sitting)
    expected = [row.count("b") - row.count("a") / 3 for row in rows]
    body, totals = see(school, sitting).json()["body"], see(school, sitting, "totals", cuts="50").json()
    by_desk = [str(seat.pk) for seat in sitting.seats.order_by("desk")]
    for page_totals in (body["totals"], totals["totals"]):
        assert [page_totals[seat] for seat in by_desk] == pytest.approx(expected)
    assert body["test"]["mean"] == totals["figures"]["mean"] == pytest.approx(np.mean(expected))
    assert body["test"]["alpha"] == totals["figures"]["alpha"]
    assert totals["figures"]["cuts"][0]["reach"] == sum(total >= 2 for total in expected)
    assert figures({"body": body}, "p")[0] == pytest.approx(7 / 9)
    looked = see(school, sitting, share=33).json()["body"]
    assert looked["test"]["mean"] == body["test"]["mean"]
