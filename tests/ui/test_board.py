"""The board, driven: keys, presses and drops on real files."""

from __future__ import annotations

import shutil
from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtCore import QMimeData, QPoint, QRectF, Qt, QUrl
from PyQt6.QtGui import QFontMetricsF
from PyQt6.QtWidgets import QApplication, QFileDialog

from aptandum.core.docket.store import save
from aptandum.core.rulebook.shelf import read_shelf
from aptandum.ui import theme
from aptandum.ui.board.grid import BENEATH, WRAPPED
from aptandum.ui.board.grid_plane import COL, HEAD, ROW, SIDE
from aptandum.ui.board.parts import asks
from driving import drop
from samples import DEMO, PATIENCE, scene

LEFT = Qt.MouseButton.LeftButton
CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
ITEM, HEADER = "quayside-exchange/item-picture", "quayside-exchange/shop-header"
DECK = "vessary-ferries/deck-pass"


@pytest.fixture
def board(shell):
    shell.go("board")
    yield shell.board
    shell.board.stop()


def quiet(qtbot, board):
    """Wait until everything is judged and pictured."""
    calm = [0]

    def still() -> bool:
        busy = board.judging.busy or board.session.jobs.busy
        calm[0] = 0 if busy else calm[0] + 1
        return calm[0] > 5  # nothing follows from what came last

    qtbot.waitUntil(still, timeout=PATIENCE)


def take(qtbot, shell, folder: Path, names: list[str]) -> list[Path]:
    paths = []
    for name in names:
        path = folder / name
        path.parent.mkdir(parents=True, exist_ok=True)
        if (DEMO / name).exists():
            shutil.copy(DEMO / name, path)
        else:
            Image.fromarray(scene(640, 480, len(paths) + 1)).save(path, quality=90)
        paths.append(path)
    drop(shell, *paths)
    qtbot.waitUntil(lambda: len(shell.session.docket.photos) == len(names), timeout=PATIENCE)
    return paths


