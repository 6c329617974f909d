"""Findings in words a teacher reads: plain, short, with the counts they rest on."""

from collections.abc import Sequence

from versomark.core.text import listed

from .facts import FindingFacts, RivalFacts
from .flags import Confidence, Flag, Thresholds

FEWEST_STUDENTS = Thresholds().fewest_students


def number(value: float, places: int = 2) -> str:
    """A figure as printed in a sentence: `.29`, `−.08`, `1.25`; a true minus sign and no leading zero."""
    text = f"{abs(value):.{places}f}"
    text = text[1:] if text.startswith("0.") else text
    return f"−{text}" if value < 0 and float(f"{abs(value):.{places}f}") else text


def idea_clause(note: str) -> str:
    """An idea note as the end of “… seem to think that”: no capital, no full stop."""
    note = note.strip().rstrip(".")
    # A capital kept by names and abbreviations is not a sentence's first letter.
    if len(note) > 1 and note[0].isupper() and not note[1].isupper():
        note = note[0].lower() + note[1:]
    return note


HOW_LIKELY = {
    Confidence.ALMOST_CERTAIN: "almost certainly",
    Confidence.PROBABLE: "probably",
    Confidence.POSSIBLE: "perhaps",
}


def how_likely(probability: float) -> str:
    """As an adverb: perhaps, probably, almost certainly."""
    return HOW_LIKELY[Thresholds().confidence(probability)]


def how_sure(probability: float) -> str:
    """A probability as natural frequencies, which lay readers follow best (Gigerenzer & Hoffrage 1995)."""
    right = round(10 * probability)
    if right >= 10:
        return "Of a hundred findings this sure, all but a few prove right."
    return f"Of ten findings this sure, about {_numeral(right)} prove right and {_numeral(10 - right)} do not."


