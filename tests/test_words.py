"""Every word passes through one place: none is bare, and none is glued from pieces.

The pseudo language puts each text in brackets; what a person meets is walked in processes of its own.
"""

from __future__ import annotations

import ast
import json
import os
import re
import subprocess
import sys
import tomllib
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from aptandum.core import words
from aptandum.core.arithmetic import compute
from aptandum.core.figures import read_number, show_number, show_size
from samples import DEMO, THOROUGH, jpeg, scene

SRC = Path(words.__file__).resolve().parents[1]
OPEN, CLOSE = words.OPEN, words.CLOSE

PLAIN = re.compile(
    r"(ΔE|Ctrl|Alt|Shift|Return|PgDown|PgUp|F\d+|JPEG|PNG|TIFF|WebP|AVIF|GIF|BMP|LZW|sRGB|Adobe RGB"
    r"|Display P3|ProPhoto|SHA-256|Aptandum|Pillow|Compatible with Adobe RGB \(1998\)|HTML|PDF|CSV"
    r"|https?://\S+|\S*[\\/]\S*|\S+\.(?:jpg|png|docket|toml|csv|html|icc)\b)"
)
"""Names of keys, formats, standards and files: they are no words."""


def names_of(value: object) -> Iterator[str]:
    """Every text of a rulebook or docket: the words of others, which are not translated."""
    if isinstance(value, str):
        yield from value.split("\n")
    elif isinstance(value, dict):
        for key, held in value.items():
            yield key
            yield from names_of(held)
    elif isinstance(value, list):
        for held in value:
            yield from names_of(held)


@pytest.fixture(scope="module")
def others() -> list[str]:
    found = {
        "Tobin Oar",
        "Tobin Oar, Vessary",
        "Quill Harrow",
        "Quill Harrow, Vessary",
        "Pier Office",
        "pier-office",
        "notice",
    }
    for path in (SRC / "data").rglob("*.toml"):
        found |= set(names_of(tomllib.loads(path.read_text("utf-8"))))
    docket = json.loads((DEMO / "vessary.docket").read_text("utf-8"))
    found |= {docket["title"]} | {Path(p["path"]).stem for p in docket["photos"]}
    for line in (DEMO / "quayside_listing.csv").read_text("utf-8").split("\n"):
        found |= {cell.strip('"') for cell in re.split(r',(?=(?:[^"]*"[^"]*")*[^"]*$)', line)}
    return sorted((name for name in found if len(name) > 1), key=len, reverse=True)


def pieces(text: str) -> list[tuple[int, str]]:
    """For each line: how many bracketed texts stand beside one another in it, and what stands
    outside of them. A bracketed text may have lines of its own."""
    found: list[tuple[int, str]] = []
    depth = units = 0
    rest = ""
    for letter in text + "\n":
        if letter == OPEN:
            units += depth == 0
            depth += 1
        elif letter == CLOSE:
            depth -= 1
        elif letter == "\n" and depth == 0:
            found.append((units, rest))
            units, rest = 0, ""
        elif depth == 0:
            rest += letter
    return found


def wrong(text: str, others: list[str]) -> str:
    """What is wrong with a text that a person meets; empty where nothing is."""
    text = re.sub(r"<[^>]*>", "", text).replace("&", "")
    cut = re.match(r"(.*)…(.*)$", text)
    if (
        cut
        and OPEN not in text
        and any(name.startswith(cut.group(1)) or cut.group(1) in name for name in others)
    ):
        return ""  # somebody else's words, cut short to their room
    if text.count(OPEN) != text.count(CLOSE):
        return ""  # cut short to its room; it stands whole in its tool tip or name
    for units, rest in pieces(text):
        rest = re.sub(r"“[^”]*”", "", rest)
        for name in others:  # sentences first: a key or a format may be named within one
            rest = rest.replace(name, "") if len(name) > 12 else rest
        rest = PLAIN.sub("", rest)
        for name in others:
            rest = rest.replace(name, "")
        if cut and cut.group(2) == "":
            rest = rest.rstrip("… ·")
        if re.search(r"[^\W\d_]{2,}", rest):
            return "bare"
        if units > 1 or (units == 1 and rest.strip()):
            return "glued"
    return ""


@pytest.mark.long
def test_no_text_of_the_window_is_bare_or_glued(tmp_path, others):
    walk = [sys.executable, str(Path(__file__).with_name("pseudo_walk.py")), str(tmp_path)]
    env = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run(
        walk if THOROUGH else [*walk, "few"],
        capture_output=True,
        text=True,
        env=env,
        timeout=600,
        check=False,
    )
    assert done.returncode == 0, done.stderr[-2000:]
    met = [json.loads(line) for line in done.stdout.splitlines()]
    places = {one["where"] for one in met}
    assert len(met) > 1500 and {"first screen", "board", "desk", "audit", "messages"} <= places
    found = [
        (why, one["text"], one["how"], one["where"])
        for one in met
        if (why := wrong(one["text"], others))
    ]
    assert not found, "\n".join(map(str, found[:40]))


