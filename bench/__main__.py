"""Speed, measured side by side in one run: `./verso bench`. Prints figures; asserts nothing about time."""

import csv
import gzip
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from bench import (
    cards,
    comparing,
    criteria,
    faults,
    feedback,
    findings,
    forecasts,
    ideas,
    ink,
    looks,
    machines,
    marking,
    models,
    next_answer,
    online,
    pages,
    record,
    room,
    sheets,
    slow_senders,
    tasks,
)
from tests.core.tables import choices
from versomark.core.findings import analyse
from versomark.core.formats import read_responses
from versomark.core.response_table import ResponseTable
from versomark.core.stats import item_measures, reliability

ROOT = Path(__file__).resolve().parents[1]
ITEMS = 40


def best(call: Callable[[], object], times: int = 5) -> float:
    """The shortest of several runs in milliseconds: the one least disturbed by the machine."""
    spent = []
    for _ in range(times):
        start = time.perf_counter()
        call()
        spent.append(time.perf_counter() - start)
    return 1000 * min(spent)


def responses(folder: Path, students: int) -> tuple[Path, Path]:
    """Random answers with some ability behind them, as the two CSV files."""
    rng = np.random.default_rng(1)
    ability = rng.normal(size=(students, 1))
    right = rng.random((students, ITEMS)) < 1 / (1 + np.exp(-(ability - np.linspace(-2, 2, ITEMS))))
    letters = np.where(right, "A", rng.choice(list("BCD"), size=right.shape))
    answers, key = folder / f"answers-{students}.csv", folder / "key.csv"
    with answers.open("w", newline="") as file:
        writer = csv.writer(file)
        writer.writerow(["student", *(f"q{j}" for j in range(ITEMS))])
        writer.writerows([f"s{i}", *row] for i, row in enumerate(letters.tolist()))
    key.write_text("item,key,max,options\n" + "".join(f"q{j},A,1,4\n" for j in range(ITEMS)))
    return answers, key


def one_numpy_pass(points: NDArray[np.float64], choice: NDArray[np.int16]) -> None:
    """What any item analysis must do at least: item means, the covariance matrix, option counts."""
    points.mean(axis=0)
    np.cov(points, rowvar=False)
    for column in choice.T:
        np.bincount(column + 1, minlength=5)


def statistics(table: ResponseTable) -> None:
    item_measures(table)
    reliability(table)


def bench_analyse() -> None:
    with tempfile.TemporaryDirectory() as folder:
        _bench_analyse(Path(folder))


def _bench_analyse(folder: Path) -> None:
    print("analyse, 40 items, from CSV to JSON, figures only (a new process each)")
    for students in (12_500, 25_000, 50_000):
        answers, key = responses(folder, students)
        command = [sys.executable, "-m", "versomark.core.cli", answers, "--key", key, "--figures-only"]
        spent = best(lambda c=command: subprocess.run([*c, "--json", folder / "out.json"], check=True), 3)
        print(f"  {students:>6} students {spent:8.0f} ms   {1000 * spent / students:6.1f} µs a student")
    table = read_responses(*responses(folder, 25_000))
    ours, least = best(lambda: statistics(table)), best(lambda: one_numpy_pass(table.points, table.choice))
    print(f"  statistics alone {ours:.1f} ms, one NumPy pass {least:.1f} ms: ratio {ours / least:.2f} (target 4)")


def bench_findings() -> None:
    rng = np.random.default_rng(2)
    print(f"findings with explanations, ideas and flags, {ITEMS} and 60 items (targets: 100 ms, then 1,000 and linear)")
    for students, items in ((30, ITEMS), (500, 60), (1000, 60), (2000, 60)):
        table = choices(["".join(rng.choice(list("AABCD"), size=items)) for _ in range(students)], "A" * items)
        print(f"  {students:>5} students x {items} items {best(lambda t=table: analyse(t)):8.0f} ms")  # type: ignore[misc]