def _numeral(count: int) -> str:
    return ("none", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")[count]


def heading(f: FindingFacts) -> str:
    """The finding as the line one reads first; how likely it is stands in its verb."""
    likely = how_likely(f.probability)
    may = likely == "perhaps"
    if f.flag is Flag.CHECK_THE_KEY:
        return f"The key {'may be' if may else f'is {likely}'} wrong: look at {f.option}."
    if f.flag is Flag.TWO_RIGHT_ANSWERS:
        return f"It {'may have' if may else f'{likely} has'} two right answers: {_either(f.keys)} and {f.option}."
    if f.flag is Flag.SHARED_IDEA:
        idea = f"the idea that {idea_clause(f.idea_note)}" if f.idea_note else "a shared idea"
        return f"{f.count_of(f.option)} of {f.takers} {_chose(f)} {f.option}: {likely} {idea}."
    if f.flag is Flag.GUESSING:
        return f"They {'may have' if may else f'have {likely}'} guessed."
    if f.flag is Flag.RATERS_DISAGREE:
        return f"Two markers do not agree on “{f.criterion}”."
    if f.flag is Flag.NOT_REACHED:
        return f"{f.students} of {f.takers} did not come to it."
    if f.flag is Flag.UNUSED_LEVELS:
        who = "Hardly anyone" if any(level.students for level in f.levels) else "Nobody"
        return f"{who} was given {_level_points(f)} on “{f.criterion}”."
    if f.flag is Flag.LEVELS_OUT_OF_ORDER:
        if len(f.levels) != 2:
            return f"The levels of “{f.criterion}” are {likely} out of order."
        return f"On “{f.criterion}”, {f.levels[1].points:g} {likely} stands for less than {f.levels[0].points:g}."
    if f.flag is Flag.SOMETHING_ELSE:
        return f"“{f.criterion}” {likely} measures something else than the rest."
    return {
        Flag.WORKS_AGAINST: "It pulls against the other questions.",
        Flag.DOES_NOT_TELL_APART: f"It {likely} does not tell strong from weak.",
        Flag.TOO_HARD: "Hardly anyone could do it.",
        Flag.TOO_EASY: "Nearly everyone got it right.",
        Flag.DEAD_OPTION: "Some options draw nobody.",
    }[f.flag]


def idea_heading(idea: str, probability: float, expected: float, low: int, high: int, students: int) -> str:
    """How many hold an idea, as the line one reads first."""
    likely = how_likely(probability)
    first = "Perhaps " if likely == "perhaps" else ""
    adverb = "" if first else f" {likely}"
    return f"{first}{idea_count(expected, low, high, students)}{adverb} think that {idea_clause(idea)}."


def idea_count(expected: float, low: int, high: int, students: int) -> str:
    """“12 of 24 (8 to 15)”."""
    between = f" ({low} to {high})" if low < high else ""
    return f"{round(expected)} of {students}{between}"


def idea_elsewhere(
    where: str, there: bool, count: tuple[float, int, int, int], before: bool, fewer_later: float
) -> str:
    """An idea in another sitting of the class, beside this one. there: whether it more likely than not showed there.
    fewer_later: the probability that fewer held it at the later of the two."""
    count_words = (
        f"{idea_count(*count)} {'thought' if before else 'think'} so" if there else "more likely than not nobody did"
    )
    t = Thresholds()
    trend = next(
        (
            f"{HOW_LIKELY[t.confidence(probability)]} {which} {'now' if before else 'then'}"
            for probability, which in ((fewer_later, "fewer"), (1 - fewer_later, "more"))
            if probability >= t.probable
        ),
        "a difference that may be chance",
    )
    return f"{where[0].upper()}{where[1:]} {count_words}; {trend}."


def idea_gone(idea: str, where: str, count: tuple[float, int, int, int], probability: float) -> str:
    """An idea that the class showed before and does not show here. probability: that it is here all the same."""
    in_a_hundred = round(100 * probability)
    return (
        f"{idea_count(*count)} thought {where} that {idea_clause(idea)}. Here it does not show"
        f"{f', though {in_a_hundred} in 100 say that it is still there' if in_a_hundred >= 5 else ''}."
    )


def says(f: FindingFacts) -> str:
    """The finding as one or two sentences, with its evidence."""
    if f.flag in (Flag.CHECK_THE_KEY, Flag.TWO_RIGHT_ANSWERS):
        return f"{_count_words(f)}{_ends(f)}."
    if f.flag is Flag.SHARED_IDEA:
        return f"{_count_words(f)}{_ends(f)}."
    if f.flag is Flag.GUESSING:
        counts = ", ".join(f"{entry.count} {entry.option}" for entry in f.counts)
        return f"Hardly anybody seems to have known it; the answers are {counts}."
    if f.flag is Flag.RATERS_DISAGREE:
        return f"On {f.students} answers marked twice their points for it agree little better than chance would."
    if f.flag is Flag.UNUSED_LEVELS:
        given = [f"{level.students or 'none'} got {level.points:g}" for level in f.levels]
        return f"Of {f.students} answers {listed(given)}."
    if f.flag is Flag.LEVELS_OUT_OF_ORDER and len(f.levels) == 2:
        low, high = f.levels
        return (
            f"The {high.students} with {high.points:g} earned {high.rest or 0:.0%} of everything else on average, "
            f"the {low.students} with {low.points:g} {low.rest or 0:.0%}."
        )
    if f.flag is Flag.SOMETHING_ELSE:
        r = "" if f.r_rest is None else f" (r {number(f.r_rest)})"
        better = "does no better" if (f.r_rest or 0) <= 0 else "hardly does better"
        return f"Who does well on everything else {better} on it{r}."
    if f.flag is Flag.NOT_REACHED:
        return f"{f.students} of {f.takers} gave no answer to it nor to anything after it."
    if f.flag is Flag.WORKS_AGAINST:
        first = f"Who does well on it does worse on the others (r {number(f.r_rest or 0)})."
        if f.alpha is None or f.alpha_without is None or f.alpha_without <= f.alpha:
            return first
        return f"{first} Alpha would be {number(f.alpha_without)} without it instead of {number(f.alpha)}."
    if f.flag is Flag.DOES_NOT_TELL_APART:
        if f.r_rest is not None and f.r_rest < 0:
            return f"Who does well on it does worse on the others (r {number(f.r_rest)})."
        r = "" if f.r_rest is None else f" (r {number(f.r_rest)}; under .20 is poor)"
        return f"Who is good at the other questions does about equally well on it{r}."
    if f.flag is Flag.TOO_HARD:
        if not f.counts:
            return f"The class earned {f.earned or 0:.0%} of its marks."
        if not f.offered:
            return f"{f.right} of {f.takers} got it right."
        chance = len(f.keys) / len(f.counts)
        return f"{f.right} of {f.takers} got it right, about what guessing would give ({chance:.0%})."
    if f.flag is Flag.TOO_EASY:
        if not f.counts:
            return f"The class earned {f.earned or 0:.0%} of its marks: it says little about who understands."
        return f"{f.right} of {f.takers} got it right: it says little about who understands."
    never = [option for option in f.options if f.count_of(option) == 0]
    hardly = [option for option in f.options if f.count_of(option) > 0]
    parts = [f"Nobody chose {_either(never)}."] if never else []
    if hardly:
        parts.append(f"Hardly anyone chose {_either(hardly)}.")
    return " ".join(parts)


def _count_words(f: FindingFacts) -> str:
    key = "the key" if f.offered else "the right answer"
    named = f" {_either(f.keys)}" if f.offered else ""
    return f"{f.count_of(f.option)} of {f.takers} {_chose(f)} {f.option}, {f.right} {key}{named}"


def _ends(f: FindingFacts) -> str:
    """How the option goes with what students can do otherwise, where both ends are known."""
    if f.upper_option is None or f.lower_option is None:
        return ""
    return f"; {f.option} was taken by {f.upper_option:.0%} of the strongest and {f.lower_option:.0%} of the weakest"


def rival(entry: RivalFacts, keys: list[str]) -> str:
    """Another explanation, as the end of “or else …”."""
    if entry.flag is None:
        return "nothing is wrong with it"
    idea = f"the idea that {idea_clause(entry.idea_note)}" if entry.idea_note else "a shared idea"
    return {
        Flag.CHECK_THE_KEY: f"{entry.option} is the right answer",
        Flag.TWO_RIGHT_ANSWERS: f"{_either(keys)} and {entry.option} are both right",
        Flag.SHARED_IDEA: f"{idea} leads to {entry.option}",
        Flag.GUESSING: "they guessed",
    }[entry.flag]


def quiet(fair: float | None) -> str:
    """Of a question that no finding leads: how far its answers say that nothing is wrong. fair: the probability that
    nothing is, where there is one."""
    if fair is None or fair >= Thresholds.almost_certain:
        return "Nothing says that it misled anybody."
    if fair >= Thresholds.probable:
        return "Probably nothing is wrong with it."
    return "Whether something is wrong with it cannot be told from these answers."


def short(f: FindingFacts) -> str:
    """The finding as a note in the margin of the paper."""
    return {
        Flag.CHECK_THE_KEY: f"Is {f.option} the key?",
        Flag.TWO_RIGHT_ANSWERS: f"{_either(f.keys)} or {f.option}?",
        Flag.SHARED_IDEA: f"{f.count_of(f.option)} {_chose(f)} {f.option}",
        Flag.GUESSING: "Guessed?",
        Flag.RATERS_DISAGREE: "Markers disagree",
        Flag.WORKS_AGAINST: "Pulls against the rest",
        Flag.NOT_REACHED: f"{f.students} did not get here",
        Flag.DOES_NOT_TELL_APART: "Does not tell apart",
        Flag.TOO_HARD: "Too hard",
        Flag.TOO_EASY: "Too easy",
        Flag.DEAD_OPTION: f"{listed(f.options)} hardly chosen" if f.options else "",
        Flag.SOMETHING_ELSE: f"{f.criterion} apart from the rest",
        Flag.LEVELS_OUT_OF_ORDER: f"{f.criterion}: levels out of order",
        Flag.UNUSED_LEVELS: f"{f.criterion}: {_level_points(f)} hardly given",
    }[f.flag]


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
    Flag.SOMETHING_ELSE: "Report it by itself, or leave it out of the marks of this question.",
    Flag.LEVELS_OUT_OF_ORDER: "Read some answers of both levels side by side, and say what sets them apart.",
    Flag.UNUSED_LEVELS: "Take the level out, or say more clearly what earns it.",
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


def opening(
    students: int,
    share: float,
    alpha: tuple[float | None, float | None],
    urgent: Sequence[float],
    complete: bool,
    others: bool = False,
) -> str:
    """The sentences that open a page of figures.

    share: of the marks, in the mean. alpha: with the lower end of its interval. urgent: the probability of each finding
    that should be looked at. complete: whether everybody took every question. others: whether something less pressing
    was found.
    """
    who = f"{students} student{'s' if students != 1 else ''}"
    first = f"{who} earned {share:.0%} of the marks on average."
    chosen = "" if complete else " A question counts for those who took it."
    if students < FEWEST_STUDENTS:
        # Of so few nothing is claimed: neither that a question failed, nor that none did, nor how dependable it is.
        return f"{first} That is too few to judge questions by: {FEWEST_STUDENTS} are needed.{chosen}"
    return f"{first} {alpha_in_words(*alpha, students)} {to_look_at(urgent, others)}{chosen}"


def evidence_before(papers: int, in_part: bool) -> str:
    """Of earlier sittings whose answers were weighed too; in_part: with some of the questions only. Papers and not
    students, since the same class may have sat both."""
    if not papers:
        return ""
    some = ", with some of its questions," if in_part else ""
    counted = "paper" if papers == 1 else "papers"
    return f"{papers} {counted} handed in before{some} {'counts' if papers == 1 else 'count'} as evidence too."


def to_look_at(urgent: Sequence[float], others: bool = False) -> str:
    """How many findings there are, and how many of them may be expected to be wrong: the sum of what speaks against
    each."""
    if not urgent:
        return "No question is more likely than not to have misled anybody." if others else "No question stands out."
    wrong = sum(1 - probability for probability in urgent)
    if len(urgent) == 1:
        return f"One thing needs a look. {how_sure(urgent[0])}"
    look = f"{len(urgent)} things need a look"
    about = round(wrong)
    if about == 0:
        return f"{look}; most likely none of these findings is wrong."
    return f"{look}; expect about {_numeral(about) if about <= 10 else about} of these findings to be wrong."


def _level_points(f: FindingFacts) -> str:
    """“2 points”, “1 or 3 points”."""
    points = [f"{level.points:g}" for level in f.levels]
    return f"{_either(points)} {'point' if points == ['1'] else 'points'}"


def _chose(f: FindingFacts) -> str:
    return "chose" if f.offered else "gave"


def _either(letters: Sequence[str]) -> str:
    if not letters:
        return "nothing"
    return letters[0] if len(letters) == 1 else f"{', '.join(letters[:-1])} or {letters[-1]}"
