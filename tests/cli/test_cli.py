from __future__ import annotations

import io
import json
import os
import subprocess
import sys
from pathlib import Path

import pytest
from PIL import Image
from test_rulebook import BROKEN, SOUND

from aptandum.cli.main import run
from samples import DEMO, jpeg, scene

KEYS = [
    "file",
    "format",
    "width",
    "height",
    "oriented_width",
    "oriented_height",
    "bits",
    "mode",
    "alpha",
    "icc",
    "colour_space",
    "orientation",
    "ppi_x",
    "ppi_y",
    "bytes",
    "frames",
    "progressive",
    "decodes",
    "error",
]
INES = str(DEMO / "ines_marrow_0417.jpg")
DECK = "vessary-ferries/deck-pass"


def call(capsys: pytest.CaptureFixture[str], *args: object) -> tuple[int, list[dict], str]:
    status = run([str(a) for a in args], lambda *a: 0)
    caught = capsys.readouterr()
    rows = [json.loads(line) for line in caught.out.splitlines() if line.startswith("{")]
    return status, rows, caught.out + caught.err


def test_facts_are_a_contract(capsys):
    status, rows, _ = call(capsys, "facts", INES, "--json")
    assert status == 0 and list(rows[0]) == ["version", *KEYS]
    row = rows[0]
    assert (row["width"], row["height"]) == (6000, 4000)
    assert (row["oriented_width"], row["oriented_height"], row["orientation"]) == (4000, 6000, 6)
    assert (row["format"], row["colour_space"], row["ppi_x"]) == ("jpeg", "adobe-rgb", 300)
    assert row["decodes"] is True and row["error"] is None
    _, rows, _ = call(capsys, "facts", INES, "--json", "--quick")
    assert rows[0]["decodes"] is None
    _, _, text = call(capsys, "facts", INES)
    assert text.count("\n") == 1 and all(f" {key}=" in text for key in KEYS[1:])


@pytest.mark.long
def test_one_bad_file_never_stops_the_others(capsys, tmp_path: Path):
    bad = tmp_path / "note.jpg"
    bad.write_text("no photo")
    odd = os.fsencode(tmp_path) + b"/\xff.jpg"
    with open(odd, "wb") as stream:
        stream.write(jpeg(scene(30, 20)))
    files = [bad, tmp_path, os.fsdecode(odd), INES]
    status, rows, _ = call(capsys, "facts", *files, "--json")
    assert status == 2 and [bool(r["error"]) for r in rows] == [True, False, False]
    status, rows, _ = call(capsys, "check", *files, "--brief", DECK, "--json")
    assert status == 2 and len(rows) == 3  # the folder gives the photos that are in it
    out = tmp_path / "out"
    status, rows, _ = call(capsys, "conform", *files, "--brief", DECK, "--out", out, "--json")
    assert status == 2 and [bool(r["written"]) for r in rows] == [False, True, True]


@pytest.mark.long
def test_check_says_what_is_missed(capsys):
    status, rows, _ = call(capsys, "check", INES, "--brief", DECK, "--json")
    assert status == 1 and rows[0]["ready"] is False
    by = {f["clause"]: f for f in rows[0]["findings"]}
    words = {"clause", "measure", "verdict", "strength", "measured", "limit", "says", "mend"}
    figures = {"value", "unit", "low", "high", "one_of", "none_of", "outside"}
    assert set(by["size"]) == words | figures
    assert by["size"]["verdict"] == "misses" and by["format"]["verdict"] == "meets"
    assert by["colour_space"]["mend"] == "Convert to sRGB"
    _, _, text = call(capsys, "check", INES, "--brief", DECK)
    assert "≠" in text and "meets" in text


def test_conform_writes_reads_back_and_never_overwrites(capsys, tmp_path: Path):
    before = Path(INES).read_bytes()
    args = ("conform", INES, "--brief", DECK, "--out", tmp_path, "--json")
    status, rows, _ = call(capsys, *args)
    assert status == 0 and rows[0]["ready"] is True
    path = Path(rows[0]["written"])
    with Image.open(path) as image:
        assert image.size == (630, 840)
    assert rows[0]["line"]["file"]["bytes"] == path.stat().st_size
    _, rows, _ = call(capsys, *args)
    assert rows[0]["written"].endswith("-2.jpg")
    assert Path(INES).read_bytes() == before