CALLS = [
    ["--help"],
    ["conform", "--help"],
    ["hand-over", "--help"],
    ["check", "PHOTO", "--brief", "vessary-ferries/deck-pass"],
    ["check", "PHOTO", "--brief", "quayside-exchange/item-picture", "--quick"],
    ["check", "nowhere.jpg", "--brief", "vessary-ferries/deck-pass"],
    ["conform", "PHOTO", "--brief", "quayside-exchange/item-picture", "--out", "OUT"],
    ["conform", "PHOTO", "--brief", "nobody/nothing", "--out", "OUT"],
    ["conform", "PHOTO", "--brief", "vessary-ferries/deck-pass", "--out", "OUT", "--set", "a=b"],
    ["audit", "FOLDER", "--brief", "quayside-exchange/item-picture"],
    ["rulebook", "list"],
    ["rulebook", "lint", "PHOTO"],
    ["rulebook", "sizes", "orrin-moor/print-archive", "--for", "PHOTO"],
    ["hand-over", "PHOTO", "--brief", "vessary-ferries/deck-pass"],
]


def named(args: list[str], home: Path) -> list[str]:
    """A call with its files' own paths."""
    paths = {"PHOTO": home / "in" / "mole.jpg", "FOLDER": home / "in", "OUT": home / "out"}
    return [str(paths.get(word, word)) for word in args]


def call(args: list[str], home: Path, **env: str) -> subprocess.CompletedProcess[str]:
    full = {**os.environ, "COLUMNS": "400", "XDG_STATE_HOME": str(home), **env}
    full |= {"XDG_DATA_HOME": str(home)}
    return subprocess.run(
        [sys.executable, "-m", "aptandum", *named(args, home)],
        capture_output=True,
        text=True,
        env=full,
        timeout=300,
        check=False,
    )


@pytest.fixture
def home(tmp_path) -> Path:
    (tmp_path / "in").mkdir()
    (tmp_path / "in" / "mole.jpg").write_bytes(jpeg(scene(900, 700)))
    return tmp_path


CALLED = """
import contextlib, io, json, sys
from aptandum.cli.main import run
for args in json.loads(sys.stdin.read()):
    said = io.StringIO()
    with contextlib.redirect_stdout(said), contextlib.redirect_stderr(said):
        with contextlib.suppress(SystemExit):
            run(args, lambda *_: 0)
    print(json.dumps(said.getvalue()))
"""


@pytest.fixture(scope="session")
def called(tmp_path_factory) -> dict[str, str]:
    """What each call says in the pseudo language; one process makes them all."""
    home = tmp_path_factory.mktemp("calls")
    (home / "in").mkdir()
    (home / "in" / "mole.jpg").write_bytes(jpeg(scene(900, 700)))
    env = {**os.environ, "COLUMNS": "400", "APTANDUM_LANGUAGE": "pseudo"}
    env |= {"XDG_STATE_HOME": str(home), "XDG_DATA_HOME": str(home)}
    done = subprocess.run(
        [sys.executable, "-c", CALLED],
        input=json.dumps([named(args, home) for args in CALLS]),
        capture_output=True,
        text=True,
        env=env,
        timeout=300,
        check=True,
    )
    said = [json.loads(line) for line in done.stdout.splitlines()]
    return {" ".join(args): text for args, text in zip(CALLS, said, strict=True)}


@pytest.mark.parametrize("args", CALLS, ids=lambda args: " ".join(args[:2]))
@pytest.mark.long
def test_no_text_of_the_command_line_is_bare(called, others, args):
    text = called[" ".join(args)]
    assert OPEN in text
    rest = "\n".join(rest for _units, rest in pieces(re.sub(r"\x1b\[[\d;]*m", "", text)))
    rest = re.sub(r"\bwatch\b", "", rest)  # a name that holds one of the others
    for name in others:
        rest = rest.replace(name, "")
    known = r"(^\s*aptandum [\w-]* ?[\[{]|<[^>]*>|--help)"  # how it is called
    rest = "\n".join(line for line in rest.split("\n") if not re.search(known, line))
    rest = re.sub(r"(?<!\w)--?[\w-]+|\b[A-Z][A-Z_/|.…]*(?:\.csv)?…?\b", "", rest)
    rest = re.sub(r"(?m)^\W*(Options|Commands|Arguments)\W*$", "", rest)
    rest = re.sub(
        r"\b(required|default|range|facts|check|conform|report|rulebook|audit|watch|handed"
        r"|desk|hand-over)\b",
        "",
        PLAIN.sub("", rest),
    )
    bare = [line for line in rest.split("\n") if re.search(r"[^\W\d_]{3,}", line)]
    assert not bare, bare[:10]


