"""The place of rulebooks, driven in the real window."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QLineEdit, QWidget

from aptandum.core.rulebook.shelf import own_folder
from aptandum.core.rulebook.toml import parse_rulebook, read_rulebook
from aptandum.ui import theme
from aptandum.ui.app import open_shell
from aptandum.ui.rulebooks.chart_plane import PhotoPoint
from driving import drop, wait
from samples import DEMO, PATIENCE

LEFT, CTRL, SHIFT = (
    Qt.MouseButton.LeftButton,
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.ShiftModifier,
)

FOUR = """# Kept by hand.
format = 1
[body]
id = "pier-office"
name = "Pier Office"
edition = "4"
read_on = 2026-01-05

[[brief]]
id = "notice"
title = "Notice"

[[brief.clause]]
measure = "width"
at_most = 900
quote = "900 wide at most"

[[brief.clause]]
measure = "enlargement"
at_most = 1

[[brief.clause]]
measure = "format"
one_of = ["jpeg", "png"]

[[brief.clause]]
measure = "profile"
exactly = "embedded"
"""
FIVE = (
    FOUR.replace('edition = "4"', 'edition = "5"')
    .replace("2026-01-05", "2026-11-05")
    .replace("at_most = 900\n", "between = [1000, 1600]\n")
    .replace("900 wide at most", "between 1000 and 1600 wide")
    .replace('exactly = "embedded"', 'exactly = "embedded"\nstrength = "should"')
    .replace('[[brief.clause]]\nmeasure = "format"\none_of = ["jpeg", "png"]\n\n', "")
    + '\n[[brief.clause]]\nask = "It hangs straight"\n'
)


def plain(text: str) -> str:
    return text.replace("\u00a0", " ")


def words(widget: QWidget) -> str:
    """Everything that a widget shows as labels, in order."""
    from PyQt6.QtWidgets import QLabel, QPushButton

    QApplication.processEvents()  # new parts are shown with the next turn of events
    parts = widget.findChildren((QLabel, QPushButton))
    return plain("\n".join(p.text() for p in parts if not p.isHidden()))


@pytest.fixture
def docket(tmp_path: Path, photo) -> Path:
    """A docket of two photos made under edition 4."""
    small, large = photo(800, 600, "small.jpg"), photo(2400, 1600, "large.jpg")
    path = tmp_path / "pier.docket"
    fittings = [{"id": f"f{i}", "photo": f"p{i}", "brief": "pier-office/notice"} for i in (1, 2)]
    record = {
        "format": 1,
        "title": "Pier",
        "photos": [{"id": "p1", "path": small.name}, {"id": "p2", "path": large.name}],
        "fittings": fittings,
        "rulebooks": {"pier-office": FOUR},
    }
    path.write_text(json.dumps(record))
    return path


def test_a_newer_edition_is_seen_and_taken_over(qtbot, shell, docket, tmp_path):
    (tmp_path / "five.toml").write_text(FIVE)
    drop(shell, docket)
    wait(qtbot, shell)
    assert shell.session.bench.book.body.edition == "4"  # as the docket was made
    drop(shell, tmp_path / "five.toml")
    assert shell.pages.currentWidget() is shell.rulebooks
    assert "edition 5" in shell.tabs["rulebooks"].toolTip()
    shell.go("bench")
    assert "Edition 5 is on the shelf" in shell.bench.ledger.edition.text()
    qtbot.mouseClick(shell.bench.ledger.edition, LEFT)
    assert shell.pages.currentWidget() is shell.rulebooks
    changes = shell.rulebooks.changes
    kinds = {(d.kind, d.clause) for d in changes.differences}
    assert {
        ("limit", "width"),
        ("wording", "width"),
        ("strength", "profile"),
        ("removed", "format"),
        ("added", "ask"),
    } == kinds
    shown = words(changes)
    assert "at most 900 px" in shown and "1 000 px to 1 600 px" in shown
    assert "required" in shown and "recommended" in shown
    assert "It breaks 1 fitting of this docket:" in shown and "small.jpg · Notice" in shown
    assert "1.25 ×" in shown
    take = next(b for b in changes.findChildren(QWidget) if b.property("role") == "act")
    qtbot.mouseClick(take, LEFT)
    assert shell.session.bench.book.body.edition == "5"
    finding = shell.session.bench.live.of("enlargement")
    assert finding.verdict == "misses" and "pulls against" in finding.mend.words
    assert shell.tabs["rulebooks"].news == "" and shell.bench.ledger.edition.isHidden()
    shell.session.store.undo()
    assert shell.session.bench.book.body.edition == "4"
    assert shell.session.bench.live.of("enlargement").verdict == "meets"


def test_two_files_compared(qtbot, shell, tmp_path):
    (tmp_path / "four.toml").write_text(FOUR)
    (tmp_path / "five.toml").write_text(FIVE)
    shell.go("rulebooks")
    assert shell.rulebooks.compare(str(tmp_path / "four.toml"), str(tmp_path / "five.toml"))
    shown = words(shell.rulebooks.changes)
    assert "edition 4 (2026-01-05) → edition 5 (2026-11-05) · 5 changes" in shown
    assert "Take over" not in shown
    (tmp_path / "bad.toml").write_text("format = 2")
    assert not shell.rulebooks.compare(str(tmp_path / "four.toml"), str(tmp_path / "bad.toml"))
    assert "bad.toml:1" in shell.message.text.text()


# --- the form, by keyboard -----------------------------------------------------------------


def tab_to(name: str) -> QWidget:
    """Press Tab until a field is reached by its name for screen readers."""
    for _ in range(90):
        now = QApplication.focusWidget()
        if now is not None and now.accessibleName() == name:
            return now
        QTest.keyClick(now, Qt.Key.Key_Tab)
    raise AssertionError(f"Tab never reaches {name}")


def type_in(name: str, text: str) -> None:
    field = tab_to(name)
    if isinstance(field, QLineEdit):
        QTest.keyClick(field, Qt.Key.Key_A, CTRL)
    QTest.keyClicks(field, text)


def choose(name: str, text: str) -> None:
    """Choose from a list by typing the beginning of its word."""
    box = tab_to(name)
    interval = QApplication.keyboardInputInterval()
    QTest.qWait(interval + 20)  # else it is taken as one word with what was typed before
    QTest.keyClicks(box, text[0])
    QApplication.setKeyboardInputInterval(20_000)  # however slow the machine, it is one word
    QTest.keyClicks(box, text[1:])
    QApplication.setKeyboardInputInterval(interval)


@pytest.mark.long
def test_a_rulebook_from_nothing_by_keyboard_alone(qtbot, shell):
    QTest.keyClick(shell, Qt.Key.Key_3, CTRL)
    assert shell.pages.currentWidget() is shell.rulebooks
    QTest.keyClick(shell, Qt.Key.Key_N, CTRL | SHIFT)
    form = shell.rulebooks.form
    type_in("Body: Name", "Pier Office")
    type_in("Body: Edition", "2")
    type_in("Body: Read on", "2026-11-25")
    type_in("Brief: title", "Notice picture")
    assert form.id_field.text() == "notice-picture" and form.body["id"].text() == "pier-office"
    assert not form.save_button.isEnabled()

    def clause(measure: str, kind: str, low: str, high: str = "", strength: str = "") -> None:
        QTest.keyClick(shell, Qt.Key.Key_A, CTRL | SHIFT)
        choose("What is measured", measure)
        if strength:
            choose("Required or recommended", strength)
        if kind:
            choose("Kind of limit", kind)
        type_in("Limit", low)
        if high:
            type_in("Upper limit", high)

    clause("Longest side", "at most", "1600 px")
    assert plain(form.said.text()) == "Longest side at most 1 600 px; both sides count."
    clause("Bytes", "between", "60 KB", "250 KB")
    said = plain(form.said.text())
    assert "60 KB may mean 60 000 bytes or 61 440 bytes" in said
    assert "250 KB may mean 250 000 bytes or 256 000 bytes" in said
    clause("Format", "one of", "jpeg, png")
    clause("Proportion", "exactly", "4:5", strength="recommended")
    box = form.turns["upright"]
    while QApplication.focusWidget() is not box:
        QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Tab)
    QTest.keyClick(box, Qt.Key.Key_Space)
    type_in("The body's own words", "four wide, five high")
    clause("A question", "", "Is it yours to show?")
    assert form.state.text() == "Sound, and not saved yet."

    target = own_folder() / "pier-office.toml"

    def answer() -> None:
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, QFileDialog)
        field = dialog.findChild(QLineEdit)
        QTest.keyClick(field, Qt.Key.Key_Return)

    QTimer.singleShot(400, answer)
    QTest.keyClick(shell, Qt.Key.Key_E, CTRL | SHIFT)
    book = read_rulebook(target)
    assert book == parse_rulebook(
        """
        format = 1
        [body]
        id = "pier-office"
        name = "Pier Office"
        edition = "2"
        read_on = 2026-11-25
        [[brief]]
        id = "notice-picture"
        title = "Notice picture"
        [[brief.clause]]
        measure = "longest_side"
        at_most = 1600
        [[brief.clause]]
        measure = "file_bytes"
        between = ["60 KB", "250 KB"]
        [[brief.clause]]
        measure = "format"
        one_of = ["jpeg", "png"]
        [[brief.clause]]
        measure = "aspect"
        exactly = "4:5"
        strength = "should"
        applies = "upright"
        quote = "four wide, five high"
        [[brief.clause]]
        ask = "Is it yours to show?"
        """
    )
    # it lies on the shelf now, and still does after a restart
    assert shell.session.library.shelf.find("pier-office/notice-picture")
    again = open_shell()
    assert again.session.library.shelf.find("pier-office/notice-picture")
    again.close()


def test_a_clause_is_checked_as_it_is_typed(qtbot, shell):
    shell.go("rulebooks")
    shell.rulebooks.new()
    form = shell.rulebooks.form
    QTest.keyClick(shell, Qt.Key.Key_A, CTRL | SHIFT)
    assert "still to be written" in form.said.text()
    QTest.keyClicks(form.low, "16O0")
    assert "expected whole pixels" in form.said.text() and form.low.property("bad") == "true"
    for _ in range(2):
        QTest.keyClick(form.low, Qt.Key.Key_Backspace)
    assert "Width at most 16 px" in plain(form.said.text()) and form.low.property("bad") == "false"
    # clauses that contradict one another are named, on the chart as well
    QTest.keyClick(shell, Qt.Key.Key_A, CTRL | SHIFT)
    choose("What is measured", "Shortest side")
    choose("Kind of limit", "at least")
    type_in("Limit", "900")
    assert "contradict one another" in shell.rulebooks.chart.said()
    qtbot.mouseClick(form.back_button, LEFT)
    assert form.low.text() == "90"


def test_a_changed_rulebook_keeps_its_comments_and_its_old_file(qtbot, shell, tmp_path):
    path = tmp_path / "four.toml"
    path.write_text(FOUR)
    shell.go("rulebooks")
    assert shell.rulebooks.read(str(path))
    qtbot.mouseClick(shell.rulebooks.views["write"], LEFT)
    form = shell.rulebooks.form
    form.low.setFocus()
    QTest.keyClick(form.low, Qt.Key.Key_A, CTRL)
    QTest.keyClicks(form.low, "950")
    other = tmp_path / "changed.toml"
    assert shell.rulebooks.save_to(other)
    assert path.read_text() == FOUR
    assert other.read_text() == FOUR.replace("at_most = 900", 'at_most = "950"')


@pytest.mark.long
def test_what_may_be_done_where_it_is_seen_and_what_is_laid_on_it(qtbot, shell, tmp_path):
    path = tmp_path / "four.toml"
    path.write_text(FOUR)
    Image.new("RGBA", (80, 100), (0, 0, 0, 0)).save(tmp_path / "pane.png")
    shell.go("rulebooks")
    assert shell.rulebooks.read(str(path))
    qtbot.mouseClick(shell.rulebooks.views["write"], LEFT)
    form = shell.rulebooks.form
    extras = form.extras
    assert extras.ticks.isHidden() and extras.told.isHidden()
    # only cutting and scaling
    choose("What may be done to a photo", "only")
    for word in ("cut", "scale"):
        extras.permitted[word].setFocus()
        QTest.keyClick(extras.permitted[word], Qt.Key.Key_Space)
    assert parse_rulebook(form.text).briefs[0].allows == ("cut", "scale")
    # seen on a handset, with a zone; one that runs over the edge is marked and named
    qtbot.mouseClick(extras.add_button, LEFT)
    choose("Kind of place", "Handset")
    zones = tab_to("Place: zones that must stay clear")
    QTest.keyClicks(zones, "clock: 0 %, 7 %, 100 %, 15 %")
    seen = parse_rulebook(form.text).briefs[0].seen
    assert [z.name for z in seen[0].zones] == ["clock"]
    QTest.keyClick(zones, Qt.Key.Key_Return)
    QTest.keyClicks(zones, "dock: 4 %, 87 %, 98 %, 11 %")
    assert zones.property("bad") == "true"
    assert "place 1 of “Notice”" in plain(form.state.text())
    assert not form.save_button.isEnabled()
    for _ in range(len("98 %, 11 %")):
        QTest.keyClick(zones, Qt.Key.Key_Backspace)
    QTest.keyClicks(zones, "92 %, 11 %")
    assert zones.property("bad") == "false"
    # and under tints, with words
    qtbot.mouseClick(extras.add_button, LEFT)
    choose("Kind of place", "Tile")
    type_in("Place: Opacity", "55 %")
    type_in("Place: Colours", "#7A2E3B, #1F5A7")
    assert extras.lines["colours"].property("bad") == "true"
    type_in("Place: Colours", "#7A2E3B, #1F5A7A")
    type_in("Place: Words on it", "Evening lectures")
    # back to the first place: its own fields, and none of the other's
    extras.places.setFocus()
    choose("Which place where it is seen", "1")
    assert extras.zones.isVisible() and extras.lines["opacity"].isHidden()
    # a border that lies beside the rulebook, and a template
    type_in("Border: picture", "pane.png")
    type_in("Template: size", "400 x 300")
    panels = tab_to("Template: panels")
    QTest.keyClicks(panels, "left: 0 0, 200 0, 20o 300")
    assert panels.property("bad") == "true"
    assert "template of “Notice”" in plain(form.state.text())
    for _ in range(len("20o 300")):
        QTest.keyClick(panels, Qt.Key.Key_Backspace)
    QTest.keyClicks(panels, "200 300")
    assert form.state.text() == "Sound, and not saved yet."
    other = tmp_path / "changed.toml"
    assert shell.rulebooks.save_to(other)
    brief = read_rulebook(other).briefs[0]
    assert brief.allows == ("cut", "scale") and brief.border == "pane.png"
    assert [s.as_ for s in brief.seen] == ["handset", "tint"]
    assert brief.seen[0].zones[1].width == pytest.approx(0.92)
    assert brief.seen[1].colours == ("#7A2E3B", "#1F5A7A")
    assert brief.template.panels[0].outline == ((0, 0), (200, 0), (200, 300))
    assert other.read_text().startswith("# Kept by hand.")
    # taken out again, one by one, it is the rulebook that it was
    qtbot.mouseClick(shell.rulebooks.views["write"], LEFT)
    for _ in range(2):
        qtbot.mouseClick(extras.drop_button, LEFT)
    choose("What may be done to a photo", "anything")
    for name in ("Border: picture", "Template: size"):
        field = tab_to(name)
        QTest.keyClick(field, Qt.Key.Key_A, CTRL)
        QTest.keyClick(field, Qt.Key.Key_Backspace)
    panels.setFocus()
    QTest.keyClick(panels, Qt.Key.Key_A, CTRL)
    QTest.keyClick(panels, Qt.Key.Key_Backspace)
    assert parse_rulebook(form.text) == parse_rulebook(FOUR)


def test_a_shipped_rulebook_is_never_written_to(qtbot, shell):
    shell.go("rulebooks")
    before = Path(shell.session.library.shelf.book("vessary-ferries").path).read_bytes()
    shell.rulebooks.show_brief("vessary-ferries/deck-pass")
    shell.rulebooks.change()
    shipped = Path(shell.session.library.shelf.book("vessary-ferries").path)
    assert not shell.rulebooks.save_to(shipped)
    assert "comes with Aptandum" in shell.message.text.text()
    assert shipped.read_bytes() == before


def test_a_file_that_is_no_rulebook_says_so_and_the_shelf_stays(qtbot, shell, tmp_path):
    (tmp_path / "bad.toml").write_text(FOUR.replace('"width"', '"wdith"'))
    n = len(shell.session.library.shelf.rulebooks)
    drop(shell, tmp_path / "bad.toml")
    assert "bad.toml:14" in shell.message.text.text()
    assert '"width" is the nearest' in shell.message.text.text()
    assert len(shell.session.library.shelf.rulebooks) == n


# --- the chart -----------------------------------------------------------------------------


@pytest.fixture
def chart(qtbot, shell, tmp_path):
    path = tmp_path / "blue_jug_03.jpg"
    path.write_bytes((DEMO / path.name).read_bytes())
    drop(shell, path)
    shell.go("rulebooks")
    qtbot.waitUntil(lambda: bool(shell.rulebooks.chart.photos))
    return shell.rulebooks.chart


def test_the_name_of_a_way_stays_on_the_chart(qtbot, shell):
    """*Way “large”* stands at the largest size, which is near the chart's edge."""
    shell.go("rulebooks")
    shell.rulebooks.show_brief("harbour-registry/notice-board")
    chart = shell.rulebooks.chart
    plot = chart._plot()
    for width in (60, 200):
        for spot in (chart.place(600, 600), chart.place(1200, 1200), plot.topRight()):
            begins = chart.beside(spot, width)
            assert plot.left() < begins.x() and begins.x() + width < plot.right()
    assert chart.beside(chart.place(600, 600), 60).x() > chart.place(600, 600).x()


