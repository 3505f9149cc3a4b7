"""Many files on the command line: folders, workers, resuming, and a kill at any moment."""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
import random
import signal
import subprocess
import sys
from pathlib import Path

import pytest
from PIL import Image

from samples import scene

BRIEF = "quayside-exchange/footer-strip"


@pytest.fixture
def shelf(tmp_path):
    folder = tmp_path / "in"
    (folder / "deep").mkdir(parents=True)
    for i in range(6):
        where = folder / "deep" if i % 2 else folder
        Image.fromarray(scene(1400, 500, i + 1)).save(where / f"quay_{i}.jpg", quality=92)
    return folder


def call(*args, home, **more):
    env = {**os.environ, "XDG_STATE_HOME": str(home), "XDG_CACHE_HOME": str(home)}
    return subprocess.run(
        [sys.executable, "-m", "aptandum", *map(str, args)],
        capture_output=True,
        text=True,
        env=env,
        timeout=240,
        **more,
    )


def digests(folder: Path) -> dict[str, str]:
    return {str(p): hashlib.sha256(p.read_bytes()).hexdigest() for p in folder.rglob("*.jpg")}


def lines_of(done):
    return [json.loads(line) for line in done.stdout.splitlines()]


@pytest.mark.long
def test_a_folder_with_a_bad_file_by_two_workers_and_then_resumed(shelf, tmp_path):
    (shelf / "letter.jpg").write_text("Dear harbour master")
    out = tmp_path / "out"
    args = ("conform", shelf, "--brief", BRIEF, "--out", out, "--json", "--workers", 2)
    first = call(*args, home=tmp_path)
    records = lines_of(first)
    assert first.returncode == 2 and len(records) == 7
    bad = [r for r in records if r["error"]]
    assert len(bad) == 1 and "letter.jpg" in bad[0]["error"] and bad[0]["written"] is None
    assert len(list(out.iterdir())) == 6
    for record in records:
        if not record["error"]:
            with Image.open(record["written"]) as image:
                assert image.size in ((1200, 300), (1600, 400), (2000, 500))
    made = {p: p.stat().st_mtime_ns for p in out.iterdir()}
    # resumed: what is done and unchanged is left alone, the rest is made
    changed = shelf / "quay_2.jpg"
    Image.fromarray(scene(1400, 500, 77)).save(changed, quality=92)
    lost = next(Path(r["written"]) for r in records if r["file"].endswith("quay_4.jpg"))
    lost.unlink()
    again = lines_of(call(*args, "--resume", home=tmp_path))
    skipped = [r["file"] for r in again if r.get("resumed")]
    assert len(again) == 7 and len(skipped) == 4
    assert not any(name.endswith(("quay_2.jpg", "quay_4.jpg")) for name in skipped)
    assert all(p.stat().st_mtime_ns == t for p, t in made.items() if p != lost)
    # another setting makes all of them anew, under free names
    other = lines_of(call(*args, "--resume", "--set", "file.quality=80", home=tmp_path))
    assert not any(r.get("resumed") for r in other)


@pytest.mark.long
def test_a_pattern_names_files_and_a_summary_names_reasons(shelf, tmp_path):
    done = call(
        "conform",
        shelf / "quay_*.jpg",
        "--brief",
        BRIEF,
        "--out",
        tmp_path / "o",
        "--set",
        "file.format=tiff",
        home=tmp_path,
    )
    assert done.returncode == 1, done.stderr
    assert "0 of 3 meet every rule" in done.stdout
    assert any(line.split() == ["3", "format"] for line in done.stdout.splitlines())


@pytest.mark.long
def test_ctrl_c_finishes_what_is_out_and_says_how_far_it_came(shelf, tmp_path):
    env = {**os.environ, "XDG_STATE_HOME": str(tmp_path)}
    process = subprocess.Popen(
        [
            sys.executable,
            "-m",
            "aptandum",
            "conform",
            str(shelf),
            "--brief",
            BRIEF,
            "--out",
            str(tmp_path / "o"),
            "--json",
        ],
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
        env=env,
    )
    assert process.stdout.readline().startswith("{")
    process.send_signal(signal.SIGINT)
    # What readline has read ahead is still to be had from the same stream.
    rest, said = process.stdout.read(), process.stderr.read()
    assert process.wait(timeout=120) == 2 and "--resume goes on" in said
    made = list((tmp_path / "o").iterdir())
    assert 1 <= len(made) < 6 and len(made) == 1 + len(rest.splitlines())
    for path in made:
        with Image.open(path) as image:
            image.load()


@pytest.mark.long
def test_killed_at_any_moment_no_file_is_half_written_and_resume_completes(shelf, tmp_path):
    before = digests(shelf)
    out = tmp_path / "out"
    out.mkdir()
    args = [
        sys.executable,
        "-m",
        "aptandum",
        "conform",
        str(shelf),
        "--brief",
        BRIEF,
        "--out",
        str(out),
        "--json",
        "--resume",
    ]
    env = {**os.environ, "XDG_STATE_HOME": str(tmp_path), "XDG_CACHE_HOME": str(tmp_path)}
    rng = random.Random(5)
    for _ in range(int(os.environ.get("APTANDUM_KILLS", "5"))):
        process = subprocess.Popen(args, stdout=subprocess.DEVNULL, env=env)
        with contextlib.suppress(subprocess.TimeoutExpired):
            process.wait(rng.uniform(0.4, 3.0))  # the moment of the kill is drawn by lot
        process.kill()
        process.wait()
        for path in out.iterdir():
            if path.name.startswith(".aptandum-"):
                continue  # the hidden file that a kill leaves: never under a finished name
            with Image.open(path) as image:
                image.load()
                assert image.size[0] in (1200, 1600, 2000)
    done = call(*args[3:], home=tmp_path)
    assert done.returncode == 0, done.stderr
    records = lines_of(done)
    assert len(records) == 6 and all(r["ready"] for r in records)
    assert len({r["written"] for r in records}) == 6
    assert digests(shelf) == before


@pytest.mark.long
def test_of_many_files_only_what_is_not_met_is_listed(shelf, tmp_path):
    few = sorted(p for p in shelf.iterdir() if p.suffix == ".jpg")[:2]
    shown = call("check", *few, "--brief", BRIEF, home=tmp_path / "h")
    assert "= meets" in shown.stdout and "≠ misses" in shown.stdout
    shown = call("check", shelf, "--brief", BRIEF, home=tmp_path / "h")
    assert shown.stdout.count("≠ misses") >= 6 and "= meets" not in shown.stdout
