"""Counts names that say nothing of what they hold; more than there are is refused, so that there are ever fewer.

A loop variable is the singular of its collection, a local is called by its content. These words name neither.
"""

import ast
import sys
from collections import Counter
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
WORDS = {"one", "found", "said", "told", "these", "held", "made", "kept", "looked", "spent", "laid", "what"}
MOST = 58


def bound_names(source: str) -> list[str]:
    """Every name that is bound in a module: variables and parameters, once a binding."""
    bound = [
        node.id
        for node in ast.walk(ast.parse(source))
        if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Store)
    ]
    return bound + [node.arg for node in ast.walk(ast.parse(source)) if isinstance(node, ast.arg)]


def main() -> int:
    counts = Counter[str]()
    for path in (ROOT / "versomark").rglob("*.py"):
        if "migrations" not in path.parts:
            counts.update(name for name in bound_names(path.read_text(encoding="utf-8")) if name in WORDS)
    total = sum(counts.values())
    print(
        f"verso: {total} names that say nothing ({', '.join(f'{word} {n}' for word, n in counts.most_common(5))})",
        file=sys.stderr,
    )
    if total > MOST:
        print(f"verso: at most {MOST}; call a name by what it holds", file=sys.stderr)
    return int(total > MOST)


if __name__ == "__main__":
    sys.exit(main())
