"""Dockets and crash records from outside, in the real window: none ends it, none keeps it from starting."""

from __future__ import annotations

import json
import os
import re
from pathlib import Path

import pytest
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QMessageBox

from aptandum.core.docket import recovery
from aptandum.core.docket.store import load, load_telling
from aptandum.ui.docket_acts import demo_path
from driving import drop
from samples import PATIENCE, jpeg, scene

DEMO = demo_path().parent
PHOTO = {"id": "p1", "path": str(DEMO / "blue_jug_03.jpg")}
FITTING = {"id": "f1", "photo": "p1", "brief": "quayside-exchange/item-picture"}


def docket(**changes: object) -> dict:
    return {"format": 1, "title": "Sent", "photos": [PHOTO], "fittings": [FITTING], **changes}


def framed(window: object) -> dict:
    return docket(fittings=[{**FITTING, "settings": {"frame": {"window": window}}}])


def panel(window: object) -> dict:
    fill = {"panel": "keel", "kind": "photo", "source": PHOTO["path"], "window": window}
    settings = {"finish": {"panels": {"fills": [fill]}}}
    return docket(
        fittings=[{**FITTING, "brief": "windhover-kites/two-sail-kite", "settings": settings}]
    )


def marks(**changes: object) -> dict:
    return docket(photos=[{**PHOTO, "marks": changes}])


HOSTILE = {
    "a fitting without its photo": docket(fittings=[{**FITTING, "photo": "p9"}]),
    "a fitting of a brief that is none": docket(fittings=[{**FITTING, "brief": "none/such"}]),
    "a brief without a slash": docket(fittings=[{**FITTING, "brief": "../../etc/passwd"}]),
    "an empty window": framed([0, 0, 1e-300, 1e-300]),
    "a window far away": framed([1e6, 1e6, 10, 10]),
    "a window without end": framed([0, 0, 1e308, 1e308]),
    "a window of NaN": json.dumps(framed([float("nan"), 0, float("inf"), 5])),
    "an absurd output": docket(fittings=[{**FITTING, "settings": {"frame": {"output": [65000, 65000]}}}]),
    "two photos of one id": docket(photos=[PHOTO, {**PHOTO, "path": "/x.jpg"}]),
    "two fittings of one id": docket(fittings=[FITTING, FITTING]),
    "a photo that is a device": docket(photos=[{**PHOTO, "path": "/dev/zero"}]),
    "a photo that is a folder": docket(photos=[{**PHOTO, "path": "/"}]),
    "a photo in the system's folders": docket(photos=[{**PHOTO, "path": "/dev/x/y.jpg", "digest": "0" * 64, "bytes": 3}]),
    "a path with a NUL": docket(photos=[{**PHOTO, "path": "a\0b.jpg"}]),
    "a path without end": docket(photos=[{**PHOTO, "path": "/" + "a" * 100_000}]),
    "a path of ten thousand letters": docket(photos=[{**PHOTO, "path": "/tmp/" + "a/" * 2000 + "b.jpg"}]),
    "a title of a megabyte": docket(title="w" * 1_000_000),
    "a title that is a page": docket(title="<b>" * 90),
    "half a letter in the title": '{"format": 1, "title": "a \\ud83d b", "photos": []}',
    "marks of NaN": json.dumps(marks(crown=[float("nan"), 3])),
    "marks far outside": marks(crown=[1e300, 1e300], chin=[0, 0], left_eye=[5, 5], right_eye=[5, 5]),
    "all marks in one place": marks(crown=[9, 9], chin=[9, 9], left_eye=[9, 9], right_eye=[9, 9]),
    "a box without a size": marks(subject=[0, 0, 0, 0], keep_clear=[[0, 0, -5, 1e308]]),
    "a face that is not there": marks(face=99),
    "a panel of NaN": json.dumps(panel([float("nan"), 0, 1, 1])),
    "a panel far away": panel([9e6, 9e6, 10, 10]),
    "a panel that is no panel": panel([0, 0, 1e-300, 5]),
    "a rulebook that is none": docket(rulebooks={"quayside-exchange": "format = 9"}),
    "a rulebook without end": docket(rulebooks={"quayside-exchange": "#" * 3_000_000}),
    "a rulebook of another name": docket(rulebooks={"quayside-exchange": "[[["}),
    "a turn that is none": docket(photos=[{**PHOTO, "turn": 99}]),
    "an angle that is none": docket(fittings=[{**FITTING, "settings": {"frame": {"angle": 1e9}}}]),
    "an audit of a device": docket(audit={"source": "/dev/zero", "brief": "none/such"}),
    "parts that nobody knows": docket(surprise={"a": [1, 2]}),
    "lists instead of objects": docket(photos=[1, None, []], fittings=["f", 3]),
    "a list": "[]",
    "nothing": "",
    "deep": "[" * 100_000,
    "deep inside": '{"format": 1, "title": ' + '{"a":' * 100_000,
    "bytes": b"\xff\xfe\x00\x01",
    "answers without end": docket(fittings=[{**FITTING, "answers": [
        {"clause": "c", "by": "x" * 50_000, "at": "never", "of": "y"}]}]),
}  # fmt: skip


