"""``aptandum audit --book``: what is new since last time, from outside."""

from __future__ import annotations

import json
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from samples import SMALL, jpeg, scene


def call(folder: Path, *words: str) -> subprocess.CompletedProcess[str]:
    asked = ["audit", "list.csv", "--brief", "mole/small", "--rulebook", "mole.toml", "--book", "b.sqlite", *words]  # fmt: skip
    return subprocess.run([sys.executable, "-m", "aptandum", *asked], cwd=folder, capture_output=True, text=True, check=False)  # fmt: skip


def listed(folder: Path, *rows: str) -> None:
    (folder / "list.csv").write_text("sku,title,picture,price\n" + "\n".join(rows))


@pytest.mark.long
def test_three_visits_and_what_is_accepted(tmp_path):
    (tmp_path / "mole.toml").write_text(SMALL)
    (tmp_path / "small.jpg").write_bytes(jpeg(scene(90, 60, 1)))
    for name in ("a", "b", "c"):
        (tmp_path / f"{name}.jpg").write_bytes(jpeg(scene(160, 120, 2)))
    rows = ["1,Jug,a.jpg,5", "2,Jug,b.jpg,90", "3,Cup,small.jpg,7"]
    listed(tmp_path, *rows)
    first = call(tmp_path)
    assert first.returncode == 1 and "2 of 3 are in danger." in first.stdout
    assert "Since " not in first.stdout
    # one is put right, one is no longer listed, one is new and in danger
    shutil.copy(tmp_path / "small.jpg", tmp_path / "a.jpg")
    listed(tmp_path, rows[0], rows[2], "4,Mug,c.jpg,300")
    second = call(tmp_path, "--new")
    assert "1 newly in danger, 1 mended, 1 newly listed, 1 no longer listed." in second.stdout
    assert (
        "Jug is mended." in second.stdout and "Mug" in second.stdout and "Cup" not in second.stdout
    )
    # nothing has changed since: nothing is new, and what is in danger is since the second visit
    third = call(tmp_path, "--json")
    lines = {json.loads(line)["key"]: json.loads(line) for line in third.stdout.splitlines()}
    assert lines["4"]["in_danger"] and lines["4"]["danger_since"] == lines["4"]["first_seen"]
    assert lines["4"]["since_last_time"] is None and lines["4"]["value"] == 300
    assert lines["1"]["mended"] and lines["1"]["danger_since"] is None
    accepted = call(tmp_path, "--accept", "4", "--accept", "nobody")
    assert accepted.returncode == 0 and "1 was accepted as it is." in accepted.stdout
    assert "No item is known as “nobody”." in accepted.stderr
    out = tmp_path / "danger.csv"
    assert call(tmp_path, "--out", str(out)).returncode == 0
    assert (
        out.read_text("utf-8-sig").splitlines()[0].endswith("first seen,in danger since,accepted")
    )
    (tmp_path / "b.sqlite").write_bytes(b"only words" * 200)
    broken = call(tmp_path)
    assert (
        broken.returncode == 2 and "rename it" in broken.stderr and "Traceback" not in broken.stderr
    )
