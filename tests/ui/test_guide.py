"""The guide: its examples run as they stand, what it names is there, and it opens at what is in view."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QTextBrowser

from aptandum.core.judge.measures import REGISTRY
from aptandum.core.pages import reworded
from aptandum.core.rulebook.toml import parse_rulebook
from aptandum.ui import guide, theme
from aptandum.ui.help import HelpDialog, drawn
from samples import DEMO

ROOT = Path(__file__).resolve().parent.parent.parent
FOLDER = ROOT / "src/aptandum/data/guide"
LEFT = Qt.MouseButton.LeftButton


def blocks(name: str, kind: str) -> list[str]:
    return re.findall(rf"```{kind}\n(.*?)```", (FOLDER / f"{name}.md").read_text(), re.S)


def test_every_page_is_listed_and_lies_in_docs_as_well():
    assert {path.stem for path in FOLDER.glob("*.md")} == set(guide.PAGES)
    assert {path.name for path in (ROOT / "docs/guide").glob("*.md")} == {
        f"{n}.md" for n in guide.PAGES
    }
    assert set(guide.IN_VIEW.values()) <= set(guide.PAGES)


@pytest.mark.parametrize("name", guide.PAGES)
@pytest.mark.long
def test_the_calls_of_a_page_run_as_they_stand(tmp_path, name):
    shutil.copy(DEMO / "ines_marrow_0417.jpg", tmp_path / "photo.jpg")
    (tmp_path / "photos").mkdir()
    for one in ("quill_harrow_0119.jpg", "tobin_oar_0212.jpg"):
        shutil.copy(DEMO / one, tmp_path / "photos")
    (tmp_path / "listing.csv").write_text("item,picture file\nJug,photos/quill_harrow_0119.jpg\n")
    for rules in blocks(name, "toml"):
        (tmp_path / "rules.toml").write_text(rules)
        assert parse_rulebook(rules).briefs
    (tmp_path / "bin").mkdir()
    program = tmp_path / "bin/aptandum"
    program.write_text(f'#!/bin/sh\nexec "{sys.executable}" -m aptandum "$@"\n')
    program.chmod(0o755)
    env = {**os.environ, "PATH": f"{tmp_path / 'bin'}:{os.environ['PATH']}"}
    for call in blocks(name, "sh"):
        for line in call.strip().splitlines():
            done = subprocess.run(["sh", "-c", line], cwd=tmp_path, env=env, capture_output=True, text=True, check=False)  # fmt: skip
            assert done.returncode in (0, 1) and "Traceback" not in done.stderr, (line, done.stderr)
    made = {"first-file": ["finished"], "sellers": ["finished", "watched"]}
    for folder in made.get(name, ()):
        assert list((tmp_path / folder).glob("*.jpg")), folder


@pytest.mark.long
def test_what_the_guide_names_stands_in_the_window():
    sys.path.insert(0, str(ROOT / "tools"))
    try:
        from extract_words import gather
    finally:
        sys.path.pop(0)
    known = set()
    for message in gather():
        for one in message.id if isinstance(message.id, (tuple, list)) else [message.id]:
            known.add(one)
    wrong = []
    for name in guide.PAGES:
        text = re.sub(r"```.*?```", "", (FOLDER / f"{name}.md").read_text(), flags=re.S)
        for said in re.findall(r"(?<!\*)\*([^*\n]+)\*(?!\*)", text):
            if said not in known and said.lower() not in known and said not in guide.PAGES.values():
                wrong.append((name, said))
    assert not wrong, wrong


@pytest.mark.parametrize("language", ["de", "es", "fr"])
@pytest.mark.long
def test_a_translated_page_names_things_as_the_window_does(language):
    """Every paragraph has its words in the language, and what it names is called as it is there."""
    sys.path.insert(0, str(ROOT / "tools"))
    try:
        from extract_words import translation
    finally:
        sys.path.pop(0)
    words = translation(language)
    star = re.compile(r"(?<!\*)\*([^*\n]+)\*(?!\*)")

    def label(name: str) -> str:
        held = words.get(name)
        made = name if held is None else held.string
        return made if isinstance(made, str) else made[0]

    wrong = []

    def compared(paragraph: str) -> str:
        said = words.get(paragraph).string
        assert said, paragraph
        named = [label(one) for one in star.findall(paragraph)]
        here = star.findall(said)
        if [one for one in named if one not in here and words.get(one) is None and one != "Meets"]:
            wrong.append((paragraph, named, here))
        for code in re.findall(r"`[^`]+`", paragraph):
            if code not in said:
                wrong.append((paragraph, code))
        return said

    for name in guide.PAGES:
        page = (FOLDER / f"{name}.md").read_text()
        made = reworded(page, compared)
        assert made != page and re.findall(r"```.*?```", made, re.S) == re.findall(r"```.*?```", page, re.S)  # fmt: skip
    assert not wrong, wrong


def test_it_opens_at_what_is_in_view_and_each_page_is_read(qtbot, shell):
    for place, expected in guide.IN_VIEW.items():
        if place == "start":
            shell.show_start()
        else:
            shell.go(place)
            if place == "bench":
                continue  # with nothing on it the first screen is there
        qtbot.keyClick(shell, Qt.Key.Key_F1)
        dialog = shell._guide
        assert dialog.isVisible() and list(guide.PAGES)[dialog.list.currentRow()] == expected
        dialog.close()
    shell.show_guide()
    for row, title in enumerate(guide.PAGES.values()):
        shell._guide.list.setCurrentRow(row)
        said = shell._guide.text.toPlainText()
        assert said.splitlines()[0] in (title, "Tens and thousands of listing pictures", "What the signs mean, and what is not claimed")  # fmt: skip
        assert len(said) > 400 and "**" not in said and "```" not in said
    shell._guide.close()


def test_every_measure_has_a_drawing_of_its_own_in_the_colours_in_use(qtbot, shell):
    made = {}
    for name in REGISTRY:
        image = drawn(name, 2)
        assert (image.width(), image.height()) == (240, 160)
        image.setDevicePixelRatio(1)
        colours = {
            image.pixelColor(x, y).name() for x in range(0, 240, 2) for y in range(0, 160, 2)
        }
        assert len(colours) > 3, name
        made[image.bits().asstring(image.sizeInBytes())] = name
    assert len(made) == len(REGISTRY)
    light = drawn("size", 1)
    theme.use(theme.DIM)
    try:
        assert drawn("size", 1) != light
    finally:
        theme.use(theme.LIGHT)


def test_the_drawings_are_what_their_tool_draws():
    sys.path.insert(0, str(ROOT / "tools"))
    try:
        from make_measure_drawings import DRAWINGS
        from make_measure_drawings import drawn as as_svg
    finally:
        sys.path.pop(0)
    assert set(DRAWINGS) == set(REGISTRY)
    for name, parts in DRAWINGS.items():
        path = ROOT / f"src/aptandum/data/drawings/{name}.svg"
        assert path.read_text("utf-8") == as_svg(parts), name


def test_help_shows_the_drawings(qtbot, shell):
    dialog = HelpDialog(shell.all_actions, shell)
    qtbot.addWidget(dialog)
    with qtbot.waitExposed(dialog):
        dialog.show()
    page = dialog.findChild(QTextBrowser)
    html = dialog._page(shell.all_actions)
    assert all(f"measure:{name}" in html for name in REGISTRY)
    found = page.document().find("head_height")
    page.setTextCursor(found)
    page.ensureCursorVisible()
    shown = page.viewport().grab().toImage()
    at = page.cursorRect(found)
    left = [shown.pixelColor(x, at.center().y()).name() for x in range(0, at.left() - 60)]
    assert len(set(left)) > 2  # strokes beside the words
