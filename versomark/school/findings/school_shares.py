"""How a question went in the whole school: of all classes that sat the same edition."""

from collections import Counter

from versomark.school.delivery.public import AFTER, Sitting

from .services import findings_of_several

MOST_OF_A_SCHOOL = 30


def school_shares(sitting: Sitting) -> dict[str, tuple[float, int]]:
    """By question, the share of its marks that all students of the school earned who sat this edition, and how many
    they were; empty where no other class did."""
    others = Sitting.objects.filter(
        edition__fingerprint=sitting.edition.fingerprint, owner__school=sitting.owner.school, state__in=AFTER
    ).exclude(pk=sitting.pk)
    sittings = [sitting, *others.select_related("edition").order_by("-opened_at")[: MOST_OF_A_SCHOOL - 1]]
    earned: dict[str, float] = {}
    takers: Counter[str] = Counter()
    classes = 0
    for analysis in findings_of_several(sittings):
        if analysis is None:
            continue
        classes += 1
        for question in analysis.body["paper"]:
            figures = question["figures"]
            if figures is not None and figures["p"] is not None:
                took = analysis.body["test"]["students"] - len(question["not_taken"])
                earned[question["ref"]] = earned.get(question["ref"], 0.0) + figures["p"] * took
                takers[question["ref"]] += took
    return (
        {ref: (value / takers[ref], takers[ref]) for ref, value in earned.items() if takers[ref]} if classes > 1 else {}
    )
