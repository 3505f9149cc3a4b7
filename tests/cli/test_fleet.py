"""A cluster of two workers: the same files as one machine makes, through a lost worker, and never by another version."""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from distributed import Client, LocalCluster

from aptandum.cli import conforming
from aptandum.cli.main import run as called
from aptandum.core.atomic import create_atomic, of_run
from samples import DEMO, jpeg, scene

RULES = """format = 1
[body]
id = "mole"
name = "The Mole"
[[brief]]
id = "small"
title = "Small"
[[brief.clause]]
measure = "longest_side"
at_most = "600 px"
[[brief.clause]]
measure = "file_bytes"
at_most = "60 KB"
"""
BRIEF = ["--brief", "mole/small"]


@pytest.fixture(scope="module")
def cluster(tmp_path_factory) -> Iterator[LocalCluster]:
    """Two workers of one thread each, as docs/fleet.md starts them."""
    here = os.getcwd()
    os.chdir(tmp_path_factory.mktemp("cluster"))  # the workers keep what they need there
    try:
        made = LocalCluster(n_workers=2, threads_per_worker=1, dashboard_address=None)
    finally:
        os.chdir(here)
    yield made
    made.close()


@pytest.fixture
def places(tmp_path):
    """Photos, two of one name, one that is none; rules; and what calls need."""
    photos = tmp_path / "photos"
    (photos / "more").mkdir(parents=True)
    for n in range(12):
        (photos / f"p{n:02d}.jpg").write_bytes(jpeg(scene(900, 700, n % 6, 4.0)))
    (photos / "more/p00.jpg").write_bytes(jpeg(scene(900, 700, 9, 4.0)))
    (photos / "bad.jpg").write_bytes(b"no picture")
    (tmp_path / "mole.toml").write_text(RULES)
    return photos, ["--rulebook", str(tmp_path / "mole.toml")]


def call(*words: object, script: str = "", **more) -> subprocess.CompletedProcess[str]:
    begin = ["-c", script] if script else ["-m", "aptandum"]
    return subprocess.run(
        [sys.executable, *begin, *map(str, words)], capture_output=True, text=True, check=False, **more
    )  # fmt: skip


def hashes(folder: Path) -> dict[str, str]:
    return {
        path.name: hashlib.sha256(path.read_bytes()).hexdigest()
        for path in folder.iterdir()
        if path.is_file()
    }


def content(folder: Path) -> list[str]:
    return sorted(hashes(folder).values())


@pytest.mark.parametrize("how", [[], ["--send"]])
@pytest.mark.long
def test_the_same_files_as_on_one_machine(cluster, places, tmp_path, how):
    photos, rules = places
    alone = call("conform", photos, *BRIEF, *rules, "--out", tmp_path / "one", "--workers", 1)
    shared = call("conform", "photos", *BRIEF, *rules, "--out", "two", "--cluster", cluster.scheduler_address,
                  *how, cwd=tmp_path)  # fmt: skip
    assert alone.returncode == shared.returncode == 2  # one is no photo
    assert "bad.jpg" in shared.stderr and "Traceback" not in shared.stderr
    assert (
        content(tmp_path / "one") == content(tmp_path / "two")
        and len(content(tmp_path / "two")) == 13
    )
    assert set(hashes(tmp_path / "one")) == set(hashes(tmp_path / "two"))
    assert not [one for one in (tmp_path / "two").iterdir() if one.name.startswith(".")]
    # gone on with on one machine: nothing is left to do
    again = call("conform", "photos", *BRIEF, *rules, "--out", "two", "--resume", cwd=tmp_path)
    assert again.stdout.count("done before and unchanged") == 13
    assert content(tmp_path / "one") == content(tmp_path / "two")