def bench_api() -> None:
    """Reads of the demo school through the whole stack of Django, in process."""
    os.environ["DJANGO_SETTINGS_MODULE"] = "versomark.site.settings"
    import django

    django.setup()
    from django.core.management import call_command
    from django.test import Client

    from versomark.demo import loading

    call_command("migrate", verbosity=0)
    client = Client()
    client.force_login(loading.load(), backend="django.contrib.auth.backends.ModelBackend")
    print("API reads on the demo school, 60 each (target: p95 under 50 ms)")
    sittings = client.get("/api/v1/sittings").json()
    closed = next(line["id"] for line in sittings if line["state"] == "closed")
    running = next(line["id"] for line in sittings if line["state"] == "open")
    for path in (
        "desk", "classes/1", "items", "tests", "tests/2", "sittings",
        f"sittings/{running}", f"sittings/{closed}/findings", "find?typed=lamp",
    ):  # fmt: skip
        spent = []
        for _ in range(60):
            start = time.perf_counter()
            assert client.get(f"/api/v1/{path}").status_code == 200
            spent.append(1000 * (time.perf_counter() - start))
        print(f"  {path:<24} median {np.median(spent):6.1f} ms   p95 {np.quantile(spent, 0.95):6.1f} ms")


def bench_bank() -> None:
    """A bank of 20,000 questions: finding as one types. The index against a scan of the same words, in one run."""
    from versomark.core.items import read_content
    from versomark.school.accounts.models import Teacher
    from versomark.school.bank import search
    from versomark.school.bank.models import Item
    from versomark.school.bank.services import ItemFilter, find_items, page_of

    teacher = Teacher.objects.get(username="brandt")
    content = read_content({"kind": "true_false", "stem": "So?", "key": True}).model_dump(mode="json")
    rng = np.random.default_rng(3)
    words = [f"{a}{b}" for a in ("lamp", "loop", "volt", "force", "cell", "poem", "verb") for b in range(400)]
    rows = [" ".join(rng.choice(words, size=25)) for _ in range(20_000)]
    Item.objects.bulk_create(
        [Item(owner=teacher, content=content, kind="true_false", ready=True, words=row) for row in rows], 2000
    )
    search.index(Item.objects.filter(owner=teacher, keywords=[]))
    print("search in a bank of 20,000 questions, first 60 and the count (target 50 ms)")

    def typed(text: str) -> None:
        page_of(find_items(teacher, ItemFilter(typed=text)), 0, 60)

    for text in ("la", "lam", "lamp3", "lamp37 loop2", "force12 cell9 verb"):
        print(f"  {text:<20} {best(lambda t=text: typed(t)):6.1f} ms")
    scan = best(lambda: Item.objects.filter(words__contains="lamp37").filter(words__contains="loop2").count())
    print(f"  a scan of the words for the fourth, without its rows, takes {scan:.0f} ms")


def bench_print() -> None:
    """A booklet of 60 items, from the edition to the PDF."""
    from versomark.core.editions import BankItem, Edition, freeze, one_section
    from versomark.core.items import Option, SingleChoice
    from versomark.school.editions import printing

    def edition(formulas: int) -> Edition:
        """Sixty single choices; so many of the five texts of each hold a formula."""
        texts = [f" with $x_{k}^2$" if k < formulas else " without" for k in range(5)]
        options = [Option(id=id, text=f"option {id}{text}") for id, text in zip("abcd", texts[1:], strict=True)]
        bank = {
            f"{n:x}": BankItem(f"{n:x}", SingleChoice(stem=f"Question {n}{texts[0]}.", options=options, key="a"))
            for n in range(60)
        }
        return freeze("Sixty", "", one_section(list(bank)), bank, lambda rule: [], seed=1)

    printing.pdf(edition(0), "booklet")  # the first one loads the library
    print("print, 60 items (target 4 s)")
    for formulas in (0, 1, 5):
        for what in ("booklet", "large-24", "guide"):
            spent = best(lambda w=what, f=formulas: printing.pdf(edition(f), w), 2)
            print(f"  {formulas} formulas an item, {what:<9} {spent / 1000:5.2f} s")