@pytest.mark.long
def test_settings_from_the_command_line(capsys, tmp_path: Path):
    window = "frame.window=1000, 800, 1500, 2000"
    status, rows, _ = call(
        capsys,
        "conform",
        INES,
        "--brief",
        DECK,
        "--out",
        tmp_path,
        "--json",
        "--set",
        window,
        "--set",
        "file.quality=20",
    )
    assert rows[0]["line"]["frame"]["window"] == pytest.approx([1000, 800, 1500, 2000])
    assert rows[0]["line"]["file"]["quality"] == 20
    assert status == 1  # below the smallest number of bytes
    for wrong in ("file.quality=0", "nonsense=1", "frame.window"):
        status, _, text = call(
            capsys, "conform", INES, "--brief", DECK, "--out", tmp_path, "--set", wrong
        )
        assert status == 2 and "Traceback" not in text and text.strip()


def test_wrong_calls_are_answered_with_a_sentence(capsys, tmp_path: Path):
    for args in (
        ["check", INES, "--brief", "nobody/x"],
        ["check", INES],
        ["frobnicate"],
        ["check", INES, "--brief", DECK, "--rulebook", str(tmp_path / "no.toml")],
        ["conform", INES, "--brief", DECK, "--out", INES],
    ):
        status, _, text = call(capsys, *args)
        assert status == 2 and text.strip() and "Traceback" not in text


def test_rulebooks_on_the_command_line(capsys, tmp_path: Path):
    status, rows, _ = call(capsys, "rulebook", "list", "--json")
    assert status == 0 and DECK in [r["brief"] for r in rows]
    bad = tmp_path / "bad.toml"
    bad.write_text('format = 1\n[body]\nid = "a"\nname = "A"\n[[brief]]\nid = "b"\ntitle = 3\n')
    status, _, text = call(capsys, "rulebook", "lint", bad)
    assert status == 2 and "bad.toml:7" in text
    good = tmp_path / "good.toml"
    good.write_text(
        'format = 1\n[body]\nid = "pier"\nname = "Pier"\n[[brief]]\nid = "b"\ntitle = "B"\n'
        '[[brief.clause]]\nmeasure = "size"\nexactly = "30 x 20"\n'
    )
    assert call(capsys, "rulebook", "lint", good)[0] == 0
    status, rows, _ = call(
        capsys, "rulebook", "sizes", "pier/b", "--for", INES, "--rulebook", good, "--json"
    )
    assert status == 0 and rows[0]["target"] == [30, 20]


def test_opening_passes_on_what_was_asked(tmp_path: Path):
    asked = []

    def opener(*args: object) -> int:
        asked.append(args)
        return 0

    assert run([], opener) == run(["demo"], opener) == 0
    book = tmp_path / "r.toml"
    book.write_text(SOUND)
    run(["open", "a.jpg", "--brief", DECK, "--rulebook", str(book)], opener)
    run([INES], opener)
    assert asked[0] == ((), "", False, ()) and asked[1][2] is True
    assert asked[2] == (["a.jpg"], DECK, False, [str(book)])
    assert run(["open", "a.jpg", "--brief", "no-body/none"], opener) == 2 and len(asked) == 4
    assert asked[3][0] == [INES]


def test_as_a_process_with_a_narrow_terminal_and_plain_ascii():
    env = {**os.environ, "PYTHONIOENCODING": "ascii", "COLUMNS": "40"}
    done = subprocess.run(
        [sys.executable, "-m", "aptandum", "facts", INES, "/nowhere/é.jpg"],
        env=env,
        capture_output=True,
    )
    assert done.returncode == 2 and b"Traceback" not in done.stderr
    assert io.BytesIO(done.stdout).read().isascii()


@pytest.mark.parametrize(("old", "new", "line", "where"), BROKEN)
def test_lint_names_file_line_and_cause(capsys, tmp_path, old, new, line, where):
    path = tmp_path / "broken.toml"
    path.write_text(SOUND.replace(old, new, 1))
    status, _, out = call(capsys, "rulebook", "lint", str(path))
    assert status == 2
    assert f"{path}:{line}: " in out and "found " in out and ", expected " in out
    _, records, _ = call(capsys, "rulebook", "lint", str(path), "--json")
    assert any(r["line"] == line and r["where"].endswith(where) for r in records)


def test_lint_names_clauses_that_contradict_one_another(capsys, tmp_path):
    path = tmp_path / "against.toml"
    path.write_text(
        SOUND.replace(
            "  [[brief.clause]]\n  ask",
            '  [[brief.clause]]\n  measure = "height"\n'
            "  at_least = 900\n\n  [[brief.clause]]\n  ask",
        )
    )
    status, _, out = call(capsys, "rulebook", "lint", str(path))
    assert status == 1 and "contradict" in out and str(path) in out


def test_sizes_for_a_photo_that_is_too_small(capsys):
    jug = str(DEMO / "blue_jug_03.jpg")
    name = "quayside-exchange/item-picture"
    status, (record,), _ = call(capsys, "rulebook", "sizes", name, "--for", jug, "--json")
    assert status == 0 and record["possible"] is False and record["empty"] is False
    assert record["smallest"] == [1440, 1152] and record["largest"] == [4000, 4000]
    assert record["cut"] == [1200, 960] and "160 more pixels" in record["changes"][0]