@pytest.mark.parametrize("how", [[], ["--send"]])
@pytest.mark.long
def test_what_is_looked_at_is_said_as_on_one_machine(cluster, places, how):
    photos, rules = places
    where = ["--cluster", cluster.scheduler_address, *how]
    for command in ("check", "audit"):
        asked = [command, photos, *BRIEF, *rules, "--json"]
        alone, shared = call(*asked), call(*asked, *where)
        assert alone.returncode == shared.returncode

        def said(done) -> list[dict]:
            lines = [json.loads(line) for line in done.stdout.splitlines()]
            return sorted(lines, key=lambda line: line["file"])

        assert len(said(shared)) == 14
        assert said(alone) == said(shared)


@pytest.mark.long
def test_a_name_that_is_taken_here_is_judged_as_it_becomes(cluster, places, tmp_path):
    """A worker that shares no storage does not know which names are free: what is asked of names is told of the file as
    it lies here, in the record and in the report."""
    photos, _rules = places
    (photos / "bad.jpg").unlink()
    (photos / "more/p00.jpg").unlink()
    rules = tmp_path / "names.toml"
    rules.write_text(RULES)
    out = tmp_path / "out"
    first = call("conform", photos, *BRIEF, "--rulebook", rules, "--out", out, "--workers", 1)
    assert first.returncode == 0
    longest = max(len(path.stem) for path in out.iterdir())
    bound = f'[[brief.clause]]\nmeasure = "name_length"\nat_most = {longest}\n'
    rules.write_text(RULES + bound)
    shutil.copytree(out, tmp_path / "sent")

    def said(folder: Path, *how: str) -> list[dict]:
        report = folder.with_suffix(".html")
        done = call("conform", photos, *BRIEF, "--rulebook", rules, "--out", folder, "--json", "--report", report, *how)  # fmt: skip
        assert done.returncode == 1
        assert report.read_text().count("2 too many") >= 12
        lines = [json.loads(line) for line in done.stdout.splitlines()]
        return sorted(
            ({**line, "written": Path(line["written"]).name} for line in lines),
            key=lambda line: line["file"],
        )

    alone = said(out, "--workers", "1")
    assert not any(line["ready"] for line in alone) and len(alone) == 12
    assert said(tmp_path / "sent", "--cluster", cluster.scheduler_address, "--send") == alone


@pytest.mark.long
def test_a_worker_that_is_killed_on_the_way_costs_no_file(cluster, places, tmp_path):
    photos, rules = places
    for n in range(30):
        (photos / f"q{n:02d}.jpg").write_bytes(jpeg(scene(900, 700, n % 6, 4.0)))
    words = ["conform", photos, *BRIEF, *rules, "--out", tmp_path / "out", "--cluster", cluster.scheduler_address]  # fmt: skip
    run = subprocess.Popen([sys.executable, "-m", "aptandum", *map(str, words)],
                           stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)  # fmt: skip
    with Client(cluster.scheduler_address, set_as_default=False) as client:
        pids = list(client.run(os.getpid).values())
        end = time.monotonic() + 300
        while len(list((tmp_path / "out").glob("*.jpg"))) < 4:
            assert run.poll() is None and time.monotonic() < end
            time.sleep(0.02)
        os.kill(pids[0], signal.SIGKILL)
        _said, wrong = run.communicate(timeout=300)
    assert run.returncode == 2 and len(wrong.splitlines()) == 1 and "bad.jpg" in wrong, wrong
    alone = call("conform", photos, *BRIEF, *rules, "--out", tmp_path / "one", "--workers", 2)
    assert alone.returncode == 2
    assert (
        content(tmp_path / "one") == content(tmp_path / "out")
        and len(content(tmp_path / "out")) == 43
    )
    assert not list((tmp_path / "out").glob(".aptandum-*.part"))


def begun(words: list[object], out: Path, **more) -> subprocess.Popen[str]:
    """A call that has made some files of many."""
    run = subprocess.Popen([sys.executable, "-m", "aptandum", *map(str, words)],
                           stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, **more)  # fmt: skip
    end = time.monotonic() + 300
    while len(list(out.glob("*.jpg"))) < 3:
        assert run.poll() is None and time.monotonic() < end
        time.sleep(0.02)
    return run


