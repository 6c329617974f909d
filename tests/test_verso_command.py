"""The command line of the product: what it says when something is in its way."""

import os
import socket
import subprocess
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[1]


def verso(*arguments: str, path: Path | None = None) -> subprocess.CompletedProcess[str]:
    env = dict(os.environ)
    if path is not None:
        env["PATH"] = f"{path}:{env['PATH']}"
    return subprocess.run(
        ["bash", str(ROOT / "verso"), *arguments], capture_output=True, text=True, env=env, timeout=120, cwd="/"
    )


def program(folder: Path, name: str, script: str) -> None:
    made = folder / name
    made.write_text(f"#!/bin/sh\n{script}\n")
    made.chmod(0o755)


@pytest.mark.parametrize("command", ["demo", "serve"])
def test_an_occupied_port_is_named_with_the_way_out(command: str) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        refused = verso(command, "--port", str(port))
    assert refused.returncode == 1
    assert f"port {port} is in use" in refused.stderr
    assert f"--port {port + 1}" in refused.stderr


def test_an_old_node_is_named_with_what_is_needed(tmp_path: Path) -> None:
    program(tmp_path, "node", 'case "$1" in --version) echo v16.1.0;; *) exit 1;; esac')
    refused = verso("demo", "--port", "1", path=tmp_path)
    assert refused.returncode == 1
    assert "Node.js 20.19 or newer is needed; this is v16.1.0" in refused.stderr


@pytest.mark.parametrize(
    ("arguments", "message"),
    [
        (["dance"], "there is no command dance"),
        (["serve", "--colour", "red"], "unknown option --colour"),
        (["serve", "--large"], "--large goes with ./verso demo"),
        (["serve", "--port", "many"], "--port needs a number from 1 to 65535"),
        (["serve", "--port", "70000"], "--port needs a number from 1 to 65535"),
    ],
)
def test_misuse_is_answered_in_a_line(arguments: list[str], message: str) -> None:
    refused = verso(*arguments)
    assert refused.returncode == 1
    assert message in refused.stderr
    assert "Traceback" not in refused.stderr


def test_help_lists_the_commands() -> None:
    printed = verso("help").stdout
    for command in ("demo", "serve", "test", "analyse", "bench"):
        assert f"./verso {command}" in printed


def test_analyse_from_anywhere(tmp_path: Path) -> None:
    (tmp_path / "a.csv").write_text("student,q1,q2\nana,A,B\nbo,A,A\n")
    (tmp_path / "k.csv").write_text("item,key\nq1,A\nq2,B\n")
    done = verso("analyse", str(tmp_path / "a.csv"), "--key", str(tmp_path / "k.csv"))
    assert done.returncode == 0
    assert "2 students, 2 items" in done.stdout
    refused = verso("analyse", str(tmp_path / "a.csv"), "--key", str(tmp_path / "none.csv"))
    assert (refused.returncode, "none.csv: cannot be opened" in refused.stderr) == (2, True)