def test_the_chart_reads_out_what_is_pointed_at(qtbot, shell, chart):
    shell.rulebooks.show_brief("quayside-exchange/shop-header")
    inside, outside = chart.place(1500, 300), chart.place(1500, 900)
    QTest.mouseMove(chart, inside.toPoint())
    at = chart.at
    chart.look_at((1500, 300))
    assert "1 500 × 300 px, 5:1: allowed." in plain(chart.said()) and at is not None
    QTest.mouseMove(chart, outside.toPoint())
    said = plain(shell.rulebooks.right.read_out.text())
    assert "not allowed, by “Height, 230 px to 370 px” and “Proportion, exactly 5:1”" in said
    assert "Nearest: 1 618 × 324 px." in said


def test_the_chart_by_keyboard(qtbot, shell, chart):
    shell.rulebooks.show_brief("quayside-exchange/item-picture")
    chart.setFocus()
    QTest.keyClick(chart, Qt.Key.Key_Right)
    at = chart.at
    QTest.keyClick(chart, Qt.Key.Key_Up, SHIFT)
    assert chart.at == (at[0], at[1] + 10)
    scale = chart._scale
    QTest.keyClick(chart, Qt.Key.Key_Plus)
    assert chart._scale > scale
    QTest.keyClick(chart, Qt.Key.Key_0)
    assert chart._scale == scale
    QTest.keyClick(chart, Qt.Key.Key_PageDown)
    said = plain(chart.said())
    assert said.startswith("blue_jug_03.jpg, 1 280 × 960 px: cannot meet it")
    assert "160 more pixels on the longest side" in said or "more pixels" in said
    QTest.keyClick(chart, Qt.Key.Key_Return)
    assert shell.pages.currentWidget() is shell.bench_stack
    assert shell.session.bench.brief.id == "item-picture"