def spot(r: int, c: int) -> QPoint:
    return QPoint(SIDE + c * COL + COL // 2, HEAD + r * ROW + ROW // 2)


@pytest.mark.long
def test_from_an_empty_board_to_files_of_two_briefs(qtbot, shell, board, tmp_path):
    assert board.stack.currentWidget() is board.empty
    names = ["blue_jug_03.jpg", "lantern_quay_dusk.jpg", "plain_quay.jpg"]
    paths = take(qtbot, shell, tmp_path / "in", names)
    before = [path.read_bytes() for path in paths]
    assert board.stack.currentWidget() is board.grid and len(board.grid.rows) == 3
    board.add_brief(ITEM)
    board.add_brief(HEADER)
    assert [c.title for c in board.grid.columns] == ["Item picture", "Shop header"]
    # a press on a plus starts a fitting; + starts one from the keys
    qtbot.mouseClick(board.grid.viewport(), LEFT, pos=spot(0, 0))
    assert [(f.photo, f.brief) for f in shell.session.docket.fittings] == [("p1", ITEM)]
    board.grid.setFocus()
    qtbot.keyClick(board.grid, Qt.Key.Key_Down)
    qtbot.keyClicks(board.grid, "+")
    # several at once, from where the keys are to the corner
    qtbot.keyClick(board.grid, Qt.Key.Key_Right)
    qtbot.keyClick(board.grid, Qt.Key.Key_Down, SHIFT)
    assert sorted(board.grid.chosen) == [(1, 1), (2, 1)]
    assert board.start.text() == "Start 2 fittings"
    qtbot.mouseClick(board.start, LEFT)
    assert len(shell.session.docket.fittings) == 4
    quiet(qtbot, board)
    # what the cell says is what the bench says
    qtbot.keyClick(board.grid, Qt.Key.Key_Home)
    qtbot.keyClick(board.grid, Qt.Key.Key_PageUp)
    assert board.grid.spot == (0, 0)
    fitting = board.grid.fitting_at(board.grid.spot)
    cell = board.grid.cells[fitting]
    assert shell.session.model.lay(fitting, show=False)
    live = shell.session.bench.live.counts()
    assert cell.standing == "misses" and cell.count == live["misses"]
    # conform all, with a count, into a folder
    out = tmp_path / "out"
    out.mkdir()
    board.grid.chosen = set()
    board.conform_into(out)
    qtbot.waitUntil(lambda: "of 4 files written" in shell.message.text.text(), timeout=120_000)
    files = sorted(out.iterdir())
    assert len(files) == 4
    for f in shell.session.docket.fittings:
        made = board.grid.cells[f.id]
        assert made.proved
    header = next(p for p in files if "lantern" in p.name and "header" in p.name)
    with Image.open(header) as image:
        assert image.width == 5 * image.height and image.height <= 370
    assert [path.read_bytes() for path in paths] == before
    # one step takes the settings of the whole batch back
    shell.session.store.undo()
    quiet(qtbot, board)
    assert not any(
        board.grid.cells[f.id].proved
        for f in shell.session.docket.fittings
        if f.settings.frame.window is not None
    )


def test_filters_sort_and_the_strip_below(qtbot, shell, board, tmp_path):
    take(qtbot, shell, tmp_path, ["plain_quay.jpg", "blue_jug_03.jpg", "lantern_quay_dusk.jpg"])
    shell.session.many.start_fittings([("p1", ITEM), ("p2", ITEM), ("p3", ITEM)])
    quiet(qtbot, board)
    board.grid.go((0, 0))
    assert board.title.text() == "Item picture × plain_quay.jpg"
    said = [board.lines.itemAt(i).widget().words.text() for i in range(board.lines.count())]
    assert any("Asked" in words for words in said)
    misses = board.chips["misses"]
    assert misses.isVisible() and misses.count >= 1
    qtbot.mouseClick(misses, LEFT)
    assert len(board.grid.rows) == misses.count < 3
    qtbot.mouseClick(misses, LEFT)
    assert len(board.grid.rows) == 3
    qtbot.mouseClick(board.sort, LEFT)
    weights = [board.grid.cells[board.grid.at[(row.photo, ITEM)]].weight for row in board.grid.rows]
    assert weights == sorted(weights)
    qtbot.mouseClick(board.sort, LEFT)
    assert [row.photo for row in board.grid.rows] == ["p1", "p2", "p3"]


def test_copy_clear_and_undo_for_a_selection(qtbot, shell, board, tmp_path):
    take(qtbot, shell, tmp_path, ["a.jpg", "b.jpg", "c.jpg"])
    shell.session.many.start_fittings([("p1", ITEM)])
    session = shell.session
    session.model.lay("f1", show=False)
    session.model.set({"file.quality": 70, "frame.window": "10, 10, 400, 320"}, "x")
    grid = board.grid
    grid.setFocus()
    grid.go((2, 0))
    grid.go((0, 0), extend=True)
    board.copy_chosen()
    made = {f.photo: f.settings for f in session.docket.fittings}
    assert set(made) == {"p1", "p2", "p3"} and all(s.file.quality == 70 for s in made.values())
    # the frame goes along, as the same part of photos of the same size
    assert made["p2"].frame.window == pytest.approx((10, 10, 400, 320))
    qtbot.keyClick(grid, Qt.Key.Key_Delete)
    assert session.docket.fittings == () and session.bench is None
    session.store.undo()
    assert len(session.docket.fittings) == 3
    qtbot.keyClick(grid, Qt.Key.Key_A, CTRL)
    assert len(grid.chosen) == 3


def test_return_opens_the_bench_and_a_double_press_too(qtbot, shell, board, tmp_path):
    take(qtbot, shell, tmp_path, ["a.jpg", "b.jpg"])
    shell.session.many.start_fittings([("p1", ITEM), ("p2", ITEM)])
    board.grid.setFocus()
    board.grid.go((0, 0))
    qtbot.keyClick(board.grid, Qt.Key.Key_Return)
    assert shell.pages.currentWidget() is shell.bench_stack
    assert shell.session.bench.fitting.photo == "p1"
    shell.go("board")
    qtbot.mouseDClick(board.grid.viewport(), LEFT, pos=spot(1, 0))
    assert shell.session.bench.fitting.photo == "p2"


def test_folders_clipboard_and_what_is_no_photo(qtbot, shell, board, tmp_path, monkeypatch):
    for name in ("a.jpg", "in/b.jpg"):
        path = tmp_path / "set" / name
        path.parent.mkdir(parents=True, exist_ok=True)
        Image.fromarray(scene(320, 240, 3)).save(path, compress_level=1)
    (tmp_path / "set" / "letter.jpg").write_text("Dear harbour master")
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *a: str(tmp_path / "set"))
    shell.ask_folder_alone()
    qtbot.waitUntil(lambda: "letter.jpg" in shell.message.text.text(), timeout=PATIENCE)
    assert [Path(p.path).name for p in shell.session.docket.photos] == ["a.jpg"]
    shell.ask_folder()
    qtbot.waitUntil(lambda: len(shell.session.docket.photos) == 2, timeout=PATIENCE)
    extra = tmp_path / "c.png"
    Image.fromarray(scene(320, 240, 4)).save(extra, compress_level=1)
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(extra))])
    QApplication.clipboard().setMimeData(data)
    shell.paste()
    qtbot.waitUntil(lambda: len(shell.session.docket.photos) == 3, timeout=PATIENCE)
    # one step each
    shell.session.store.undo()
    assert len(shell.session.docket.photos) == 2


