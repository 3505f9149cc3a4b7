"""What screen readers are told, read over AT-SPI by a process that is one, in a real window."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

WALK = Path(__file__).parent / "spoken_walk.py"
HAS = all(shutil.which(name) for name in ("dbus-run-session", "xvfb-run"))
HAS = HAS and Path("/usr/libexec/at-spi-bus-launcher").exists()

pytestmark = [
    pytest.mark.long,
    pytest.mark.skipif(not HAS, reason="no virtual screen, or no bus for screen readers"),
]


@pytest.fixture(scope="module")
def heard(tmp_path_factory) -> list[dict]:
    """What was read in each place, in the order in which they were walked."""
    home = tmp_path_factory.mktemp("spoken")
    home.chmod(0o700)
    env = {**os.environ, "QT_QPA_PLATFORM": "xcb", "HOME": str(home), "XDG_RUNTIME_DIR": str(home)}
    env |= {f"XDG_{kind}_HOME": str(home) for kind in ("STATE", "DATA", "CONFIG", "CACHE")}
    done = subprocess.run(
        ["xvfb-run", "-a", "-s", "-screen 0 1400x900x24", "dbus-run-session", "--",
         sys.executable, str(WALK)],
        capture_output=True,
        text=True,
        env=env,
        timeout=600,
        check=False,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr[-3000:]
    return [json.loads(line) for line in done.stdout.splitlines() if line.startswith("{")]


def test_every_place_is_read_and_every_text_of_it_is_there(heard):
    places = {place["where"] for place in heard}
    assert {"first screen", "board", "rulebooks read", "rulebooks write", "desk", "audit"} <= places
    assert "while places changed" in places  # and the window lived through that
    for place in heard:
        assert len(place["met"]) > 30, place["where"]


def test_every_clause_is_read_with_its_verdict_as_what_can_be_pressed(heard):
    benches = [place for place in heard if "clauses" in place]
    assert len(benches) > 8
    for place in benches:
        pressed = {one["name"] for one in place["met"] if one["role"] == "push button"}
        assert place["clauses"]
        for title, verdict, says in place["clauses"]:
            assert f"{title}: {verdict}. {says}" in pressed, (place["where"], title)


def test_what_takes_the_keys_has_a_name(heard):
    nameless = [
        (place["where"], one["role"])
        for place in heard
        for one in place["met"]
        if one["focusable"] and not one["name"]
    ]
    assert not nameless, nameless[:10]


def test_what_is_only_painted_is_told_in_words(heard):
    sheets = [
        one
        for place in heard
        if "clauses" in place
        for one in place["met"]
        if (one["name"] or "").startswith("Sheet:")
    ]
    assert sheets
    assert all("The frame takes" in one["description"] for one in sheets)
    board = next(place for place in heard if place["where"] == "board")
    grid = next(one for one in board["met"] if (one["name"] or "").startswith("Board:"))
    assert "Deck pass portrait × ines_marrow_0417.jpg: " in grid["description"]


def pressed(heard, where: str) -> list[str]:
    """What can be pressed in a place, by name."""
    return [
        one["name"] or ""
        for place in heard
        if place["where"].startswith(where)
        for one in place["met"]
        if one["role"] in ("push button", "toggle button", "check box")
    ]


def test_every_cell_photo_clause_and_handle_is_found_by_itself(heard):
    cells = [name for name in pressed(heard, "board") if " × " in name]
    assert any(name.startswith("Deck pass portrait × ines_marrow_0417.jpg: ") for name in cells)
    assert len(set(cells)) > 10
    handles = [name for name in pressed(heard, "bench") if "side of the frame: " in name]
    assert len(handles) >= 4
    assert any(name.lower().startswith("chin: ") for name in pressed(heard, "bench"))
    rules = pressed(heard, "rulebooks")
    assert any("ines_marrow_0417.jpg: 4" in name for name in rules), rules  # on the chart
    fillers = [
        one
        for place in heard
        for one in place["met"]
        if one["role"] == "filler" and one["name"] and one["focusable"]
    ]
    assert not [one["name"] for one in fillers if "%" in one["name"] or "px" in one["name"]]
