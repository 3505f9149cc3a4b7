"""Rules in words beside what they became, on the page of rulebooks."""

from __future__ import annotations

from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLabel, QPushButton
from test_words_door import key, plain

from aptandum.core.rulebook.shelf import own_folder
from aptandum.core.rulebook.toml import parse_rulebook, read_rulebook
from aptandum.ui import theme
from driving import drop, wait
from samples import PATIENCE, scene

PAGE = """Picture rules of the Pier Office

Pass

- 600 x 800 px, JPEG
- Files of 60 kB are returned

The office lies six steps from the wall.

Poster

- 2000 x 3000 px, TIFF
- Pictures are returned within 14 days
"""


@pytest.fixture
def view(qtbot, shell):
    """The page of :data:`PAGE`, read."""
    shell.session.worded.put(PAGE)
    shell.show_words()
    view = shell.rulebooks.words
    qtbot.waitUntil(lambda: len(view.rows.rows) == 5, timeout=PATIENCE)
    return view


def said(view) -> list[str]:
    return [plain(row.said.words.text()) for row in view.rows.rows.values()]


def press(qtbot, part, words: str) -> None:
    def there() -> list[QPushButton]:
        every = [b for b in part.findChildren(QPushButton) if plain(b.text()) == words]
        return [b for b in every if b.isVisible()]

    qtbot.waitUntil(lambda: bool(there()), timeout=PATIENCE)
    qtbot.mouseClick(there()[0], Qt.MouseButton.LeftButton)


def choose(view, words: str) -> None:
    view.field.setFocus()
    at = view.worded.text.index(words)
    cursor = view.field.textCursor()
    cursor.setPosition(at)
    cursor.setPosition(at + len(words), cursor.MoveMode.KeepAnchor)
    view.field.setTextCursor(cursor)


def lit(view) -> set[str]:
    """Words of the source that are lit."""
    blue = theme.colour("blue_soft")
    every = view.field.extraSelections()
    return {s.cursor.selectedText() for s in every if s.format.background().color() == blue}


def test_the_doubtful_come_first_and_the_rest_under_their_headings(view):
    assert view.state.text() == "1 of 5 can be read in another way."
    assert said(view)[0] == "Bytes, at most 60.0 kB: is that meant?"
    heads = [view.rows.column.itemAt(i).widget() for i in range(view.rows.column.count() - 1)]
    heads = [head.text() for head in heads if hasattr(head, "text")]
    assert heads == ["Pass", "Poster"]
    assert view.body.text() == "Pier Office" and "14" in view.asides.text()


def test_choosing_a_clause_lights_its_words_and_the_words_their_clause(qtbot, view):
    row = next(r for r in view.rows.rows.values() if "2 000" in plain(r.said.words.text()))
    qtbot.mouseClick(row, Qt.MouseButton.LeftButton)
    assert lit(view) == {"2000 x 3000 px, TIFF"}
    choose(view, "600 x 800")
    size = next(r for r in view.rows.rows.values() if "600 × 800" in plain(r.said.words.text()))
    assert theme.colour("blue_soft").name() in size.said.words.styleSheet()
    assert theme.colour("blue_soft").name() not in row.said.words.styleSheet()


def test_words_are_made_a_clause_and_said_in_others(qtbot, view, shell):
    """Chosen words that the grammar makes nothing of are a question, until they are said otherwise."""
    assert not view.make.isEnabled()
    choose(view, "six steps from the wa")  # the word is meant whole
    qtbot.mouseClick(view.make, Qt.MouseButton.LeftButton)
    row = view.rows.rows[list(view.rows.rows)[said(view).index("six steps from the wall")]]
    qtbot.waitUntil(row.hasFocus, timeout=PATIENCE)
    QTest.keyClick(row, Qt.Key.Key_Return)
    QTest.keyClicks(row.other, "eye line between 40 and 50 %")
    assert plain(row.other_said.text()) == "Eye line, 40 % to 50 %"
    QTest.keyClick(row.other, Qt.Key.Key_Return)
    assert "Eye line, 40 % to 50 %" in said(view)
    notes = [
        w.text() for w in view.rows.findChildren(type(view.state)) if "stands nowhere" in w.text()
    ]
    assert notes == ["40 and 50 stands nowhere in its words."]
    shell.session.worded.put(PAGE.replace("six steps", "two steps"))
    qtbot.waitUntil(lambda: "Eye line, 40 % to 50 %" not in said(view), timeout=PATIENCE)


