"""The examples of ``docs/library.md`` and ``docs/scripts.md``, run as they stand."""

from __future__ import annotations

import json
import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

import aptandum
from aptandum import library
from samples import DEMO

DOCS = Path(__file__).resolve().parent.parent / "docs"


@pytest.mark.long
def test_the_page_of_the_library_runs_as_it_stands(tmp_path, monkeypatch):
    for photo in DEMO.glob("*.jpg"):
        shutil.copy(photo, tmp_path)
    (tmp_path / "finished").mkdir()
    monkeypatch.chdir(tmp_path)
    blocks = re.findall(r"```python\n(.*?)```", (DOCS / "library.md").read_text("utf-8"), re.DOTALL)
    assert len(blocks) >= 9
    names: dict[str, object] = {}
    for block in blocks:
        exec(compile(block, "docs/library.md", "exec"), names)
    before = {path.name: path.read_bytes() for path in DEMO.glob("*.jpg")}
    assert {path.name: path.read_bytes() for path in tmp_path.glob("*.jpg")} == before


def test_everything_that_is_named_is_there_and_documented():
    for name in aptandum.__all__:
        found = getattr(aptandum, name)
        assert name.startswith("__") or found.__doc__
    assert set(aptandum.__all__) <= set(dir(aptandum))
    assert set(aptandum.__all__) == {*library.__all__, "__version__"}
    with pytest.raises(AttributeError, match="has no attribute 'judge'"):
        aptandum.judge  # noqa: B018


def test_importing_it_costs_nothing():
    said = subprocess.run(
        [sys.executable, "-c", "import sys, aptandum; print([m for m in sys.modules if 'numpy' in m or 'core' in m])"],
        capture_output=True, text=True, check=True,
    )  # fmt: skip
    assert said.stdout.strip() == "[]"


def test_what_goes_wrong_is_one_of_our_own_errors(tmp_path):
    with pytest.raises(aptandum.BriefNotFound):
        aptandum.check(DEMO / "blue_jug_03.jpg", "no-body/no-brief")
    with pytest.raises(aptandum.RulebookError):
        aptandum.Rulebook.parse("format = 1\n")
    with pytest.raises(aptandum.RulebookError):
        aptandum.Rulebook.of_words("the weather is fine today")
    made = aptandum.conform(DEMO / "blue_jug_03.jpg", "quayside-exchange/item-picture")
    with pytest.raises(aptandum.WriteError):
        made.write(DEMO / "blue_jug_03.jpg", replace=True)
    first, second = made.write(tmp_path), made.write(tmp_path)
    assert first != second and first.read_bytes() == second.read_bytes() == made.data


@pytest.mark.skipif(shutil.which("jq") is None, reason="jq is not here")
@pytest.mark.long
def test_a_folder_to_proved_files_with_nothing_but_jq(tmp_path):
    photos, finished = tmp_path / "photos", tmp_path / "finished"
    photos.mkdir()
    for name in ("quill_harrow_0119.jpg", "blue_jug_03.jpg"):
        shutil.copy(DEMO / name, photos)
    (photos / "torn.jpg").write_bytes((DEMO / "blue_jug_03.jpg").read_bytes()[:4000])
    bin_ = tmp_path / "bin"
    bin_.mkdir()
    call = bin_ / "aptandum"
    call.write_text(f'#!/bin/sh\nexec "{sys.executable}" -m aptandum "$@"\n')
    call.chmod(0o755)
    done = subprocess.run(
        [DOCS / "examples/prove-folder", "quayside-exchange/item-picture", photos, finished],
        capture_output=True, text=True, env={**os.environ, "PATH": f"{bin_}:{os.environ['PATH']}"}, check=False,
    )  # fmt: skip
    assert done.returncode == 2 and done.stdout == "1 proved, 2 missed\n", done.stderr
    check = subprocess.run(
        ["sha256sum", "-c", finished / "proved.sha256"], capture_output=True, check=False
    )
    assert check.returncode == 0
    missed = [line.split("\t") for line in (finished / "missed.tsv").read_text().splitlines()]
    assert {Path(row[0]).name for row in missed} == {"blue_jug_03.jpg", "torn.jpg"}
    row = next(row for row in missed if row[1] == "enlargement")
    assert row[2:7] == ["1.2", "null", "1", "0.2", "1"]
    for line in (finished / "record.jsonl").read_text().splitlines():
        assert json.loads(line)["version"] == 1