@pytest.mark.long
def test_a_photo_that_changes_or_vanishes_is_seen_and_said(qtbot, shell, board, tmp_path):
    first, second = take(qtbot, shell, tmp_path, ["a.jpg", "b.jpg"])
    shell.session.many.start_fittings([("p1", ITEM), ("p2", ITEM)])
    quiet(qtbot, board)
    board.look_at_files()
    Image.fromarray(scene(1600, 1280, 9)).save(first, compress_level=1)
    second.unlink()
    board.look_at_files()
    assert "Changed on disk: a.jpg" in shell.message.text.text()
    quiet(qtbot, board)
    assert board.grid.cells["f1"].output[0] >= 1440
    assert board.grid.cells["f2"].standing == "lost"
    assert board.chips["lost"].count == 1


def test_one_that_cannot_be_made_is_listed_and_the_rest_are_made(qtbot, shell, board, tmp_path):
    first, second = take(qtbot, shell, tmp_path / "in", ["a.jpg", "b.jpg"])
    shell.session.many.start_fittings([("p1", HEADER), ("p2", HEADER)])
    first.write_bytes(first.read_bytes()[:3000])
    out = tmp_path / "out"
    out.mkdir()
    board.conform_into(out)
    qtbot.waitUntil(lambda: "Not made" in shell.message.text.text(), timeout=PATIENCE)
    assert "a.jpg" in shell.message.text.text() and "1 of 2 files" in shell.message.text.text()
    assert [p.name for p in out.iterdir()] == ["b-shop-header.jpg"]
    assert second.exists()


@pytest.mark.long
def test_two_thousand_photos_and_eight_briefs(qtbot, shell, board, tmp_path):
    """Only what is in view is asked for at first, and the keys go from end to end."""
    from aptandum.core.docket.model import Docket, PhotoEntry
    from aptandum.core.rulebook.shelf import read_shelf

    shelf = read_shelf()
    names = [f"{book.body.id}/{b.id}" for book in shelf.rulebooks for b in book.briefs][:8]
    base = tmp_path / "base.jpg"
    Image.fromarray(scene(300, 200)).save(base, compress_level=1)
    entries = []
    for i in range(2000):
        path = tmp_path / f"q{i}.jpg"
        path.hardlink_to(base)
        entries.append(PhotoEntry(id=f"p{i}", path=str(path)))
    docket = Docket(title="Many", photos=tuple(entries))
    docket = docket.with_fittings((e.id, n) for e in entries for n in names)
    kept = {book.body.id: book.text for book in shelf.rulebooks}
    save(docket.model_copy(update={"rulebooks": kept}), tmp_path / "many.docket")
    shell.session.dockets.load(tmp_path / "many.docket")
    shell.go("board")
    assert len(board.grid.rows) == 2000 and len(board.grid.columns) == 8
    grid = board.grid
    here = {grid.at[(grid.rows[r].photo, c.name)] for r in grid.seen_rows() for c in grid.columns}
    qtbot.waitUntil(lambda: here <= set(grid.cells), timeout=PATIENCE)
    assert len(grid.cells) < 4000  # what is far away comes later
    grid.setFocus()
    qtbot.keyClick(grid, Qt.Key.Key_Right, CTRL)
    assert grid.spot[0] == 1999 and 1999 in grid.seen_rows()
    here = {grid.at[(grid.rows[1999].photo, c.name)] for c in grid.columns}
    qtbot.waitUntil(lambda: here <= set(grid.cells), timeout=PATIENCE)
    # the pictures in memory stay within bounds
    assert len(grid.pictures) <= 600


@pytest.mark.long
def test_a_dozen_and_more_are_made_by_workers_of_their_own(qtbot, shell, board, tmp_path):
    names = [f"quay_{i:02d}.jpg" for i in range(14)]
    folder = tmp_path / "in"
    folder.mkdir()
    base = Image.fromarray(scene(160, 120, 5)).resize((1800, 1350))
    for name in names:
        base.save(folder / name, quality=85)
    drop(shell, *(folder / name for name in names))
    qtbot.waitUntil(lambda: len(shell.session.docket.photos) == 14, timeout=PATIENCE)
    shell.session.many.start_fittings([(p.id, ITEM) for p in shell.session.docket.photos])
    (folder / names[5]).write_text("not a photo any more")
    out = tmp_path / "out"
    out.mkdir()
    board.conform_into(out)
    qtbot.waitUntil(
        lambda: not shell.session.jobs.busy and board.under_way.isHidden(), timeout=PATIENCE
    )
    assert len(list(out.glob("*.jpg"))) == 13
    assert "quay_05.jpg" in shell.message.text.text() and "13 of 14" in shell.message.text.text()
    ids = {f.id for f in shell.session.docket.fittings}
    qtbot.waitUntil(
        lambda: ids <= set(board.grid.cells) and not board.judging.busy, timeout=PATIENCE
    )
    cells = [board.grid.cells[f.id] for f in shell.session.docket.fittings]
    assert sum(cell.proved for cell in cells) == 13


