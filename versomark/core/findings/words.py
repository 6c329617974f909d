"""Findings in words a teacher reads: plain, short, with the counts they rest on."""

from versomark.core.response_table import ItemColumn, ResponseTable
from versomark.core.stats import ItemMeasures
from versomark.core.text import listed

from .flags import Finding, Flag, Thresholds

FEWEST_STUDENTS = Thresholds().fewest_students


def number(value: float, places: int = 2) -> str:
    """A figure as printed in a sentence: `.29`, `−.08`, `1.25`; a true minus sign and no leading zero."""
    text = f"{abs(value):.{places}f}"
    text = text[1:] if text.startswith("0.") else text
    return f"−{text}" if value < 0 and float(f"{abs(value):.{places}f}") else text


def key_letters(item: ItemColumn) -> str:
    keys = [option.label for option in item.options if option.key]
    return " or ".join(keys) if keys else "nothing"


def idea_clause(note: str) -> str:
    """An idea note as the end of “… seem to think that”: no capital, no full stop."""
    note = note.strip().rstrip(".")
    # A capital kept by names and abbreviations is not a sentence's first letter.
    if len(note) > 1 and note[0].isupper() and not note[1].isupper():
        note = note[0].lower() + note[1:]
    return note


def says(finding: Finding, table: ResponseTable, m: ItemMeasures, thresholds: Thresholds) -> str:
    """The finding as one or two sentences, with its evidence."""
    item, j, students = table.items[finding.item], finding.item, int(table.takers[finding.item])
    right = _count_right(table, j)
    letters = [item.options[k].label for k in finding.options]
    if finding.flag is Flag.CHECK_THE_KEY:
        return (
            f"The better students choose {letters[0]}; the key says {key_letters(item)}. "
            f"{finding.students} of {students} chose {letters[0]}, {right} the key."
        )
    if finding.flag is Flag.SHARED_IDEA:
        k = finding.options[0]
        note = item.options[k].idea_note
        alike = m.upper[0, j, k] >= m.lower[0, j, k]
        verb, key = ("chose", "the key") if _chose(item) == "chose" else ("gave", "the right answer")
        start = f"{finding.students} of {students} {verb} {letters[0]}, {right} {key}"
        whom = "from strong and weak students alike" if alike else "mostly from the weaker half"
        end = f" They seem to think that {idea_clause(note)}." if note else ""
        return f"{start}, {whom}.{end}"
    if finding.flag is Flag.TWO_RIGHT_ANSWERS:
        k = finding.options[0]
        upper = [m.upper[0, j, at] for at, option in enumerate(item.options) if option.key]
        return (
            f"The strong students are divided: of the upper group {m.upper[0, j, k]:.0%} chose {letters[0]} and "
            f"{max(upper):.0%} the key {key_letters(item)}, and both go with a high total."
        )
    if finding.flag is Flag.GUESSING:
        counts = ", ".join(f"{round(m.count[0, j, k])} {option.label}" for k, option in enumerate(item.options))
        return f"The answers are spread as guessing would spread them: {counts}."
    if finding.flag is Flag.NOT_REACHED:
        return f"{finding.students} of {students} did not come to it: for them the test was too long."
    if finding.flag is Flag.WORKS_AGAINST:
        with_it, without = number(m.alpha[0]), number(m.alpha_without[0, j])
        return f"Without it the totals would be more dependable: alpha {without} instead of {with_it}."
    if finding.flag is Flag.DOES_NOT_TELL_APART:
        d = m.d[0, j]
        if d < 0:
            return f"Weaker students do better on it than stronger ones (D {number(d)})."
        least = number(thresholds.least_d)
        return f"Strong and weak students do about equally well on it (D {number(d)}; under {least} is poor)."
    if finding.flag is Flag.TOO_HARD:
        if not item.options:
            return f"The class earned {m.p[0, j]:.0%} of its marks."
        if not item.options[0].offered:
            return f"{right} of {students} got it right."
        chance = sum(option.key for option in item.options) / len(item.options)
        return f"{right} of {students} got it right, about what guessing would give ({chance:.0%})."
    if finding.flag is Flag.TOO_EASY:
        if not item.options:
            return f"The class earned {m.p[0, j]:.0%} of its marks: it says little about who understands."
        return f"{right} of {students} got it right: it says little about who understands."
    never = [item.options[k].label for k in finding.options if m.count[0, j, k] == 0]
    hardly = [item.options[k].label for k in finding.options if m.count[0, j, k] > 0]
    parts = [f"Nobody chose {_either(never)}."] if never else []
    if hardly:
        parts.append(f"Hardly anyone chose {_either(hardly)}.")
    return " ".join(parts)


def heading(finding: Finding, table: ResponseTable) -> str:
    """The finding as the line one reads first."""
    item, students = table.items[finding.item], int(table.takers[finding.item])
    if finding.flag is Flag.CHECK_THE_KEY:
        return f"The key may be wrong: look at {item.options[finding.options[0]].label}."
    if finding.flag is Flag.SHARED_IDEA:
        option = item.options[finding.options[0]]
        if option.idea_note:
            return f"{finding.students} of {students} seem to think that {idea_clause(option.idea_note)}."
        return f"{finding.students} of {students} {_chose(item)} {option.label}."
    if finding.flag is Flag.TWO_RIGHT_ANSWERS:
        return f"It may have two right answers: {key_letters(item)} and {item.options[finding.options[0]].label}."
    if finding.flag is Flag.NOT_REACHED:
        return f"{finding.students} of {students} did not come to it."
    return {
        Flag.GUESSING: "They guessed.",
        Flag.WORKS_AGAINST: "It pulls against the other questions.",
        Flag.DOES_NOT_TELL_APART: "It does not tell strong from weak.",
        Flag.TOO_HARD: "Hardly anyone could do it.",
        Flag.TOO_EASY: "Nearly everyone got it right.",
        Flag.DEAD_OPTION: "Some options draw nobody.",
    }[finding.flag]


