"""A class of the demo's teacher that is going to speak, put straight into the data of a server that may be running."""

import sys

NAMES = ["Ada Lovelace", "தமிழ்ச்செல்வி இராமநாதன்", "Søren Kierkegaard-Nagy", "Li Wei", "Nour al-Din", "Ben Okri"]


def spoken(names: list[str] = NAMES, class_name: str = "9 Gannet") -> int:
    """The number of the sitting."""
    from versomark.core.items.by_rubric import Performance
    from versomark.core.items.rubric import Criterion, Level, Rubric
    from versomark.school.accounts.models import Teacher
    from versomark.school.bank.services import Details, make_item
    from versomark.school.classes.services import add_students, make_class
    from versomark.school.delivery import services
    from versomark.school.editions.services import freeze, keep_items, make_test

    brandt = Teacher.objects.get(username="brandt")
    school_class = make_class(brandt, class_name)
    add_students(school_class, names)
    words = ["does not say it", "says it in part", "says it and gives a reason", "says it, and how it was measured"]
    levels = [Level(points=at, words=says) for at, says in enumerate(words)]
    rubric = Rubric(
        criteria=[
            Criterion(id="a", name="What was found", max=3, levels=levels),
            Criterion(id="b", name="Speaks freely", max=2),
            Criterion(id="c", name="Answers questions", max=2),
        ]
    )
    stem = "Tell the others in two minutes what your group measured, and what it shows."
    task = Performance(stem=stem, marks=7, minutes=2, rubric=rubric)
    test = keep_items(
        make_test(brandt, "Talk"), "A talk about our circuit", "", [make_item(brandt, task, Details([])).pk]
    )
    return services.plan(brandt, freeze(test), school_class, None).pk


if __name__ == "__main__":
    import django

    django.setup()
    print(spoken(class_name=sys.argv[1]))