def many(photos: Path) -> None:
    """So many photos that a run takes a while."""
    photos.joinpath("bad.jpg").unlink()
    for n in range(80):
        (photos / f"q{n:02d}.jpg").write_bytes(jpeg(scene(900, 700, n % 6, 4.0)))


@pytest.mark.long
def test_ctrl_c_ends_a_run_after_what_is_under_way(cluster, places, tmp_path):
    photos, rules = places
    many(photos)
    out = tmp_path / "out"
    words = [
        "conform",
        photos,
        *BRIEF,
        *rules,
        "--out",
        out,
        "--cluster",
        cluster.scheduler_address,
    ]
    run = begun(words, out)
    run.send_signal(signal.SIGINT)
    _said, wrong = run.communicate(timeout=300)
    made = len(list(out.glob("*.jpg")))
    assert run.returncode == 2 and made < 93
    assert wrong.splitlines()[-1] == f"Stopped: {made} of 93 were made; --resume goes on with the rest."  # fmt: skip
    assert not [one for one in out.iterdir() if one.name.startswith(".")]


@pytest.mark.long
def test_a_scheduler_that_goes_away_is_told_once_and_the_rest_can_be_gone_on_with(places, tmp_path):
    photos, rules = places
    many(photos)
    out = tmp_path / "out"
    tools = Path(sys.executable).parent
    with open(tmp_path / "log", "wb") as log:
        there = {"stdout": log, "stderr": log, "cwd": tmp_path}
        scheduler = subprocess.Popen([tools / "dask", "scheduler", "--host", "127.0.0.1", "--port", "0", "--no-dashboard",
                                      "--scheduler-file", tmp_path / "where.json"], **there)  # fmt: skip
        workers = subprocess.Popen([tools / "dask", "worker", "--scheduler-file", tmp_path / "where.json", "--no-dashboard",
                                    "--nthreads", "1", "--no-nanny"], **there)  # fmt: skip
    try:
        end = time.monotonic() + 300
        address = ""
        while not address:
            assert time.monotonic() < end
            try:
                found = json.loads((tmp_path / "where.json").read_text())["address"]
                with Client(found, set_as_default=False) as client:
                    client.wait_for_workers(1, 300)
                address = found
            except (OSError, ValueError):
                time.sleep(0.1)
        run = begun(["conform", photos, *BRIEF, *rules, "--out", out, "--cluster", address], out)
        scheduler.kill()
        said, wrong = run.communicate(timeout=300)
    finally:
        scheduler.kill()
        workers.kill()
    lines = wrong.splitlines()
    assert run.returncode == 2 and len(lines) == 2, wrong
    assert lines[0] == f"The scheduler at {address} went away, and with it what it had not given back."  # fmt: skip
    assert lines[1].startswith("Stopped: ") and lines[1].endswith(" of 93 were made; --resume goes on with the rest.")  # fmt: skip
    assert "Traceback" not in said
    again = call("conform", photos, *BRIEF, *rules, "--out", out, "--resume", "--workers", 2)
    assert again.returncode == 0, again.stderr
    alone = call("conform", photos, *BRIEF, *rules, "--out", tmp_path / "one", "--workers", 2)
    assert alone.returncode == 0 and content(tmp_path / "one") == content(out)


@pytest.mark.long
def test_a_cluster_without_workers_is_told_and_can_be_left(places, tmp_path):
    photos, rules = places
    many(photos)
    out = tmp_path / "out"
    with LocalCluster(n_workers=1, threads_per_worker=1, dashboard_address=None) as local:
        script = "import aptandum.cli.fleet as f, aptandum.cli.interrupts as i; f._LOOK, i._ONE = 0.1, 0.0; from aptandum.__main__ import main; main()"
        words = ["conform", photos, *BRIEF, *rules, "--out", out, "--cluster", local.scheduler_address]  # fmt: skip
        run = subprocess.Popen([sys.executable, "-c", script, *map(str, words)],
                               stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True)  # fmt: skip
        while len(list(out.glob("*.jpg"))) < 3:
            assert run.poll() is None
            time.sleep(0.02)
        local.scale(0)
        left, back = "has no workers left; what is not done waits for one.", "has workers again."
        assert left in run.stderr.readline()
        local.scale(1)
        assert back in run.stderr.readline()
        local.scale(0)
        assert left in run.stderr.readline()
        run.send_signal(signal.SIGINT)
        assert "Ctrl-C again stops at once." in run.stderr.readline()
        run.send_signal(signal.SIGINT)
        rest = run.stderr.read()
        assert run.wait(300) == 2 and "--resume goes on with the rest." in rest