def written(path: Path, held: object) -> Path:
    if isinstance(held, bytes):
        path.write_bytes(held)
    else:
        path.write_text(held if isinstance(held, str) else json.dumps(held))
    return path


def settle(qtbot, shell) -> None:
    for _ in range(20):
        QApplication.processEvents()
    qtbot.waitUntil(lambda: not shell.session.jobs.busy, timeout=PATIENCE)


@pytest.mark.parametrize("name", HOSTILE)
@pytest.mark.long
def test_a_hostile_docket_ends_nothing(qtbot, shell, tmp_path: Path, name):
    path = written(tmp_path / "sent.docket", HOSTILE[name])
    before = path.read_bytes()
    opened = shell.session.dockets.load(path)
    settle(qtbot, shell)
    for page in ("board", "bench", "rulebooks", "desk", "bench"):
        shell.go(page)
        settle(qtbot, shell)
    assert shell.isVisible() and path.read_bytes() == before
    if not opened:
        assert "sent.docket" in shell.message.text.text()
    # the next docket opens as ever
    assert shell.session.dockets.load(written(tmp_path / "good.docket", docket()))
    settle(qtbot, shell)
    assert shell.session.bench is not None


@pytest.mark.parametrize("name", HOSTILE)
@pytest.mark.long
def test_a_hostile_crash_record_keeps_nothing_from_starting(qtbot, shell, tmp_path: Path, name):
    held = HOSTILE[name]
    text = held if isinstance(held, str) else json.dumps(held) if isinstance(held, dict) else "x"
    where = recovery.folder() / "open"
    where.mkdir(parents=True)
    gone = 2**22 + 5
    head = json.dumps({"pid": gone, "path": "/none.docket", "fitting": "f7"})[:-1]
    record = f'{head}, "docket": {text or 1}}}'
    (where / f"{gone}-a.json").write_text(record)
    for _start in range(2):
        shell.session.dockets.recover()
        settle(qtbot, shell)
        assert shell.isVisible()


def test_a_record_that_ended_the_application_is_set_aside_kept_and_named(qtbot, shell, monkeypatch):
    where = recovery.folder() / "open"
    where.mkdir(parents=True)
    gone = 2**22 + 5
    (where / f"{gone}-a.json").write_text(json.dumps(
        {"pid": gone, "path": None, "fitting": "f1", "docket": docket()}))  # fmt: skip
    (left,) = recovery.left_behind()
    kept = recovery.tried(left.file).read_bytes()  # it was being opened when all ended
    assert not shell.session.dockets.recover()
    (aside,) = (recovery.folder() / "set-aside").iterdir()
    assert aside.read_bytes() == kept and str(aside) in shell.message.text.text()
    assert not shell.session.dockets.recover()  # and the next start meets nothing


