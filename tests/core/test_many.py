"""Many photos: how cells stand, what a folder holds, and batches in which nothing stops the rest."""

from __future__ import annotations

import hashlib
import json
import os
import pickle
import shutil
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from aptandum.core.docket.batch import Job, make_one, run
from aptandum.core.docket.found import photos_in, usable
from aptandum.core.docket.model import Answer, Docket, Fitting, PhotoEntry
from aptandum.core.docket.standings import cell_of, rows_of, tally
from aptandum.core.docket.store import load, save
from aptandum.core.docket.thumbs import LONGEST, Thumbs
from aptandum.core.fitting.detection import people_in
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from aptandum.core.rulebook.shelf import read_shelf
from samples import DEMO, brief_of, clause, scene

SHELF = read_shelf()
DECK = SHELF.find("vessary-ferries/deck-pass")[1]
ITEM = SHELF.find("quayside-exchange/item-picture")[1]


def saved(folder: Path, name: str, seed: int = 1, size=(640, 480)) -> Path:
    path = folder / name
    path.parent.mkdir(parents=True, exist_ok=True)
    Image.fromarray(scene(*size, seed)).save(path, quality=90)
    return path


# -- cells -----------------------------------------------------------------------------------


def test_a_cell_says_what_the_bench_would_say():
    photo = open_photo(DEMO / "ines_marrow_0417.jpg")
    fitting = Fitting(id="f1", photo="p1", brief="vessary-ferries/deck-pass")
    bare = cell_of(photo.facts, DECK, fitting)
    assert bare.standing == "unknown" and bare.count == 4  # nobody has looked for the head
    unknown = [words for verdict, words in bare.lines if verdict == "unknown"]
    assert len(unknown) == 1  # one reason is told once, with all that it leaves open
    assert unknown[0].startswith("Head height, ") and " and " in unknown[0].split(": ")[0]
    cell = cell_of(photo.facts, DECK, fitting, people_in(photo))
    assert cell.output == (630, 840) and not cell.proved
    assert cell.standing == "misses" and cell.lines[0][0] == "misses"
    left, top, wide, high = cell.frame
    assert left >= 0 and left + wide <= 1.0001 and top + high <= 1.0001
    assert wide * 4000 / (high * 6000) == pytest.approx(630 / 840, abs=0.001)


def test_questions_left_and_answered_and_a_photo_that_is_gone(tmp_path):
    brief = brief_of(
        clause("format", one_of=["jpeg"]) + '[[brief.clause]]\nid = "own"\nask = "Yours?"\n'
    )
    photo = open_photo(saved(tmp_path, "a.jpg"))
    fitting = Fitting(id="f1", photo="p1", brief="x")
    cell = cell_of(photo.facts, brief, fitting)
    assert (cell.standing, cell.count, cell.lines) == ("asks", 1, (("asks", "Yours?"),))
    answered = fitting.model_copy(update={"answers": (Answer(clause="own", by="T", at="2026"),)})
    assert cell_of(photo.facts, brief, answered).standing == "meets"
    from aptandum.core.photo.decode import read_facts

    broken = tmp_path / "b.jpg"
    broken.write_text("Dear harbour master")
    lost = cell_of(read_facts(broken), brief, fitting)
    assert lost.standing == "lost" and "b.jpg" in lost.trouble


def test_rows_are_filtered_and_sorted_by_the_worst(tmp_path):
    photos = tuple(PhotoEntry(id=f"p{i}", path=f"/x/{i}.jpg") for i in range(4))
    docket = Docket(photos=photos).with_fittings((f"p{i}", b) for i in range(3) for b in ("a", "b"))
    from aptandum.core.docket.standings import Cell

    stand = {
        "f1": ("meets", 0),
        "f2": ("asks", 1),
        "f3": ("misses", 1),
        "f4": ("meets", 0),
        "f5": ("misses", 3),
        "f6": ("advises", 1),
    }
    cells = {i: Cell(i, s, n) for i, (s, n) in stand.items()}
    assert rows_of(docket, cells) == ("p0", "p1", "p2", "p3")
    assert rows_of(docket, cells, worst_first=True) == ("p2", "p1", "p0", "p3")
    assert rows_of(docket, cells, ["misses"]) == ("p1", "p2")
    assert rows_of(docket, cells, ["asks", "advises"]) == ("p0", "p2")
    assert tally(cells.values())["misses"] == 2