@pytest.mark.long
def test_machine_output_does_not_depend_on_the_language(home):
    args = ["check", "PHOTO", "--brief", "orrin-moor/print-archive", "--json"]
    plain = call(args, home, LC_ALL="C")
    assert call(args, home, APTANDUM_LANGUAGE="pseudo").stdout == plain.stdout
    assert json.loads(plain.stdout)["findings"]


@pytest.mark.long
def test_templates_are_whole_sentences_and_can_be_extracted():
    """Each call names its template outright; nothing is put together before it is translated."""
    found = []
    for path in SRC.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if not isinstance(node, ast.Call) or not isinstance(node.func, ast.Name):
                continue
            if node.func.id in ("say", "t", "say_n", "t_n") and node.args:
                ways = 2 if node.func.id.endswith("_n") else 1
                for arg in node.args[:ways]:
                    if not (isinstance(arg, ast.Constant) and isinstance(arg.value, str)):
                        found.append(f"{path.name}:{node.lineno}: {ast.unparse(arg)[:60]}")
    assert not found, found


@pytest.mark.parametrize(
    "typed, is_",
    [
        ("1 280", "1280"),
        ("1\u00a0280", "1280"),
        ("1,5", "1.5"),
        ("1.5", "1.5"),
        ("1.280,5", "1280.5"),
        ("12,345.6", "12345.6"),
        ("1\u202f280 x 800", "1280 x 800"),
        ("0,5mm", "0.5mm"),
        ("1/3", "1/3"),
        ("2 000 000", "2000000"),
        ("12 34", "12 34"),
        ("1’280", "1280"),
        ("1,280,000", "1280000"),
        (",5", ".5"),
    ],
)
def test_numbers_are_understood_as_people_type_them(typed, is_):
    assert read_number(typed) == is_


def test_one_sign_before_three_digits_is_read_as_the_system_does():
    assert (compute("1,280"), compute("1.280")) == (1280, 1.28)
    back = words.use_customs(words.Customs(",", "%x", "."))
    try:
        assert (compute("1,280"), compute("1.280"), compute("1 280,5")) == (1.28, 1280, 1280.5)
        assert (
            show_number(1.5) == "1,5"
            and show_size((1280, 960)) == "1\u00a0280\u00a0×\u00a0960\u00a0px"
        )
        with words.neutrally():
            assert show_number(1.5) == "1.5"
    finally:
        back()


@given(st.floats(0.001, 10**7).map(lambda v: round(v, 3)), st.sampled_from([",", "."]))
def test_what_is_shown_can_be_typed(value, decimal):
    other = "." if decimal == "," else ","
    back = words.use_customs(words.Customs(decimal, "%x", other))
    try:
        whole, _, rest = f"{value:.3f}".rstrip("0").partition(".")
        shown = words.grouped(int(whole)) + (decimal + rest if len(rest) not in (0, 3) else "")
        expected = float(whole + ("." + rest if len(rest) not in (0, 3) else ""))
        assert compute(shown) == pytest.approx(expected)
    finally:
        back()


def test_a_translation_with_its_plurals_is_used(tmp_path):
    """A catalogue of gettext, as Babel compiles it."""
    from babel.messages.catalog import Catalog
    from babel.messages.mofile import write_mo

    folder = SRC / "data" / "locale" / "eo" / "LC_MESSAGES"
    catalogue = Catalog("eo")
    catalogue.add("Open photos…", "Malfermi fotojn…")
    catalogue.add(("{n} photo", "{n} photos"), ("{n} foto", "{n} fotoj"))
    made = tmp_path / "locale" / "eo" / "LC_MESSAGES"
    made.mkdir(parents=True)
    with open(made / "aptandum.mo", "wb") as stream:
        write_mo(stream, catalogue)
    assert not folder.exists()
    code = (
        "import gettext, sys; from aptandum.core import words;"
        "words._translation = gettext.translation('aptandum', sys.argv[1], ['eo']);"
        "print(words.say('Open photos…'), words.say_n('{n} photo', '{n} photos', 1),"
        " words.say_n('{n} photo', '{n} photos', 1200), words.say('Not known'))"
    )
    out = subprocess.run(
        [sys.executable, "-c", code, str(tmp_path / "locale")],
        capture_output=True,
        text=True,
        check=True,
    ).stdout
    assert out.strip() == "Malfermi fotojn… 1 foto 1\u00a0200 fotoj Not known"


def test_times_are_written_as_the_system_writes_them():
    moment = datetime(2026, 11, 28, 9, 5)
    assert words.show_moment(moment) == "2026-11-28 09:05"
    back = words.use_customs(words.Customs(",", "%d.%m.%Y", "."))
    try:
        assert words.show_moment(moment) == "28.11.2026 09:05"
    finally:
        back()
