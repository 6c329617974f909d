"""Skills from a published framework: CASE 1.0 (1EdTech, “Competencies and Academic Standards Exchange”), in and out.

A CFPackage is one JSON document: `CFDocument`, `CFItems`, and `CFAssociations`, of which `isChildOf` makes the tree.
"""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from uuid import NAMESPACE_URL, uuid5

from .untrusted import UnreadableFileError

MOST_BYTES = 20 * 1024 * 1024
MOST_SKILLS = 10_000
LONGEST_NAME = 120


@dataclass(frozen=True)
class CaseSkill:
    """A competency: `parent` is the identifier of the one above it, empty at the top."""

    identifier: str
    name: str
    statement: str
    code: str
    parent: str = ""


def read_case(data: bytes) -> tuple[str, list[CaseSkill], list[str]]:
    """The framework's title, its skills with parents before children, and what was left out. Raises Refused."""
    if len(data) > MOST_BYTES:
        raise UnreadableFileError(f"This file is larger than {MOST_BYTES // 2**20} MB.")
    try:
        package = json.loads(data)
    except (ValueError, RecursionError):
        raise UnreadableFileError("This file is not JSON.") from None
    if not isinstance(package, dict) or not isinstance(package.get("CFItems"), list):
        raise UnreadableFileError("This is not a CASE package: it has no CFItems.")
    items = [item for item in package["CFItems"] if isinstance(item, dict) and item.get("identifier")]
    if len(items) > MOST_SKILLS:
        raise UnreadableFileError(f"This framework has {len(items):,} skills; at most {MOST_SKILLS:,} are read.")
    known = {str(item["identifier"]) for item in items}
    parents = dict[str, str]()
    lost = list[str]()
    associations = package.get("CFAssociations")
    for link in associations if isinstance(associations, list) else []:
        child, parent = _end(link, "originNodeURI"), _end(link, "destinationNodeURI")
        if not isinstance(link, dict) or link.get("associationType") != "isChildOf":
            lost.append("a relation other than “is child of”")
        elif child in known and parent in known and child != parent:
            parents.setdefault(child, parent)
    skills = {str(item["identifier"]): _skill(item, parents) for item in items}
    document = package.get("CFDocument")
    title = str(document.get("title", "")) if isinstance(document, dict) else ""
    return title[:LONGEST_NAME], _top_down(skills), list(dict.fromkeys(lost))


def _end(link: object, name: str) -> str:
    node = link.get(name) if isinstance(link, dict) else None
    return str(node.get("identifier", "")) if isinstance(node, dict) else ""


def _skill(item: dict[str, object], parents: dict[str, str]) -> CaseSkill:
    identifier = str(item["identifier"])
    statement = " ".join(str(item.get("fullStatement") or "").split())
    code = " ".join(str(item.get("humanCodingScheme") or "").split())[:60]
    short = " ".join(str(item.get("abbreviatedStatement") or "").split()) or statement or code or identifier
    name = short if len(short) <= LONGEST_NAME else f"{short[: LONGEST_NAME - 1].rsplit(' ', 1)[0]}…"
    return CaseSkill(identifier, name, statement, code, parents.get(identifier, ""))


def _top_down(skills: dict[str, CaseSkill]) -> list[CaseSkill]:
    """Parents before children; a skill in a circle of parents stands at the top."""
    done, order = set[str](), list[CaseSkill]()
    for skill in skills.values():
        path = list[CaseSkill]()
        while skill.identifier not in done:
            if skill in path:
                path[path.index(skill)] = CaseSkill(skill.identifier, skill.name, skill.statement, skill.code)
                break
            path.append(skill)
            if not skill.parent:
                break
            skill = skills[skill.parent]
        for entry in reversed(path):
            done.add(entry.identifier)
            order.append(entry)
    return order


def write_case(title: str, school: str, skills: Sequence[CaseSkill], at: datetime) -> bytes:
    """A CFPackage of these skills. at: when it is said to have been changed."""
    when = at.astimezone(UTC).isoformat(timespec="seconds")
    document = str(uuid5(NAMESPACE_URL, f"verso:case:{school}"))

    def link(identifier: str, name: str) -> dict[str, str]:
        return {"title": name, "identifier": identifier, "uri": f"urn:uuid:{identifier}"}

    package = {
        "CFDocument": {
            "identifier": document,
            "uri": f"urn:uuid:{document}",
            "creator": school,
            "title": title,
            "lastChangeDateTime": when,
        },
        "CFItems": [
            {
                "identifier": skill.identifier,
                "uri": f"urn:uuid:{skill.identifier}",
                "fullStatement": skill.statement or skill.name,
                "abbreviatedStatement": skill.name,
                "humanCodingScheme": skill.code,
                "lastChangeDateTime": when,
                "CFDocumentURI": link(document, title),
            }
            for skill in skills
        ],
        "CFAssociations": [
            {
                "identifier": str(uuid5(NAMESPACE_URL, f"verso:{skill.identifier}:{skill.parent}")),
                "associationType": "isChildOf",
                "originNodeURI": link(skill.identifier, skill.name),
                "destinationNodeURI": link(skill.parent, next(s.name for s in skills if s.identifier == skill.parent)),
                "lastChangeDateTime": when,
            }
            for skill in skills
            if skill.parent
        ],
    }
    return json.dumps(package, ensure_ascii=False, indent=1).encode()
