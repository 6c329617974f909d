"""What a test says of skills by their names follows when a skill is renamed, or becomes part of another."""

from typing import Any

from versomark.school.accounts.public import Teacher

from .models import Test


def follow(owner: Teacher, before: str, after: str, **signal: object) -> None:
    """In the plan and the draws of tests, and in what is said of marks given elsewhere. Frozen editions stay as they
    were sat."""
    changed = []
    for test in Test.objects.filter(owner=owner):
        layout, described = _in_layout(test.layout, before, after), _in_described(test.described, before, after)
        if (layout, described) != (test.layout, test.described):
            test.layout, test.described = layout, described
            changed.append(test)
    Test.objects.bulk_update(changed, ["layout", "described"])


def _in_layout(layout: dict[str, Any], before: str, after: str) -> dict[str, Any]:
    if not layout:
        return layout
    marks = dict[str, float]()
    for row in layout.get("plan", []):
        name = after if row["skill"] == before else row["skill"]
        marks[name] = marks.get(name, 0) + row.get("marks", 0)
    sections = [
        {**section, "draws": [_renamed(rule, before, after) for rule in section.get("draws", [])]}
        if "draws" in section
        else section
        for section in layout["sections"]
    ]
    plan = {"plan": [{"skill": name, "marks": of} for name, of in marks.items()]} if "plan" in layout else {}
    return {**layout, "sections": sections, **plan}


def _renamed(rule: dict[str, Any], before: str, after: str) -> dict[str, Any]:
    return {**rule, "skill": after} if rule["skill"] == before else rule


def _in_described(described: dict[str, Any] | None, before: str, after: str) -> dict[str, Any] | None:
    if described is None:
        return None
    groups = [
        {**group, "skills": list(dict.fromkeys(after if name == before else name for name in group["skills"]))}
        if before in group.get("skills", [])
        else group
        for group in described["groups"]
    ]
    return {**described, "groups": groups}
