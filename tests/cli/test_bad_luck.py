"""Bad luck in a batch: every file is accounted for, and no traceback reaches a person."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
from pathlib import Path

import pytest
from test_cli import call

from aptandum.core import bounds
from aptandum.core.fitting.filenames import file_name, shortened
from killing import killing
from samples import jpeg, scene

ITEM = "quayside-exchange/item-picture"


@pytest.fixture
def supplied(tmp_path: Path) -> Path:
    """Two photos of one name in two folders, one with a name of 236 bytes, one that is none."""
    for n, folder in enumerate(("a", "b")):
        (tmp_path / "in" / folder).mkdir(parents=True)
        (tmp_path / "in" / folder / "pier.jpg").write_bytes(jpeg(scene(1500, 1200, n), quality=80))
    (tmp_path / "in" / ("é" * 116 + ".jpg")).write_bytes(jpeg(scene(1500, 1200, 7), quality=80))
    (tmp_path / "in" / "broken.jpg").write_bytes(b"\xff\xd8\xff" + bytes(40))
    return tmp_path / "in"


def command(
    *args: object, env: dict[str, str] | None = None, **more
) -> subprocess.CompletedProcess:
    whole = {**os.environ, **(env or {})}
    return subprocess.run(
        [sys.executable, "-m", "aptandum", *map(str, args)],
        capture_output=True, text=True, timeout=300, env=whole, check=False, **more,
    )  # fmt: skip


@pytest.mark.parametrize("workers", [0, 2])
@pytest.mark.long
def test_no_two_results_of_a_run_share_a_name(capsys, supplied, tmp_path, workers):
    out = tmp_path / "out"
    ask = (
        "conform",
        supplied,
        "--brief",
        ITEM,
        "--out",
        out,
        "--replace",
        "--workers",
        workers,
        "--json",
    )
    for _again in range(2):  # the second time every name is there already, and is replaced
        status, rows, _ = call(capsys, *ask)
        written = [row["written"] for row in rows if row["written"]]
        assert status == 2 and len(rows) == 4 and len(set(written)) == 3
        assert sorted(os.listdir(out)) == sorted(os.path.basename(one) for one in written)
    made = {row["file"]: Path(row["written"]).read_bytes() for row in rows if row["written"]}
    assert len(set(made.values())) == 3
    (lost,) = [row for row in rows if row["error"]]
    assert lost["file"].endswith("broken.jpg")


def test_two_photos_that_give_the_same_bytes_have_two_results(capsys, supplied, tmp_path):
    """One of the two is done already when the other is resumed, and is not taken for it."""
    same = (supplied / "a" / "pier.jpg").read_bytes()
    (supplied / "b" / "pier.jpg").write_bytes(same + b"more")
    ask = ("conform", "--brief", ITEM, "--out", tmp_path / "out", "--resume", "--json")
    call(capsys, *ask, supplied / "a" / "pier.jpg")
    for _again in range(2):
        _, rows, _ = call(capsys, *ask, supplied / "a" / "pier.jpg", supplied / "b" / "pier.jpg")
        assert len({row["written"] for row in rows}) == 2 == len(os.listdir(tmp_path / "out"))


def test_names_are_cut_by_bytes_on_whole_letters():
    for letter in ("a", "é", "海", "🌊", "e\u0301"):
        name = file_name(letter * 200 + ".jpg", None, "jpeg")
        assert len(name.encode()) <= 235 and name.endswith("-fitted.jpg")
        stem = name.removesuffix("-fitted.jpg")
        assert set(stem) <= set(letter) | {"_"}  # nothing that is half a letter
    assert shortened("e\u0301" * 40, 10) == "e\u0301" * 3
    assert shortened("pier", 2) == "pi" and shortened("", 9) == ""


def test_an_output_beyond_all_bounds_is_one_sentence(capsys, supplied, tmp_path):
    ask = (
        "conform",
        supplied / "a" / "pier.jpg",
        "--brief",
        ITEM,
        "--out",
        tmp_path / "o",
        "--json",
    )
    status, rows, said = call(capsys, *ask, "--set", "frame.output=65000x65000")
    assert status == 2 and "Traceback" not in said and rows[0]["written"] is None
    assert (
        "at most 400 megapixels" in rows[0]["error"]
        and "--limits megapixels=4225" in rows[0]["error"]
    )


def test_limits_are_said_and_can_be_raised(capsys, supplied, monkeypatch):
    photo = supplied / "a" / "pier.jpg"
    monkeypatch.setenv("APTANDUM_LIMITS", "")
    status, rows, _ = call(capsys, "facts", photo, "--limits", "megapixels=1", "--json")
    assert (
        status == 2 and "at most 1 are opened (--limits megapixels=2 opens it" in rows[0]["error"]
    )
    assert call(capsys, "facts", photo, "--limits", "megapixels=2", "--json")[0] == 0
    status, _, said = call(capsys, "facts", photo, "--limits", "hours=2")
    assert status == 2 and "--limits takes megapixels=400,seconds=30" in said
    bounds.use("")


@pytest.mark.long
def test_a_search_that_takes_too_long_gives_its_best_and_says_so(capsys, tmp_path, monkeypatch):
    monkeypatch.setenv("APTANDUM_LIMITS", "")
    (tmp_path / "big.jpg").write_bytes(jpeg(scene(2600, 2000, 3), quality=92))
    ask = ("conform", tmp_path / "big.jpg", "--brief", ITEM, "--out", tmp_path / "o", "--json")
    ask = (
        *ask,
        "--set",
        "file.format=png",
        "--set",
        "file.at_most=400KB",
        "--limits",
        "seconds=0.3",
    )
    _status, rows, _ = call(capsys, *ask)
    bounds.use("")
    notes = " ".join(rows[0]["line"]["notes"])
    assert "was ended after 0.3 seconds" in notes and "--limits seconds=1.2" in notes
    assert Path(rows[0]["written"]).stat().st_size <= 400_000


@pytest.mark.long
def test_a_worker_that_is_ended_is_one_named_failure(supplied, tmp_path):
    """Ended from outside while it works: the batch goes on, says which file, and its status is 2."""
    for n in range(6):
        (supplied / f"more-{n}.jpg").write_bytes(jpeg(scene(3000, 2000, n), quality=90))
    ask = [sys.executable, "-m", "aptandum", "conform", supplied, "--brief", ITEM, "--out",
           tmp_path / "out", "--workers", "2", "--json"]  # fmt: skip
    batch = subprocess.Popen(ask, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
    assert batch.stdout is not None
    lines = [batch.stdout.readline()]
    own = subprocess.run(
        ["pgrep", "-P", str(batch.pid)], capture_output=True, text=True, check=False
    )
    for pid in own.stdout.split():
        held = Path(f"/proc/{pid}/cmdline").read_bytes()
        if b"spawn" in held:
            os.kill(int(pid), signal.SIGKILL)
    rest, trouble = batch.communicate(timeout=300)
    rows = [json.loads(line) for line in lines + rest.splitlines()]
    assert len(rows) == 10 and batch.returncode == 2 and "Traceback" not in trouble
    ended = [row for row in rows if row["error"] and "was ended" in row["error"]]
    assert ended and all(Path(row["file"]).name in row["error"] for row in ended)
    again = command(*ask[3:], "--resume")
    rows = [json.loads(line) for line in again.stdout.splitlines()]
    assert len(rows) == 10 and [row["file"] for row in rows if row["error"]] == [
        str(supplied / "broken.jpg")
    ]


@pytest.mark.parametrize(
    "env",
    [
        {"LC_ALL": "C", "PYTHONIOENCODING": "ascii"},
        {"HOME": "/proc/none", "XDG_STATE_HOME": "", "XDG_DATA_HOME": "", "XDG_CACHE_HOME": ""},
        {"HOME": "", "LANG": "tlh_XX.KOI8"},
        {"TMPDIR": "/proc/none", "COLUMNS": "1"},
    ],
    ids=["ascii", "no home", "odd language", "no folder for the moment"],
)
@pytest.mark.long
def test_no_environment_gives_a_traceback(supplied, tmp_path, env):
    photo = supplied / "a" / "pier.jpg"
    for ask in (
        ["check", photo, "--brief", ITEM],
        [
            "conform",
            photo,
            "--brief",
            ITEM,
            "--out",
            tmp_path / "out",
            "--resume",
            "--report",
            tmp_path / "r.html",
        ],
        ["facts", photo, supplied / "no≠thing.jpg"],
        ["rulebook", "list"],
    ):
        done = command(*ask, env=env)
        assert done.returncode in (0, 1, 2) and done.stdout.strip(), done.stderr
        assert "Traceback" not in done.stderr + done.stdout


@pytest.mark.long
def test_a_very_long_caption_is_no_trouble_for_a_report(supplied, tmp_path):
    photo, out = supplied / "a" / "pier.jpg", tmp_path / "out"
    for ending in ("pdf", "html"):
        done = command(
            "conform", photo, "--brief", ITEM, "--out", out, "--report", tmp_path / f"r.{ending}",
            "--set", f"file.metadata.caption=={'w' * 1990}", "--set", "finish.caption.text=" + "w" * 1990,
        )  # fmt: skip
        assert "Traceback" not in done.stderr and (tmp_path / f"r.{ending}").stat().st_size > 1000


@pytest.mark.long
def test_readers_killed_again_and_again_in_a_batch_cost_their_files_alone(tmp_path: Path):
    """Whatever was being read when its reader was killed is named; all else is made, and the rest by --resume."""
    folder, out = tmp_path / "in", tmp_path / "out"
    folder.mkdir()
    for n in range(10):
        (folder / f"pier_{n}.jpg").write_bytes(jpeg(scene(2200, 1800, n), quality=90))
    hashes = {path: path.read_bytes() for path in folder.iterdir()}
    ask = ("conform", folder, "--brief", ITEM, "--out", out, "--workers", 2, "--json", "--resume")
    run = subprocess.Popen(
        [sys.executable, "-m", "aptandum", *map(str, ask)], stdout=subprocess.PIPE, text=True
    )
    with killing(run.pid, most=6) as killer:
        said, _ = run.communicate(timeout=300)
    rows = [json.loads(line) for line in said.splitlines()]
    assert killer.killed and run.returncode in (0, 1, 2)
    assert {row["file"] for row in rows} == {str(path) for path in hashes}
    lost = [row for row in rows if not row["written"]]
    for row in lost:
        assert Path(row["file"]).name in row["error"] and "was ended (SIGKILL)" in row["error"]
    assert bool(lost) == (run.returncode == 2)
    again = command(*ask)
    assert again.returncode in (0, 1) and len(list(out.glob("*.jpg"))) == 10
    assert {path: path.read_bytes() for path in folder.iterdir()} == hashes