def short(finding: Finding, table: ResponseTable) -> str:
    """The finding as a note in the margin of the paper."""
    letters = [table.items[finding.item].options[k].label for k in finding.options]
    item = table.items[finding.item]
    return {
        Flag.CHECK_THE_KEY: f"Is {letters[0]} the key?" if letters else "",
        Flag.TWO_RIGHT_ANSWERS: f"{key_letters(item)} or {letters[0]}?" if letters else "",
        Flag.GUESSING: "Guessed",
        Flag.WORKS_AGAINST: "Pulls against the rest",
        Flag.NOT_REACHED: f"{finding.students} did not get here",
        Flag.SHARED_IDEA: f"{finding.students} {_chose(table.items[finding.item])} {letters[0]}" if letters else "",
        Flag.DOES_NOT_TELL_APART: "Does not tell apart",
        Flag.TOO_HARD: "Too hard",
        Flag.TOO_EASY: "Too easy",
        Flag.DEAD_OPTION: f"{listed(letters)} hardly chosen" if letters else "",
    }[finding.flag]


ADVICE = {
    Flag.CHECK_THE_KEY: "Settle the key: accept the other answer, or change it.",
    Flag.TWO_RIGHT_ANSWERS: "Accept both, or reword the stem or the option before its next use.",
    Flag.SHARED_IDEA: "Teach those again who hold the idea, and ask once more.",
    Flag.GUESSING: "It was not taught, or not understood: ask it again in the room, or teach it first.",
    Flag.DOES_NOT_TELL_APART: "Read the stem and the options as a student would, and reword what is unclear.",
    Flag.TOO_HARD: "Ask it again in the room to see what keeps them from it.",
    Flag.WORKS_AGAINST: "See the figures without it; reword it before its next use.",
    Flag.TOO_EASY: "Keep it as a way in, or ask something harder.",
    Flag.NOT_REACHED: "Fewer questions or more time.",
    Flag.RATERS_DISAGREE: "Look at sample answers together, and say what each level takes.",
    Flag.DEAD_OPTION: "Put in its place what students really get wrong.",
}
"""What to do about each, in a sentence."""


def d_in_words(d: float, students: int) -> str:
    """Ebel and Frisbie's (1991) bands of D; of too few students nothing is said."""
    if students < FEWEST_STUDENTS:
        return f"says nothing yet: {too_few(students)}"
    bands = (
        (0.40, "tells them apart very well"),
        (0.30, "tells them apart well"),
        (0.20, "tells them apart a little"),
    )
    return next((words for least, words in bands if d >= least), "hardly tells them apart")


def too_few(students: int) -> str:
    return f"{students} {'student is' if students == 1 else 'students are'} too few"


def alpha_in_words(alpha: float | None, low: float | None, students: int) -> str:
    """What a reliability means for this class (common practice: .80 for decisions on one student, .60 for groups).

    The end of the interval decides, not the coefficient alone: a small class can look dependable by luck. Of too few
    students nothing is said at all.
    """
    if students < FEWEST_STUDENTS:
        return f"How dependable the totals are is not known: {too_few(students)}, {FEWEST_STUDENTS} are needed."
    if alpha is None:
        return "How dependable the totals are cannot be said from these answers."
    if low is not None and low >= 0.80:
        return "The totals are dependable enough to tell single students apart."
    if alpha >= 0.80:
        return "The totals look dependable, but for a group of this size that is not certain."
    if alpha >= 0.60:
        return "The totals are good enough to speak of the class, with care about single students."
    return "The totals are shaky: speak of questions and ideas, not of ranks."


def opening(table: ResponseTable, mean: float, alpha: tuple[float | None, float | None], flagged: int) -> str:
    """The sentences that open a page of figures. `alpha` comes with the lower end of its interval."""
    students, share = len(table.students), mean / table.max_total if table.max_total else 0
    who = f"{students} student{'s' if students != 1 else ''}"
    first = f"{who} earned {share:.0%} of the marks on average."
    questions = "One question needs" if flagged == 1 else f"{flagged} questions need"
    chosen = "" if table.complete else " A question counts for those who took it."
    if students < FEWEST_STUDENTS:
        # Of so few nothing is claimed: neither that a question failed, nor that none did, nor how dependable it is.
        return f"{first} That is too few to judge questions by: {FEWEST_STUDENTS} are needed.{chosen}"
    third = f"{questions} a look." if flagged else "No question stands out."
    return f"{first} {alpha_in_words(*alpha, students)} {third}{chosen}"


def _chose(item: ItemColumn) -> str:
    return "chose" if all(option.offered for option in item.options) else "gave"


def _either(letters: list[str]) -> str:
    return letters[0] if len(letters) == 1 else f"{', '.join(letters[:-1])} or {letters[-1]}"


def _count_right(table: ResponseTable, j: int) -> int:
    return int((table.points[:, j] >= table.items[j].max).sum())