# -- folders -----------------------------------------------------------------------------------


def test_a_folder_gives_its_photos_once_and_hidden_ones_never(tmp_path):
    for name in ("b.jpg", "a.PNG", "in/c.jpg", ".hidden.jpg", ".cache/d.jpg", "note.txt"):
        path = tmp_path / name
        path.parent.mkdir(exist_ok=True)
        path.write_bytes(b"x")
    names = [
        os.path.relpath(p, tmp_path) for p in photos_in([str(tmp_path), str(tmp_path / "b.jpg")])
    ]
    assert names == ["a.PNG", "b.jpg", "in/c.jpg"]
    alone = list(photos_in([str(tmp_path)], deep=False))
    assert [Path(p).name for p in alone] == ["a.PNG", "b.jpg"]
    assert list(photos_in([str(tmp_path / "note.txt")])) == [str(tmp_path / "note.txt")]
    assert "b.jpg" in usable([str(tmp_path / "b.jpg")])[0]


# -- batches -----------------------------------------------------------------------------------


def jobs_in(folder: Path, out: Path, n: int = 5) -> list[Job]:
    made = []
    for i in range(n):
        path = saved(folder, f"quay_{i}.jpg", i)
        entry = PhotoEntry(id=f"p{i}", path=str(path))
        brief = brief_of(clause("size", exactly="320x240") + clause("file_bytes", at_most="30 kB"))
        made.append(Job(Fitting(id=f"f{i}", photo=entry.id, brief="x"), entry, brief, str(out)))
    return made


def test_one_bad_photo_never_stops_the_rest_and_no_supplied_one_is_touched(tmp_path):
    out = tmp_path / "out"
    out.mkdir()
    jobs = jobs_in(tmp_path / "in", out)
    Path(jobs[2].entry.path).write_bytes(b"\xff\xd8\xff nothing")
    before = {
        j.entry.path: hashlib.sha256(Path(j.entry.path).read_bytes()).hexdigest() for j in jobs
    }
    with ThreadPoolExecutor(2) as pool:
        found = {o.fitting: o for o in run(jobs, pool, 2, None, make_one)}
    assert len(found) == 5 and "quay_2.jpg" in found["f2"].trouble and found["f2"].cell is None
    for i in (0, 1, 3, 4):
        outcome = found[f"f{i}"]
        assert outcome.ready and outcome.cell.proved and outcome.cell.output == (320, 240)
        with Image.open(outcome.written) as image:
            assert image.size == (320, 240)
        assert Path(outcome.written).stat().st_size == outcome.size <= 30_000
    assert len(list(out.iterdir())) == 4
    after = {
        j.entry.path: hashlib.sha256(Path(j.entry.path).read_bytes()).hexdigest() for j in jobs
    }
    assert after == before


def test_jobs_and_outcomes_can_be_sent_to_another_process(tmp_path):
    job = jobs_in(tmp_path, tmp_path, 1)[0]
    again = pickle.loads(pickle.dumps(job))
    assert again == job
    outcome = pickle.loads(pickle.dumps(make_one(again)))
    assert outcome.ready and outcome.settings == make_one(job).settings


def test_a_stopped_batch_waits_for_what_is_out_and_hands_out_no_more(tmp_path):
    asked = []

    def make(job):
        asked.append(job.fitting.id)
        return make_one(job)

    jobs = jobs_in(tmp_path / "in", tmp_path, 8)
    found = []
    with ThreadPoolExecutor(1) as pool:
        for outcome in run(jobs, pool, 1, lambda: len(found) >= 2, make):
            found.append(outcome)
    assert 2 <= len(found) == len(asked) < 8
    assert all(o.ready for o in found)