@pytest.mark.parametrize(
    ("name", "line"),
    [
        ("orrin-moor/night-round", "at most 1 600 px (landscape"),
        ("lantern-channel/corner-badge", "1:1 · at most 120 kB"),
        ("keepers-hall/plaque", "800 × 1 000 px"),
    ],
)
def test_what_a_brief_asks_is_told_by_its_first_clause_on_the_picture(name, line):
    brief = read_shelf().find(name)[1]
    assert (
        asks(brief)
        .replace("\u202f", " ")
        .replace("\u2009", " ")
        .replace("\xa0", " ")
        .startswith(line)
    )


@pytest.mark.long
def test_a_set_is_judged_at_the_head_of_its_column(qtbot, shell, board, tmp_path):
    """One to eight pictures, the first of them square: ten, and the first one lies."""
    names = [f"quay_{n}.jpg" for n in range(10)]
    take(qtbot, shell, tmp_path, names)
    series = "harbour-registry/pier-series"
    shell.session.many.start_fittings([(f"p{n}", series) for n in range(1, 11)])
    quiet(qtbot, board)
    qtbot.waitUntil(lambda: bool(board.grid.sets.get(series)), timeout=PATIENCE)
    found = {f.clause.id: f.verdict for f in board.grid.sets[series]}
    assert found == {"set_count": "misses", "set_bytes": "meets", "first-square": "misses"}
    board.grid.go((0, 0))
    said = [board.lines.itemAt(i).widget().words.text() for i in range(board.lines.count())]
    assert any("Whole set" in s and "2 too many" in s for s in said)
    assert any("First of the set" in s and "square" in s for s in said)
    # one fitting alone is not blamed for the set
    assert {cell.standing for cell in board.grid.cells.values()} <= {"meets", "advises", "unknown"}


@pytest.mark.parametrize("language", ["de", "es", "fr"])
def test_a_standing_has_room_beneath_its_sign_in_every_language(qtbot, shell, language):
    """Word by word: it is written in two lines where one is too short, and nothing is cut."""
    import sys

    sys.path.insert(0, str(Path(__file__).resolve().parents[2] / "tools"))
    try:
        from extract_words import translation
    finally:
        sys.path.pop(0)
    words = translation(language)
    for key in ("would meet", "misses {n}", "not there", "confirm {n}", "advice {n}", "ready", "looking …"):  # fmt: skip
        said = words.get(key).string.replace("{n}", "99")
        for bold in (False, True):
            metrics = QFontMetricsF(theme.tight(12, bold=bold))
            room = metrics.boundingRect(QRectF(0, 0, BENEATH, 1000), WRAPPED, said)
            assert room.width() <= BENEATH and room.height() <= 44, (key, said, room)


@pytest.mark.parametrize("many", [3, 7])
def test_photos_dropped_on_a_chosen_brief_are_all_fitted_to_it(qtbot, shell, tmp_path, many):
    shell.start.choose(ITEM)
    take(qtbot, shell, tmp_path, [f"picture_{n}.jpg" for n in range(many)])
    docket = shell.session.docket
    assert {(one.photo, one.brief) for one in docket.fittings} == {
        (photo.id, ITEM) for photo in docket.photos
    }
    assert ITEM.partition("/")[0] in docket.rulebooks
    # few begin on the bench, many on the board, below their brief
    assert shell.at_board() is (many > 4)
    assert (shell.session.bench is not None) is (many <= 4)
    if shell.at_board():
        assert [column.name for column in shell.board.grid.columns] == [ITEM]
        quiet(qtbot, shell.board)
        shell.board.stop()
    # begun in one step, which for many is that of taking them in
    shell.session.store.undo()
    assert shell.session.docket.fittings == ()
    assert len(shell.session.docket.photos) == (many if many <= 4 else 0)


def test_photos_dropped_on_the_board_take_no_brief_of_the_first_screen(
    qtbot, shell, board, tmp_path
):
    shell.start.choose(ITEM)
    shell.go("board")
    take(qtbot, shell, tmp_path, ["one.jpg", "two.jpg"])
    assert shell.session.docket.fittings == ()