def test_a_clause_is_thrown_out_by_key_and_taken_back(qtbot, view, shell):
    row = next(r for r in view.rows.rows.values() if plain(r.said.words.text()) == "Format, TIFF")
    row.setFocus()
    QTest.keyClick(row, Qt.Key.Key_Delete)
    assert "Format, TIFF: left out" in said(view)
    # what was said stays said while other sentences change
    press(qtbot, view, "at least 60 kB")
    shell.session.worded.put("Read this first.\n\n" + PAGE)
    qtbot.waitUntil(lambda: shell.session.worded.current, timeout=PATIENCE)
    assert "Format, TIFF: left out" in said(view) and "Bytes, at least 61.4 kB" in said(view)
    text = view.worded.settled()
    assert [d.fields["measure"] for d in text.drafts if d.brief == "Poster"] == ["size"]
    again = next(r for r in view.rows.rows.values() if "left out" in r.said.words.text())
    press(qtbot, again, "Ask again")
    assert "Format, TIFF" in said(view)


def test_both_views_show_one_text(qtbot, view, shell):
    view.field.setPlainText("JPEG, 413 x 531 px")
    assert shell.start.words.field.toPlainText() == "JPEG, 413 x 531 px"
    qtbot.waitUntil(lambda: len(shell.start.words.rows.rows) == 2, timeout=PATIENCE)


def test_used_from_here_they_lie_on_the_bench(qtbot, view, shell, tmp_path: Path):
    Image.fromarray(scene(900, 1200)).save(tmp_path / "pier.jpg")
    shell.session.photos.take([str(tmp_path / "pier.jpg")])
    key(shell, Qt.Key.Key_Return)
    wait(qtbot, shell)
    assert shell.session.bench.line.frame.output == (600, 800)
    assert shell.session.bench.book.body.name == "Pier Office"
    assert shell.pages.currentWidget() is shell.bench_stack


def test_a_page_pasted_or_dropped_here_is_read_here(qtbot, view, shell, tmp_path: Path):
    (tmp_path / "hall.html").write_text("<html><p>Keepers' Hall takes PNG only.</p></html>")
    drop(shell, tmp_path / "hall.html")
    qtbot.waitUntil(lambda: said(view) == ["Format, PNG"], timeout=PATIENCE)
    assert view.isVisible() and shell.rulebooks.under.text().endswith("hall.html")
    QApplication.clipboard().setText("GIF")
    view.older.setFocus()
    key(shell, Qt.Key.Key_V)
    qtbot.waitUntil(lambda: said(view) == ["Format, GIF"], timeout=PATIENCE)


def test_new_words_are_held_against_the_old_rulebook_and_kept(qtbot, shell):
    """Only what the words say is changed; the edition is a file of the person's own."""
    old = shell.session.library.shelf.named("windhover-kites")
    shell.rulebooks.show_brief(f"{old.body.id}/{old.briefs[0].id}")
    brief = old.briefs[0]
    quotes = [c.quote for c in brief.clauses if c.quote and c.measure != "file_bytes"]
    shell.session.worded.put(". ".join(quotes) + ". At most 700 kB.")
    shell.show_words()
    view = shell.rulebooks.words
    qtbot.waitUntil(lambda: view.compare.isEnabled(), timeout=PATIENCE)
    view.older.setCurrentIndex(view.older.findData(old.body.id))
    qtbot.mouseClick(view.compare, Qt.MouseButton.LeftButton)
    changes = shell.rulebooks.changes
    bytes_ = next(
        d for d in changes.differences if d.title == "Bytes" and d.kind in ("limit", "added")
    )
    assert plain(bytes_.after) == "at most 700 kB"
    act = next(b for b in changes.findChildren(QPushButton) if "Keep on the shelf" in b.text())
    qtbot.mouseClick(act, Qt.MouseButton.LeftButton)
    (path,) = [*own_folder().glob("windhover-kites-*.toml"), *own_folder().glob("*/rulebook.toml")]
    kept = read_rulebook(path)
    assert [b.title for b in kept.briefs] == [b.title for b in old.briefs]
    assert kept.briefs[0].template == old.briefs[0].template
    assert kept.briefs[0].bound(_bytes()).at_most == 700_000
    assert shell.session.library.shelf.named("windhover-kites").path == str(path)
    path.unlink()


def _bytes():
    from aptandum.core.brief.binding import BYTES

    return BYTES


def test_the_quotes_of_any_rulebook_are_seen_beside_its_clauses(qtbot, shell):
    shell.go("rulebooks")
    shell.rulebooks.show_brief("harbour-registry/seal-book")
    shell.rulebooks.show_view("words")
    view = shell.rulebooks.words
    assert not view.reads and "less than 1 MB" in view.quotes.toPlainText()
    card = next(c for c in view.clauses.cards if c.clause.quote == "less than 1 MB")
    qtbot.mouseClick(card, Qt.MouseButton.LeftButton)
    blue = theme.colour("blue_soft")
    shown = [s.cursor.selectedText() for s in view.quotes.extraSelections()
             if s.format.background().color() == blue]  # fmt: skip
    assert shown == ["less than 1 MB"]
    view.quotes.setFocus()
    cursor = view.quotes.textCursor()
    cursor.setPosition(view.quotes.toPlainText().index("printed by us") + 3)
    view.quotes.setTextCursor(cursor)
    assert [c.clause.measure for c in view.clauses.cards if c.lit] == ["ppi"]


