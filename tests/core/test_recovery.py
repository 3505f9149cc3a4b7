"""What is open survives a crash; the docket's format is published."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

from aptandum.core.docket import recovery
from aptandum.core.docket.model import Docket
from aptandum.core.docket.store import save, schema
from aptandum.core.photo.marks import HandMarks

ROOT = Path(__file__).resolve().parents[2]


def docket() -> Docket:
    made, photo = Docket(title="Pier").with_photo("/x/sea_wall.jpg")
    made, _ = made.with_fitting(photo, "vessary-ferries/deck-pass")
    return made.with_marks(photo, HandMarks(chin=(10.5, 20.25)))


def test_what_a_running_process_has_open_is_its_own(tmp_path):
    keeper = recovery.CrashRecord(tmp_path)
    keeper.keep(docket(), None)
    assert recovery.left_behind(tmp_path) == ()
    keeper.forget()
    keeper.forget()
    assert list(tmp_path.iterdir()) == []


def test_what_a_killed_process_had_open_is_found(tmp_path):
    code = (
        "import os, signal, sys\n"
        "from pathlib import Path\n"
        "sys.path.insert(0, sys.argv[2])\n"
        "from test_recovery import docket\n"
        "from aptandum.core.docket.recovery import CrashRecord\n"
        "CrashRecord(Path(sys.argv[1])).keep(docket(), Path('/y/pier.docket'), 'f1')\n"
        "os.kill(os.getpid(), signal.SIGKILL)\n"
    )
    here = str(Path(__file__).parent)
    done = subprocess.run([sys.executable, "-c", code, str(tmp_path), here], check=False)
    assert done.returncode == -9
    (left,) = recovery.left_behind(tmp_path)
    assert left.docket == docket() and left.fitting == "f1"
    assert left.path == Path("/y/pier.docket")


def test_a_record_that_cannot_be_read_keeps_no_other_back(tmp_path):
    (tmp_path / "1-a.json").write_text("{")
    gone = {"pid": 2**22 + 5, "path": None, "fitting": "", "docket": {"title": "Old"}}
    (tmp_path / "1-b.json").write_text(json.dumps(gone))
    (tmp_path / "1-c.json").write_text(json.dumps({**gone, "docket": {"colour": 1}}))
    (left,) = recovery.left_behind(tmp_path)
    assert left.docket.title == "Old" and (tmp_path / "1-a.json").exists()


def test_recent_dockets_newest_first_and_only_those_that_are_there(tmp_path):
    paths = [tmp_path / f"{n}.docket" for n in "abc"]
    for path in paths:
        save(docket(), path)
        recovery.remember(path)
    recovery.remember(paths[0])
    os.unlink(paths[1])
    assert recovery.recent() == (paths[0], paths[2])
    (recovery.folder() / "recent.json").write_text("no list")
    assert recovery.recent() == ()


def test_the_published_schema_is_the_docket_s_own():
    published = json.loads((ROOT / "docs/docket.schema.json").read_text())
    assert published == schema()
    assert published["properties"]["photos"]