def test_a_record_that_cannot_be_opened_is_set_aside(qtbot, shell, monkeypatch, mistakes_met):
    where = recovery.folder() / "open"
    where.mkdir(parents=True)
    gone = 2**22 + 5
    (where / f"{gone}-a.json").write_text(json.dumps(
        {"pid": gone, "path": None, "fitting": "f1", "docket": docket()}))  # fmt: skip

    def fails(*_given: object) -> bool:
        raise ZeroDivisionError

    monkeypatch.setattr(shell.session.model, "lay", fails)
    assert not shell.session.dockets.recover()
    assert len(list((recovery.folder() / "set-aside").iterdir())) == 1
    assert "is kept as" in shell.message.text.text() and shell.session.docket.photos == ()
    mistakes_met.clear()  # it was expected


def test_what_is_left_out_is_told_and_the_rest_opens(qtbot, shell, tmp_path):
    held = docket(
        photos=[PHOTO, {"id": "p2", "path": "x.jpg", "turn": 77}],
        fittings=[FITTING, {**FITTING, "id": "f2", "photo": "p2"}, {**FITTING, "id": "f3",
                  "settings": {"frame": {"window": [0, 0, 0, 0]}}}],
    )  # fmt: skip
    found = load_telling(written(tmp_path / "sent.docket", held))
    assert [f.id for f in found.docket.fittings] == ["f1", "f3"]
    said = " ".join(found.remarks)
    assert "Photos: 1 was left out (p2: turn:" in said
    assert "Fittings: 1 was left out (f2: its photo is not in the docket)" in said
    assert "Settings of fittings: 1 was left out (f3:" in said
    assert shell.session.dockets.load(tmp_path / "sent.docket")
    assert "a part of it could not be used" in shell.message.text.text()
    assert load(tmp_path / "sent.docket").fitting("f3").settings.frame.window is None


def test_a_docket_that_is_a_pipe_is_not_waited_for(qtbot, shell, tmp_path):
    os.mkfifo(tmp_path / "pipe.docket")
    assert not shell.session.dockets.load(tmp_path / "pipe.docket")
    assert "no ordinary file" in shell.message.text.text()


def test_a_path_without_end_that_is_dropped_is_told(qtbot, shell, tmp_path):
    (tmp_path / "pier.jpg").write_bytes(jpeg(scene(90, 60)))
    drop(
        shell,
        Path("/" + "a" * 10_001),
        tmp_path / "pier.jpg",
        Path("/tmp/" + "b/" * 5000 + "c.jpg"),
    )
    settle(qtbot, shell)
    assert [p.path for p in shell.session.docket.photos] == [str(tmp_path / "pier.jpg")]


def test_thousands_of_moved_photos_are_looked_for_beside_the_interface(qtbot, shell, tmp_path):
    """One walk for all of them, and no device among what is opened."""
    photos = [{"id": f"p{n}", "path": str(tmp_path / "old" / f"{n}.jpg"), "digest": f"{n:064x}", "bytes": n}
              for n in range(2000)]  # fmt: skip
    (tmp_path / "deep").mkdir()
    os.mkfifo(tmp_path / "deep" / "5.jpg")
    path = written(tmp_path / "sent.docket", {"format": 1, "photos": photos})
    assert shell.session.dockets.load(path)
    qtbot.waitUntil(lambda: "Not found: " in shell.message.text.text(), timeout=PATIENCE)
    assert re.search(r"1\W?995 more", shell.message.text.text())


