"""Prints which share of all code lines are tests: Python, TypeScript and CSS, blank and generated lines not counted."""

import re
import subprocess
from pathlib import Path

CODE = re.compile(r"\.(py|ts|tsx|css|sh)$")
LEFT_OUT = re.compile(r"/migrations/|schema\.d\.ts$")
TEST = re.compile(r"^tests/|\.test\.tsx?$")


def lines(path: str) -> int:
    return sum(1 for line in Path(path).read_text(encoding="utf-8").splitlines() if line.strip())


def main() -> None:
    listed = subprocess.run(
        ["git", "ls-files", "--cached", "--others", "--exclude-standard"], capture_output=True, text=True, check=True
    )
    names = [name for name in listed.stdout.split() if name == "verso" or CODE.search(name)]
    counted = {name: lines(name) for name in names if not LEFT_OUT.search(name) and Path(name).exists()}
    tests = sum(count for name, count in counted.items() if TEST.search(name))
    total = sum(counted.values())
    print(f"verso: {total - tests} lines of code, {tests} of tests: {tests / total:.0%} are tests")


if __name__ == "__main__":
    main()