OLDER = (
    "import aptandum; aptandum.__version__ = '0.0.9'; from aptandum.__main__ import main; main()"
)


@pytest.mark.long
def test_a_worker_of_another_version_is_refused_in_a_sentence(cluster, places, tmp_path):
    photos, rules = places
    done = call("conform", photos, *BRIEF, *rules, "--out", tmp_path / "out", "--cluster", cluster.scheduler_address,
                script=OLDER)  # fmt: skip
    assert done.returncode == 2 and "Traceback" not in done.stderr
    assert "Nothing was begun: " in done.stderr and "and this machine has 0.0.9" in done.stderr
    assert not list((tmp_path / "out").glob("*"))


@pytest.mark.long
def test_what_cannot_be_is_said(places, tmp_path):
    photos, rules = places
    gone = ["--cluster", "tcp://127.0.0.1:9"]
    script = "import aptandum.cli.fleet as f; f._PATIENCE = 1; from aptandum.__main__ import main; main()"
    done = call("check", photos, *BRIEF, *rules, *gone, script=script)
    assert done.returncode == 2 and "There is no scheduler at tcp://127.0.0.1:9" in done.stderr
    for command in (
        ["conform", photos, "--out", tmp_path / "out"],
        ["check", photos],
        ["audit", photos],
    ):
        done = call(*command, *BRIEF, *rules, "--send")
        assert done.returncode == 2 and done.stderr == "--send goes with --cluster.\n"
    script = (
        "import sys; sys.modules['distributed'] = None; from aptandum.__main__ import main; main()"
    )
    done = call("audit", photos, *BRIEF, *rules, *gone, script=script)
    assert done.returncode == 2 and "pip install aptandum[cluster]" in done.stderr
    assert DEMO.exists()


def test_what_a_killed_worker_left_half_written_is_cleared_and_nothing_else(places, tmp_path):
    """A worker that is killed while it writes leaves a hidden file, which counted as one more result."""
    photos, rules = places
    out = tmp_path / "out"
    out.mkdir()
    (photos / "bad.jpg").unlink()
    others = [out / ".aptandum-0123.part", out / ".aptandum-ffff-0123.part"]
    for other in others:  # of another call that writes into the same folder
        other.write_bytes(b"half")
    made = []

    def half_written(task):
        made.append(out / f".aptandum-{task.run}-{len(made)}.part")
        made[-1].write_bytes(b"half")
        return real(task)

    real = conforming.conform_one
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(conforming, "conform_one", half_written)
        words = ["conform", photos, *BRIEF, *rules, "--out", out, "--workers", "1"]
        status = called([str(word) for word in words], lambda *_: pytest.fail("a window"))
    assert status in (0, 1) and made and not [one for one in made if one.exists()]
    assert all(other.read_bytes() == b"half" for other in others)


def test_the_hidden_file_of_a_result_is_known_by_its_run(tmp_path, monkeypatch):
    parts = []
    link = os.link
    monkeypatch.setattr(
        os, "link", lambda part, name: (parts.append(Path(part).name), link(part, name))
    )
    with of_run("abc"):
        create_atomic(tmp_path / "a.jpg", b"whole", lambda path: path)
    create_atomic(tmp_path / "b.jpg", b"whole", lambda path: path)
    assert parts[0].startswith(".aptandum-abc-") and not parts[1].startswith(".aptandum-abc-")