def test_two_editions_compared_from_a_shell(capsys):
    old = str(DEMO / "quayside-exchange-10.toml")
    new = str(DEMO.parent / "rulebooks/quayside-exchange.toml")
    status, rows, _ = call(capsys, "rulebook", "compare", old, new, "--json")
    kinds = {row["kind"] for row in rows}
    assert status == 0 and kinds == {"limit", "wording", "strength", "removed", "added"}


def test_a_file_named_as_the_brief_asks(capsys, tmp_path):
    """The footer strip takes small letters, digits and underscores only."""
    photo = tmp_path / "Sea Wall (Évening).jpg"
    photo.write_bytes(jpeg(scene(1400, 400)))
    status, (record,), _ = call(
        capsys,
        "conform",
        str(photo),
        "--brief",
        "quayside-exchange/footer-strip",
        "--out",
        str(tmp_path / "out"),
        "--json",
    )
    assert status == 0 and Path(record["written"]).name == "sea_wall_vening_footer_strip.jpg"
    verdicts = {f["clause"]: f["verdict"] for f in record["findings"]}
    assert verdicts["name_pattern"] == verdicts["name_length"] == "meets"


def test_finishes_are_set_by_name_and_told_in_the_line(capsys, tmp_path):
    """The contract of ``--set finish.keyline.width=2``, read back by Pillow alone."""
    quay = str(DEMO / "lantern_quay_dusk.jpg")
    status, rows, _ = call(
        capsys,
        "conform",
        quay,
        "--brief",
        "orrin-moor/night-round",
        "--out",
        tmp_path,
        "--json",
        "--set",
        "finish.keyline.width=2",
        "--set",
        "finish.keyline.colour=#FF0000",
    )
    assert status == 0 and rows[0]["ready"]
    assert rows[0]["line"]["finish"] == {"ground": None, "on": ["keyline"]}
    assert rows[0]["line"]["record"][-1].startswith("Keyline: 2 px of #FF0000")
    width = next(f for f in rows[0]["findings"] if f["clause"] == "keyline_width")
    assert width["verdict"] == "meets" and width["measured"].startswith("2")
    with Image.open(rows[0]["written"]) as made:
        red, inner = made.convert("RGB").getpixel((800, 1)), made.convert("RGB").getpixel((800, 4))
    assert red[0] > 200 and red[1] < 60 and not (inner[0] > 200 and inner[1] < 60)
    status, _, text = call(
        capsys,
        "conform",
        quay,
        "--brief",
        "orrin-moor/night-round",
        "--out",
        tmp_path,
        "--set",
        "finish.keyline.width=wide",
    )
    assert status == 2 and "finish.keyline.width cannot be" in text


@pytest.mark.long
def test_what_a_brief_does_not_permit_is_one_finding(capsys, tmp_path):
    tobin = str(DEMO / "tobin_oar_0212.jpg")
    status, rows, _ = call(
        capsys,
        "conform",
        tobin,
        "--brief",
        DECK,
        "--out",
        tmp_path,
        "--json",
        "--set",
        "finish.backdrop.fill=#E8EAEC",
    )
    assert status == 1 and not rows[0]["ready"]
    missed = [f for f in rows[0]["findings"] if f["verdict"] == "misses"]
    assert [f["clause"] for f in missed] == ["alterations"]
    assert "backdrop" in missed[0]["says"] and missed[0]["mend"].startswith("Take back")
    status, rows, _ = call(capsys, "conform", tobin, "--brief", DECK, "--out", tmp_path, "--json")
    assert status == 0 and rows[0]["ready"]


@pytest.mark.long
def test_a_photo_s_own_pixels_are_measured_as_they_are(capsys, tmp_path):
    book = tmp_path / "wall.toml"
    book.write_text(
        'format = 1\n[body]\nid = "wall"\nname = "Wall"\n[[brief]]\nid = "plain"\ntitle = "Plain"\n'
        '[[brief.clause]]\nmeasure = "backdrop_plainness"\nat_most = 14\n'
        '[[brief.clause]]\nmeasure = "backdrop_lightness"\nat_least = 60\n'
    )
    for name, plain in (("tobin_oar_0212.jpg", True), ("quill_harrow_0119.jpg", False)):
        status, rows, _ = call(
            capsys, "check", DEMO / name, "--brief", "wall/plain", "--rulebook", book, "--json"
        )
        verdicts = {f["clause"]: f["verdict"] for f in rows[0]["findings"]}
        assert (status == 0) == plain and (verdicts["backdrop_plainness"] == "meets") == plain