def test_a_click_opens_a_photo_on_the_bench(qtbot, shell, chart):
    shell.rulebooks.show_brief("orrin-moor/night-round")
    spot = chart.place(1280, 960).toPoint()
    QTest.mouseMove(chart, spot + QPoint(1, 1))
    assert chart.photo is not None
    qtbot.mouseClick(chart, LEFT, pos=spot)
    assert shell.session.bench.brief.id == "night-round"
    assert shell.session.bench.photo.name == "blue_jug_03.jpg"


def test_the_wheel_keeps_what_is_under_the_pointer(qtbot, shell, chart):
    shell.rulebooks.show_brief("quayside-exchange/item-picture")
    spot = chart.place(1800, 1500)
    chart.zoom(3.0, spot)
    after = chart.place(1800, 1500)
    assert abs(after.x() - spot.x()) < 1 and abs(after.y() - spot.y()) < 1


def test_each_clause_stands_with_the_bodys_words(qtbot, shell):
    shell.go("rulebooks")
    shell.rulebooks.show_brief("vessary-ferries/deck-pass")
    shown = words(shell.rulebooks.clauses)
    assert "exactly 630 × 840 px" in shown
    assert "“630 pixels wide and 840 pixels high”" in shown
    assert "Alterations allowed: turn, cut, scale and convert." in shown
    shell.rulebooks.clauses.cards[0].setFocus()
    assert "the first number is the width" in shell.rulebooks.clauses.cards[0].accessibleName()


