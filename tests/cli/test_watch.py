"""``aptandum watch`` from outside: bursts, halves, new names, kills, a full disk, Ctrl-C."""

from __future__ import annotations

import contextlib
import json
import os
import random
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest
from PIL import Image

from aptandum.core.watched.watcher import LIST
from samples import SMALL, THOROUGH, jpeg, scene

MANY = 1000 if THOROUGH else 60


def begun(folder: Path, out: Path, told: Path | None = None) -> subprocess.Popen[str]:
    """A watch that Ctrl-C ends, even where whoever runs the tests ignores it.

    Args:
        told: a file for what it says: a pipe that nobody reads holds whoever writes to it.
    """
    words = ["watch", str(folder), "--brief", "mole/small", "--rulebook", str(folder.parent / "own.toml"),
             "--out", str(out), "--settle", "0.3", "--every", "0.1", "--patience", "2", "--json"]  # fmt: skip
    said = subprocess.PIPE if told is None else told.open("a")
    return subprocess.Popen(
        [sys.executable, "-m", "aptandum", *words], stdout=said, stderr=subprocess.PIPE, text=True,
        preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_DFL),
    )  # fmt: skip


@pytest.fixture
def places(tmp_path):
    (tmp_path / "own.toml").write_text(SMALL)
    (tmp_path / "in").mkdir()
    return tmp_path / "in", tmp_path / "out"


def picture(seed: int) -> bytes:
    return jpeg(scene(130, 90, seed, 3.0))


def drop(folder: Path, rng: random.Random, first: int, many: int) -> None:
    """A burst: whole files, files in two halves with others between, and new names for some."""
    halves: list[tuple[Path, bytes]] = []
    for n in range(first, first + many):
        path, data = folder / f"p{n:04d}.jpg", picture(n)
        if rng.random() < 0.2:
            cut = rng.randint(50, len(data) - 50)
            path.write_bytes(data[:cut])
            halves.append((path, data[cut:]))
        else:
            path.write_bytes(data)
            if rng.random() < 0.2:
                path.rename(folder / f"renamed-{n:04d}.jpg")
        if halves and rng.random() < 0.5:
            path, rest = halves.pop(0)
            with path.open("ab") as stream:
                stream.write(rest)
    for path, rest in halves:
        with path.open("ab") as stream:
            stream.write(rest)


def made(out: Path) -> list[Path]:
    return sorted(out.glob("*.jpg")) if out.exists() else []


def until(done, process: subprocess.Popen[str]) -> None:
    """Wait until something holds; a watch that ended meanwhile is a failure."""
    end = time.monotonic() + 600
    while not done():
        assert process.poll() is None, process.communicate()
        assert time.monotonic() < end
        time.sleep(0.05)


@pytest.mark.long
def test_every_file_of_many_is_made_once_through_bursts_and_kills(places):
    folder, out = places
    rng, log = random.Random(5), folder.parent / "told.jsonl"
    watch = begun(folder, out, log)
    step = MANY // 3
    for burst in range(3):
        drop(folder, rng, burst * step, step)
        if burst < 2:  # killed while it works, twice
            want = burst * step + rng.randint(1, step - 1)
            until(lambda want=want: len(made(out)) >= want, watch)
            watch.kill()
            watch.communicate()
            watch = begun(folder, out, log)
    until(lambda: len(made(out)) >= 3 * step, watch)
    for name in ("bad.jpg", "half.jpg"):
        (folder / name).write_bytes(picture(1)[:300] if name == "half.jpg" else b"no picture")
    until(lambda: (out / LIST).exists() and len((out / LIST).read_text().splitlines()) == 3, watch)
    watch.send_signal(signal.SIGINT)
    _none, said = watch.communicate(timeout=60)
    assert watch.returncode == 1 and "Traceback" not in said
    told = [json.loads(line) for line in log.read_text().splitlines() if line.endswith("}")]
    assert {one["event"] for one in told} <= {"made", "aside", "known"}
    names = [one["written"] for one in told if one["event"] == "made"]
    assert len(names) == len(set(names))  # nothing is told twice either
    assert len(made(out)) == 3 * step
    stems = [path.name for path in made(out)]
    assert len({stem.replace("renamed-", "p")[:5] for stem in stems}) == 3 * step
    for path in made(out):
        with Image.open(path) as opened:
            opened.load()
            assert opened.size == (100, 69)


@pytest.mark.long
def test_a_second_watch_for_the_same_results_is_refused(places):
    folder, out = places
    (folder / "one.jpg").write_bytes(picture(1))
    watch = begun(folder, out)
    until(lambda: len(made(out)) == 1, watch)
    other = begun(folder, out)
    _told, said = other.communicate(timeout=120)
    assert other.returncode == 2 and "already" in said
    watch.terminate()
    watch.communicate(timeout=60)
    assert watch.returncode == 0


@contextlib.contextmanager
def small_disk(where: Path, size: str):
    """A disk of a size, where whoever runs the tests may have one."""
    where.mkdir()
    if os.geteuid() or subprocess.run(
        ["mount", "-t", "tmpfs", "-o", f"size={size}", "none", str(where)], capture_output=True, check=False
    ).returncode:  # fmt: skip
        pytest.skip("no disk of one's own may be had here")
    try:
        yield
    finally:
        subprocess.run(["umount", "-l", str(where)], check=False)


@pytest.mark.long
def test_a_real_disk_that_is_full_is_waited_for(places):
    folder, out = places
    with small_disk(out, "400k"):
        (out / "ballast").write_bytes(bytes(330_000))
        for n in range(30):
            (folder / f"p{n}.jpg").write_bytes(picture(n))
        watch = begun(folder, out)
        assert watch.stdout is not None
        told = []
        while not told or told[-1]["event"] != "waits":
            told.append(json.loads(watch.stdout.readline()))
        (out / "ballast").unlink()
        while told[-1]["event"] != "again" or len(made(out)) < 30:
            told.append(json.loads(watch.stdout.readline()))
            if len(made(out)) == 30:
                break
        watch.send_signal(signal.SIGINT)
        watch.communicate(timeout=60)
        assert len(made(out)) == 30 and not list(out.glob(".aptandum-*.part"))
        for path in made(out):
            with Image.open(path) as opened:
                opened.load()
        assert [one["event"] for one in told].count("waits") >= 1