def bench_kinds() -> None:
    """Scoring one answer of each kind that is typed, the slowest ones."""
    from versomark.core.items import algebra
    from versomark.core.items.numeric import Numeric, NumericResponse
    from versomark.core.items.short_text import ShortText, ShortTextResponse
    from versomark.core.items.wording import Wording

    numeric = Numeric(stem="?", value=0.5, tolerance="percent", amount=2, unit="A", unit_rule="required")
    words = ShortText(stem="?", wording=Wording(accepted=["parallel circuit"] * 20, slips=2, patterns=["(a+)+b"]))
    one, other = algebra.parse("(a+b)^4"), algebra.parse("a^4+4a^3b+6a^2b^2+4ab^3+b^4")
    hard = algebra.parse("(a+b+c+d)^30")
    print("scoring one typed answer")
    for name, call in {
        "numeric with a unit": lambda: numeric.score(NumericResponse(text="503 mA")),
        "short text, slips": lambda: words.score(ShortTextResponse(text="paralell cirkuit")),
        "algebra, proved": lambda: algebra.equal(one, other),
        "algebra, the largest allowed": lambda: algebra.equal(hard, hard),
    }.items():
        call()
        print(f"  {name:<30} {best(call):7.2f} ms")


def bench_keeping() -> None:
    """From the last key in the editor to the server's answer that it is kept, in a real browser."""
    from tests.e2e.screenshots import bank, sign_in
    from tests.e2e.serving import chromium, served

    with tempfile.TemporaryDirectory() as data, served(Path(data), demo=True) as address, chromium() as browser:
        page = browser.new_page()
        sign_in(page, address)
        bank(page)
        field, spent = page.get_by_role("textbox", name="Question", exact=True), []
        for _ in range(20):
            with page.expect_response(lambda answer: answer.request.method == "PUT"):
                field.press("End")
                field.press("x")
                start = time.perf_counter()
            spent.append(1000 * (time.perf_counter() - start))
            page.wait_for_timeout(300)
    print(f"kept after the last key: median {np.median(spent):.0f} ms, longest {max(spent):.0f} ms (target 300)")


def bench_first_load() -> None:
    """Compressed bytes of every script that a browser asks for before the first field of a page can be used, words of
    its language among them; and of those that follow by themselves."""
    from tests.e2e.serving import chromium, served

    print("first load, compressed script: until the first field can be used, and with what follows by itself")
    with tempfile.TemporaryDirectory() as data, served(Path(data), demo=True) as address, chromium() as browser:
        for path, field, target in (("/", "#root input", 250), ("/join", "#root input", 90)):
            for language in ("en", "es", "ar") if path == "/join" else ("en", "es"):
                context = browser.new_context()
                context.add_cookies([{"name": "verso_language", "value": language, "url": address}])
                page = context.new_page()
                asked: list[str] = []
                page.on("request", lambda request, asked=asked: asked.append(request.url))  # type: ignore[misc]
                page.goto(address + path, wait_until="commit")
                page.locator(field).first.wait_for()
                before = _compressed(asked)
                page.wait_for_load_state("networkidle")
                print(f"  {path:<6} {language}  {before:6.1f} kB, {_compressed(asked):6.1f} kB (target {target} kB)")
                context.close()


def _compressed(addresses: list[str]) -> float:
    names = {address.split("/static/")[1] for address in addresses if "/static/" in address and address.endswith(".js")}
    return sum(len(gzip.compress((ROOT / "web" / "dist" / name).read_bytes())) for name in names) / 1000


def main() -> None:
    """All of it, or the parts named: `./verso bench sheets print`."""
    parts: dict[str, Callable[[], None]] = {
        "analyse": bench_analyse,
        "findings": bench_findings,
        "api": bench_api,
        "bank": bench_bank,
        "print": bench_print,
        "kinds": bench_kinds,
        "sheets": sheets.run,
        "cards": cards.run,
        "room": room.run,
        "faults": faults.run,
        "online": online.run,
        "pages": pages.run,
        "machines": machines.run,
        "slow-senders": slow_senders.run,
        "looks": looks.run,
        "record": record.run,
        "feedback": feedback.run,
        "comparing": comparing.run,
        "marking": marking.run,
        "ink": ink.run,
        "next-answer": next_answer.run,
        "tasks": tasks.run,
        "models": models.run,
        "explanations": findings.run,
        "ideas": ideas.run,
        "rubrics": criteria.run,
        "forecasts": forecasts.run,
        "keeping": bench_keeping,
        "first-load": bench_first_load,
    }
    for name in sys.argv[1:] or parts:
        parts[name]()


if __name__ == "__main__":
    main()