def test_the_sizes_of_the_words_are_seen_on_the_first_screen(qtbot, shell):
    door = shell.start.words
    QTest.keyClicks(door.field, "413 x 531 px")
    qtbot.waitUntil(lambda: shell.start.sizes.isVisible(), timeout=PATIENCE)
    assert "413" in shell.start.sizes.said.text()
    QTest.keyClicks(door.field, ", long side 600 px")
    qtbot.waitUntil(lambda: "contradict" in door.state.text(), timeout=PATIENCE)
    door.field.setPlainText("JPEG")
    qtbot.waitUntil(lambda: not shell.start.sizes.isVisible(), timeout=PATIENCE)


def test_the_bodies_used_last_stand_first(qtbot, shell, tmp_path: Path):
    Image.fromarray(scene(900, 1200)).save(tmp_path / "pier.jpg")
    shell.session.photos.take([str(tmp_path / "pier.jpg")])
    shell.start.choose("keepers-hall/plaque")
    wait(qtbot, shell)
    shell.start.fill()
    assert shell.start.briefs.item(0).text() == "Keepers' Hall"


def test_what_nobody_answered_is_asked(view):
    (text,) = [view.worded.settled()]
    asked = [d.fields["ask"] for d in text.drafts if "ask" in d.fields]
    assert asked == ["Files of 60 kB are returned"]
    view.worded.take("Pier Office")
    held = view.session.docket.rulebooks["pier-office"]
    assert [b.title for b in parse_rulebook(held).briefs] == ["Pass", "Poster"]


def test_what_holds_for_every_brief_is_said_once(qtbot, shell):
    shell.session.worded.put(
        "JPEG, sRGB, at most 2 MB.\n\nPass\n\n- 600 x 800 px\n\nPoster\n\n- 2000 x 3000 px\n"
    )
    shell.show_words()
    view = shell.rulebooks.words
    qtbot.waitUntil(lambda: len(view.rows.rows) == 5, timeout=PATIENCE)
    shown = [plain(label.text()) for label in view.rows.findChildren(QLabel)]
    assert [one for one in shown if one in ("Every brief of the body", "Pass", "Poster")] == [
        "Every brief of the body", "Pass", "Poster",
    ]  # fmt: skip
    assert sum("Format" in one for one in shown) == 1


def test_a_lower_limit_in_bytes_that_is_kept_larger_says_why(qtbot, shell):
    shell.session.worded.put("JPEG of at least 500 KB.")
    shell.show_words()
    view = shell.rulebooks.words
    qtbot.waitUntil(lambda: len(view.rows.rows) == 2, timeout=PATIENCE)
    shown = " ".join(plain(label.text()) for label in view.rows.findChildren(QLabel))
    assert (
        "at least 512 kB" in shown and "500 KB may mean" in shown and "the larger is kept" in shown
    )


def test_no_two_readings_of_a_question_say_the_same_on_their_buttons(qtbot, view, shell):
    shell.session.worded.put("Photos for the log, as JPEG. Sleeves measure about 31 x 31 cm.\n")
    qtbot.waitUntil(lambda: bool(view.rows.rows) and view.worded.current, timeout=PATIENCE)
    row = next(r for r in view.rows.rows.values() if r.draft.readings)
    words = [b.text() for b in row.findChildren(QPushButton) if b.isVisibleTo(row)]
    assert len(words) == len(set(words)) == 4, words
    assert [plain(one) for one in words] == [
        *(f"{bound} 310 × 310 mm" for bound in ("exactly", "at least", "at most")), "Leave out"
    ]  # fmt: skip
    shell.session.worded.put("Two marks: the line art has 1200 dpi, JPEG. Photos have 300 dpi.\n")
    qtbot.waitUntil(lambda: view.worded.current and len(view.rows.rows) == 3, timeout=PATIENCE)
    row = next(r for r in view.rows.rows.values() if r.draft.certainty != "sure")
    assert not row.draft.readings
    yes = next(b for b in row.findChildren(QPushButton) if b.text() == "Yes")
    qtbot.mouseClick(yes, Qt.MouseButton.LeftButton)
    assert any(view.worded.is_answered(d) for d in view.worded.reading.drafts)