@pytest.mark.long
def test_two_thousand_photos_do_not_hold_the_place_up(qtbot, shell, tmp_path, photo):
    """Sizes are read beside the interface, and a photo that cannot be read keeps no other out."""
    first = photo(300, 200, "n0.jpg").read_bytes()
    docket = shell.session.docket
    for n in range(2000):
        path = tmp_path / f"n{n}.jpg"
        path.write_bytes(first if n != 7 else b"no photo")
        docket, _ = docket.with_photo(str(path))
    shell.session.store.history.docket = docket
    shell.session.model.changed.emit()
    shell.go("rulebooks")
    chart = shell.rulebooks.chart
    assert chart.photos == ()
    qtbot.waitUntil(lambda: len(chart.photos) == 1999, timeout=PATIENCE)
    shell.rulebooks.show_brief("orrin-moor/night-round")
    QTest.mouseMove(chart, chart.place(300, 200).toPoint())
    assert chart.photo is not None and not chart.grab().isNull()


@pytest.mark.long
def test_a_choice_a_condition_and_a_tolerance_are_written_by_keys(qtbot, shell):
    """600 x 600 or 1200 x 1200 give or take 2 %, PNG up to 2 MB; the format for the whole body."""
    shell.go("rulebooks")
    shell.rulebooks.new()
    form = shell.rulebooks.form
    type_in("Body: Name", "Pier Office")
    type_in("Body: In force", "2027-01-01")
    type_in("Brief: title", "Notice picture")
    for size, way in (("600 x 600", "small"), ("1200 x 1200", "large")):
        QTest.keyClick(shell, Qt.Key.Key_A, CTRL | SHIFT)
        choose("What is measured", "Size")
        choose("Kind of limit", "exactly")
        type_in("Limit", size)
        type_in("One way of a choice", way)
    type_in("Upper limit", "2 %")
    assert "1 200 × 1 200 px, give or take 2 %" in plain(form.said.text())
    assert "One way of several, “large”" in form.said.text()
    QTest.keyClick(shell, Qt.Key.Key_A, CTRL | SHIFT)
    choose("What is measured", "Bytes")
    choose("Kind of limit", "at most")
    type_in("Limit", "2 MB")
    choose("On what the clause depends", "Format")
    choose("Kind of limit of the condition", "exactly")
    type_in("Limit of the condition", "png")
    assert "Only with format PNG" in form.said.text()
    type_in("Limit of the condition", "pmg")
    assert form.when_value.property("bad") == "true" and not form.save_button.isEnabled()
    type_in("Limit of the condition", "png")
    form.briefs.setCurrentIndex(form.briefs.count() - 1)
    form.briefs.activated.emit(form.briefs.currentIndex())
    assert (
        form.briefs.currentText() == "Every brief of the body" and not form.title_field.isEnabled()
    )
    QTest.keyClick(shell, Qt.Key.Key_A, CTRL | SHIFT)
    choose("What is measured", "Format")
    choose("Kind of limit", "one of")
    type_in("Limit", "png, jpeg")
    book = parse_rulebook(form.text)
    (brief,) = book.briefs
    assert str(book.body.valid_from) == "2027-01-01"
    assert [c.either for c in brief.clauses] == ["small", "large", "", ""]
    assert brief.clauses[1].limit.at_most == (1224, 1224)
    assert brief.clauses[2].when.limit.one_of == ("png",)
    assert brief.clauses[3].whole_body and brief.clauses[3].limit.one_of == ("png", "jpeg")
    assert form.state.text() == "Sound, and not saved yet."


