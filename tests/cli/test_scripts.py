"""The command line as a script meets it: a process, what it says and where, and its status."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest

from samples import jpeg, scene

ROOM = "vessary-ferries/deck-pass"


def call(*args: str, given: bytes = b"", **more: object) -> subprocess.CompletedProcess[bytes]:
    command = [sys.executable, "-m", "aptandum", *args]
    return subprocess.run(command, input=given, capture_output=True, check=False, **more)  # type: ignore[call-overload]


@pytest.fixture
def photos(tmp_path: Path) -> Path:
    for name in ("a", "b"):
        (tmp_path / f"{name}.jpg").write_bytes(jpeg(scene(60, 40)))
    (tmp_path / "notes.txt").write_text("no photo")
    return tmp_path


def test_the_version_is_said_before_anything_is_imported():
    done = call("--version")
    assert done.stdout.startswith(b"aptandum ") and done.returncode == 0
    loaded = "import sys; sys.argv = ['aptandum', '--version']; import aptandum.__main__ as m; m.main(); print(sorted(sys.modules))"
    said = subprocess.run([sys.executable, "-c", loaded], capture_output=True, check=True).stdout
    assert b"numpy" not in said and b"typer" not in said and b"PIL" not in said


def test_a_folder_and_a_pattern_give_the_facts_of_each_photo(photos: Path):
    for named in (str(photos), str(photos / "*.jpg")):
        rows = [json.loads(line) for line in call("facts", named, "--json").stdout.splitlines()]
        assert [Path(row["file"]).name for row in rows] == ["a.jpg", "b.jpg"]
        assert all(row["width"] == 60 and row["decodes"] for row in rows)


@pytest.mark.long
def test_standard_input_is_a_photo_as_any_other():
    data = jpeg(scene(60, 40))
    done = call("facts", "-", "--json", given=data)
    record = json.loads(done.stdout)
    assert record["file"] == "-" and record["width"] == 60 and record["bytes"] == len(data)
    checked = call("check", "-", "--brief", ROOM, "--json", given=data)
    assert json.loads(checked.stdout)["file"] == "-" and checked.returncode == 1
    broken = call("facts", "-", given=b"nothing of the kind")
    assert broken.returncode == 2 and b"standard-input is not a picture" in broken.stderr


@pytest.mark.long
def test_what_goes_wrong_is_told_on_standard_error(photos: Path):
    for command in (("facts",), ("check", "--brief", ROOM)):
        done = call(command[0], str(photos / "notes.txt"), *command[1:])
        assert done.returncode == 2 and b"notes.txt is not a picture" in done.stderr
        assert b"is not a picture" not in done.stdout.split(b"error=")[0]


@pytest.mark.long
def test_a_pipe_gets_whole_lines_and_plain_spaces(photos: Path):
    done = call("check", str(photos / "a.jpg"), "--brief", ROOM)
    text = done.stdout.decode()
    assert not any(space in text for space in "\u00a0\u202f\u2007") and "\x1b" not in text
    assert max(map(len, text.splitlines())) > 80
    assert all(line.startswith(("  ", str(photos))) for line in text.splitlines()), text


@pytest.mark.long
def test_quiet_says_nothing_but_what_goes_wrong(photos: Path):
    done = call("check", str(photos / "a.jpg"), "--brief", ROOM, "--quiet")
    assert (done.stdout, done.returncode) == (b"", 1)
    wrong = call("facts", "--quiet", str(photos / "gone.jpg"))
    assert wrong.stdout == b"" and b"gone.jpg" in wrong.stderr and wrong.returncode == 2


@pytest.mark.parametrize("command", ["facts", "check", "conform", "audit", "rulebook"])
@pytest.mark.long
def test_h_is_help(command: str):
    short, whole = call(command, "-h"), call(command, "--help")
    assert short.returncode == 0 and short.stdout == whole.stdout and b"Usage" in short.stdout


def test_help_tells_the_statuses_and_opens_no_window():
    assert b"It ends with 0 where" in call("--help").stdout
    opened = call("open", "--help", timeout=60)
    assert opened.returncode == 0 and b"aptandum open FILE" in opened.stdout


def test_a_brief_that_is_not_there_opens_no_window(photos: Path):
    done = call("open", str(photos / "a.jpg"), "--brief", "no-body/no-brief", timeout=60)
    assert done.returncode == 2 and b"no-body" in done.stderr