@pytest.mark.parametrize("answer", ["Show them", "Leave them out"])
def test_pictures_outside_the_dockets_folder_are_shown_only_when_a_person_says_so(
    qtbot, shell, tmp_path, monkeypatch, answer
):
    monkeypatch.setenv("HOME", str(tmp_path / "home"))
    for place in ("sent/inside", "far", "home/pictures"):
        (tmp_path / place).mkdir(parents=True)
        (tmp_path / place / "pier.jpg").write_bytes(jpeg(scene(900, 700)))
    photos = [{"id": f"p{n}", "path": str(tmp_path / place / "pier.jpg")}
              for n, place in enumerate(("sent/inside", "far", "home/pictures"))]  # fmt: skip
    held = docket(photos=photos, fittings=[{**FITTING, "photo": "p1"}])
    path = written(tmp_path / "sent" / "sent.docket", held)
    shell.session.dockets.may_show = shell.may_show
    asked: list[str] = []

    def press() -> None:
        box = QApplication.activeModalWidget()
        if not isinstance(box, QMessageBox):
            return
        timer.stop()
        asked.append(box.informativeText())
        next(b for b in box.buttons() if b.text() == answer).click()

    timer = QTimer()
    timer.timeout.connect(press)
    timer.start(10)
    assert shell.session.dockets.load(path)
    settle(qtbot, shell)
    assert len(asked) == 1 and str(tmp_path / "far") in asked[0] and "inside" not in asked[0]
    shown = [p.id for p in shell.session.docket.photos]
    if answer == "Show them":
        assert shown == ["p0", "p1", "p2"] and shell.session.bench is not None
    else:
        assert shown == ["p0", "p2"] and shell.session.bench is None
        assert "1 photo from outside its folder is left out" in shell.message.text.text()
        assert not shell.session.store.is_saved  # the file itself is as it was


def test_a_fitting_that_uses_a_picture_from_outside_is_asked_about_as_well(
    shell, tmp_path, monkeypatch
):
    """A panel's photo, a layer over it, a texture of one's own and a shade: each names a file."""
    monkeypatch.setenv("HOME", str(tmp_path / "home"))
    for place in ("sent", "far"):
        (tmp_path / place).mkdir()
        (tmp_path / place / "pier.jpg").write_bytes(jpeg(scene(90, 70)))
    far = str(tmp_path / "far" / "pier.jpg")
    panels = [
        {"panel": "keel", "kind": "photo", "source": far},
        {"panel": "keel", "kind": "texture", "source": far},
        {"panel": "keel", "kind": "colour", "layers": [{"kind": "photo", "source": far}]},
        {"panel": "keel", "kind": "texture", "source": "linen"},
    ]
    settings = [{"finish": {"panels": {"fills": [fill]}}} for fill in panels]
    settings.append({"finish": {"shade": {"picture": far}}})
    fittings = [
        {**FITTING, "id": f"f{n}", "photo": "p1", "settings": one} for n, one in enumerate(settings)
    ]
    held = docket(
        photos=[{"id": "p1", "path": str(tmp_path / "sent" / "pier.jpg")}], fittings=fittings
    )
    asked: list[list[str]] = []
    shell.session.dockets.may_show = lambda folders: asked.append(folders)
    assert shell.session.dockets.load(written(tmp_path / "sent" / "x.docket", held))
    assert asked == [[str(tmp_path / "far")]]
    assert [one.id for one in shell.session.docket.fittings] == ["f3"]
    assert "4 fittings that use pictures from outside" in shell.message.text.text()


def test_folders_that_a_person_opened_photos_from_are_not_asked_about(shell, tmp_path, monkeypatch):
    monkeypatch.setenv("HOME", str(tmp_path / "home"))
    (tmp_path / "far").mkdir()
    (tmp_path / "far" / "pier.jpg").write_bytes(jpeg(scene(90, 70)))
    drop(shell, tmp_path / "far" / "pier.jpg")
    held = docket(photos=[{"id": "p1", "path": str(tmp_path / "far" / "pier.jpg")}], fittings=[])
    (tmp_path / "sent").mkdir()
    asked: list[list[str]] = []
    shell.session.dockets.may_show = lambda folders: asked.append(folders) or True
    assert shell.session.dockets.load(written(tmp_path / "sent" / "x.docket", held)) and not asked