@pytest.mark.long
def test_either_way_up_and_the_first_of_a_set_are_ticked(qtbot, shell):
    shell.go("rulebooks")
    shell.rulebooks.new()
    form = shell.rulebooks.form
    QTest.keyClick(shell, Qt.Key.Key_A, CTRL | SHIFT)
    choose("What is measured", "Proportion")
    choose("Kind of limit", "exactly")
    type_in("Limit", "3:2")
    assert form.either_way.isVisible()
    for box in (form.either_way, form.first):
        box.setFocus()
        QTest.keyClick(box, Qt.Key.Key_Space)
    type_in("Day from which it holds", "2027-01-01")
    said = form.said.text()
    assert "either way up" in said and "first picture of a set" in said and "2027-01-01" in said
    type_in("Day from which it holds", "soon")
    assert form.valid_from.property("bad") == "true"
    choose("What is measured", "Width")
    assert not form.either_way.isVisible()


def test_the_chart_draws_every_way_and_says_which_a_photo_takes(qtbot, shell):
    shell.go("rulebooks")
    shell.rulebooks.show_brief("harbour-registry/notice-board")
    chart = shell.rulebooks.chart

    chart.look_at((4000, 3000), PhotoPoint("p1", "pier.jpg", (4000, 3000)))
    assert "Takes “large”: it is reduced least" in plain(chart.said())
    chart.look_at((700, 700), PhotoPoint("p2", "mark.png", (700, 700)))
    assert "Takes “small”: for any other it would be enlarged more" in plain(chart.said())
    image = chart.grab().toImage()
    for size in ((600, 600), (1200, 1200)):
        spot = chart.place(*size).toPoint() + QPoint(2, 2)
        near = [image.pixelColor(spot - QPoint(x, y)) for x in range(5) for y in range(5)]
        assert theme.colour("meets") in near