def test_few_jobs_are_out_at_a_time_whatever_their_number(tmp_path):
    job = jobs_in(tmp_path, tmp_path, 1)[0]
    drawn, back = [], []

    def endless():
        for i in range(40):
            drawn.append(i)
            yield job

    with ThreadPoolExecutor(2) as pool:
        from aptandum.core.docket.batch import Outcome

        for outcome in run(endless(), pool, 2, None, lambda j: Outcome(j.fitting.id)):
            back.append(outcome)
            assert len(drawn) - len(back) <= 4
    assert len(back) == 40


def test_a_batch_applies_mends_and_says_which_settings_made_the_file(tmp_path):
    photo = tmp_path / "ines_marrow_0417.jpg"
    shutil.copy(DEMO / photo.name, photo)
    entry = PhotoEntry(id="p1", path=str(photo))
    fitting = Fitting(
        id="f1",
        photo="p1",
        brief="vessary-ferries/deck-pass",
        settings=Settings().having({"file.format": "png"}),
    )
    outcome = make_one(Job(fitting, entry, DECK, str(tmp_path)))
    assert outcome.ready and outcome.settings.file.format in (None, "jpeg")
    assert outcome.settings.frame.window is not None
    assert outcome.cell.standing == "asks" and outcome.cell.count == 2


# -- dockets of many ---------------------------------------------------------------------------


def test_a_docket_of_many_fittings_stays_small_and_comes_back_the_same(tmp_path):
    photos = tuple(PhotoEntry(id=f"p{i}", path=str(tmp_path / f"{i}.jpg")) for i in range(200))
    docket = Docket(title="x", photos=photos).with_fittings(
        (p.id, b) for p in photos for b in ("a/b", "c/d")
    )
    settings = docket.fittings[3].settings.having({"finish.keyline.width": 2, "file.quality": 80})
    docket = docket.with_settings({docket.fittings[3].id: settings})
    save(docket, tmp_path / "many.docket")
    text = (tmp_path / "many.docket").read_text()
    assert json.loads(text)["format"] == 1 and len(text) < 400 * 200
    assert load(tmp_path / "many.docket") == docket


def test_fittings_are_begun_once_copied_and_cleared():
    docket = Docket(photos=tuple(PhotoEntry(id=f"p{i}", path=f"/{i}") for i in range(3)))
    docket = docket.with_fittings([("p0", "a"), ("p1", "a"), ("p0", "a")])
    assert [f.id for f in docket.fittings] == ["f1", "f2"]
    docket = docket.without_fittings(["f1"]).with_fittings([("p2", "a"), ("p0", "b")])
    assert len({f.id for f in docket.fittings}) == 3
    more = docket.with_photos(["/0", "/9", "/9"])
    assert [p.path for p in more.photos] == ["/0", "/1", "/2", "/9"]
    assert len({p.id for p in more.photos}) == 4


# -- small pictures ----------------------------------------------------------------------------


def test_small_pictures_are_kept_within_bounds_and_made_anew_when_the_photo_changes(tmp_path):
    thumbs = Thumbs(tmp_path / "cache", most=3)
    paths = [saved(tmp_path, f"{i}.jpg", i) for i in range(5)]
    first = thumbs.of(open_photo(paths[0]))
    assert max(first.shape[:2]) == LONGEST and first.shape[2] == 3
    (kept,) = (tmp_path / "cache").glob("*/*.jpg")
    stamp = kept.stat().st_mtime_ns
    again = thumbs.of(open_photo(paths[0]))
    assert kept.stat().st_mtime_ns == stamp and np.abs(again.astype(int) - first).mean() < 3
    saved(tmp_path, "0.jpg", 77)
    changed = thumbs.of(open_photo(paths[0]))
    assert np.abs(changed.astype(int) - first).mean() > 10
    for path in paths:
        thumbs.of(open_photo(path))
    thumbs.prune()
    assert len(list((tmp_path / "cache").glob("*/*.jpg"))) == 3
    next((tmp_path / "cache").glob("*/*.jpg")).write_bytes(b"spoilt")
    assert all(thumbs.of(open_photo(path)).shape[2] == 3 for path in paths)


def test_one_worker_gives_back_in_the_order_of_the_jobs():
    from aptandum.core.threads import Here

    for _ in range(20):
        assert list(run(range(30), Here(), 1, None, lambda n: n)) == list(range(30))
