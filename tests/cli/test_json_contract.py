"""What ``--json`` prints: every command's lines against the published schema, and its figures against the truth."""

from __future__ import annotations

import json
import math
import subprocess
import sys
from pathlib import Path

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aptandum.core.brief.limit import Limit
from aptandum.core.judge.in_numbers import UNITS, in_numbers
from aptandum.core.judge.measures import REGISTRY
from samples import DEMO

SCHEMA = json.loads((Path(__file__).parents[2] / "docs/json.schema.json").read_text("utf-8"))
BOOKS = DEMO.parent / "rulebooks"


def valid(part: str, line: dict[str, object]) -> None:
    schema = {"$ref": f"#/$defs/{part}", "$defs": SCHEMA["$defs"]}
    jsonschema.Draft202012Validator(schema).validate(line)


def call(*args: object, given_: bytes = b"") -> subprocess.CompletedProcess[bytes]:
    words = [sys.executable, "-m", "aptandum", *map(str, args)]
    return subprocess.run(words, input=given_, capture_output=True, check=False)


def lines(done: subprocess.CompletedProcess[bytes]) -> list[dict[str, object]]:
    assert b"Traceback" not in done.stderr
    return [json.loads(line) for line in done.stdout.splitlines()]


def test_the_schema_is_sound():
    jsonschema.Draft202012Validator.check_schema(SCHEMA)


BAD = b"no picture at all"
PASS, ITEM = "vessary-ferries/deck-pass", "quayside-exchange/item-picture"


@pytest.mark.parametrize(
    ("part", "words", "status", "at_least"),
    [
        ("facts", ["facts", "--json", DEMO, "{bad}"], 2, 9),
        ("facts", ["facts", "--json", "--quick", DEMO / "*.jpg"], 0, 8),
        ("check", ["check", "--json", "--brief", PASS, DEMO / "ines_marrow_0417.jpg", "{bad}"], 2, 2),
        ("check", ["check", "--json", "--quick", "--brief", ITEM, DEMO], 1, 8),
        ("conform", ["conform", "--json", "--brief", ITEM, "--out", "{out}", DEMO / "blue_jug_03.jpg", "{bad}"], 2, 2),
        ("audit", ["audit", "--json", "--quick", "--brief", ITEM, DEMO / "q*.jpg", DEMO], 1, 8),
        ("watch", ["watch", "--json", "--once", "--settle", "0", "--every", "0.05", "--patience", "0", "--brief", PASS,
                   "{photos}", "--out", "{out}"], 1, 2),
        ("rulebook-list", ["rulebook", "list", "--json"], 0, 15),
        ("rulebook-lint", ["rulebook", "lint", "--json", DEMO / "keepers-hall-draft.toml"], 1, 2),
        ("rulebook-lint", ["rulebook", "lint", "--json", "{bad}"], 2, 1),
        ("rulebook-compare", ["rulebook", "compare", "--json", BOOKS / "quayside-exchange.toml",
                              DEMO / "quayside-exchange-10.toml"], 0, 2),
        ("rulebook-sizes", ["rulebook", "sizes", "--json", PASS], 0, 1),
        ("rulebook-sizes", ["rulebook", "sizes", "--json", "--for", DEMO / "blue_jug_03.jpg", ITEM], 0, 1),
        ("rulebook-read", ["rulebook", "read", "--json", "{words}"], None, 3),
        ("hand-over", ["hand-over", "--json", "--brief", ITEM, DEMO / "quill_harrow_0119.jpg"], None, 1),
        ("hand-over", ["handed", "--json"], 0, 0),
    ],
)  # fmt: skip
@pytest.mark.long
def test_every_line_of_every_command_is_as_published(tmp_path, part, words, status, at_least):
    (tmp_path / "bad.jpg").write_bytes(BAD)
    (tmp_path / "words.txt").write_text(
        "413 x 531 px, jpeg, at most 200 kB. Opened at nine. About 3 cm high."
    )
    photos = tmp_path / "photos"
    photos.mkdir()
    (photos / "bad.jpg").write_bytes(BAD)
    (photos / "ines.jpg").write_bytes((DEMO / "ines_marrow_0417.jpg").read_bytes())
    held = {
        "photos": photos,
        "bad": tmp_path / "bad.jpg",
        "out": tmp_path / "made",
        "words": tmp_path / "words.txt",
    }
    done = call(*(str(word).format(**held) for word in words))
    assert status is None or done.returncode == status, done.stderr
    every = lines(done)
    assert len(every) >= at_least
    for line in every:
        valid(part, line)
        assert "\u00a0" not in json.dumps(
            {k: v for k, v in line.items() if k != "file"}, ensure_ascii=False
        )


@pytest.mark.long
def test_a_finding_s_figures_are_those_of_its_words():
    (line,) = lines(call("check", "--json", "--brief", PASS, DEMO / "ines_marrow_0417.jpg"))
    found = {one["measure"]: one for one in line["findings"]}
    size, weight = found["size"], found["file_bytes"]
    assert (size["value"], size["low"], size["outside"], size["unit"]) == (
        [4000, 6000],
        [630, 840],
        [3370, 5160],
        "px",
    )
    assert weight["value"] == (DEMO / "ines_marrow_0417.jpg").stat().st_size
    assert weight["outside"] == weight["value"] - weight["high"] == weight["value"] - 250_000
    assert found["format"]["value"] == "jpeg" and found["format"]["unit"] is None
    assert found["head_tilt"]["outside"] == 0 and found["head_tilt"]["unit"] == "deg"


def test_every_kind_that_is_a_number_has_a_unit():
    for measure in REGISTRY.values():
        words = measure.kind.choices or (not measure.kind.ordered and not measure.kind.sided)
        assert words or measure.kind.name in UNITS or measure.kind.name in ("day", "colour"), (
            measure.name
        )


@given(
    st.floats(-1e6, 1e6),
    st.one_of(st.none(), st.floats(-1e6, 1e6)),
    st.one_of(st.none(), st.floats(-1e6, 1e6)),
)
def test_outside_is_zero_exactly_within_the_limits(value, low, high):
    if low is not None and high is not None and low > high:
        low, high = high, low
    limit = Limit((), at_least=low, at_most=high)
    made = in_numbers("number", value, limit, limit.allows(value))
    assert (made["outside"] == 0) or not limit.allows(value)
    if not limit.allows(value):
        below = low is not None and value < low
        assert made["outside"] <= 0 if below else made["outside"] >= 0
        assert math.isclose(made["outside"], value - (low if below else high), abs_tol=1e-5)


# --- input and output ------------------------------------------------------------------------------


@pytest.mark.long
def test_one_file_goes_through_from_standard_input_to_standard_output(tmp_path):
    data = (DEMO / "quill_harrow_0119.jpg").read_bytes()
    done = call("conform", "--brief", ITEM, "--out", "-", "-", given_=data)
    assert done.stdout[:3] == b"\xff\xd8\xff" and b"Longest side" in done.stderr
    check = call("check", "--json", "--brief", ITEM, "-", given_=done.stdout)
    (line,) = lines(check)
    assert line["file"] == "-" and not [f for f in line["findings"] if f["verdict"] == "misses"]
    assert done.returncode == check.returncode == 0
    several = call("conform", "--brief", ITEM, "--out", "-", DEMO)
    assert (
        several.returncode == 2
        and several.stdout == b""
        and b"one file of one photo" in several.stderr
    )


@pytest.mark.long
def test_a_table_and_a_report_go_to_standard_output(tmp_path):
    table = call("audit", "--quick", "--brief", ITEM, "--out", "-", DEMO)
    assert table.stdout.startswith(b"item,picture file,") and b"in danger" in table.stderr
    report = call(
        "conform",
        "--brief",
        ITEM,
        "--out",
        tmp_path,
        "--report",
        "-",
        DEMO / "quill_harrow_0119.jpg",
    )
    assert report.stdout.lower().startswith(b"<!doctype html>")


@pytest.mark.long
def test_what_is_being_done_is_told_beside_where_that_is_asked():
    done = call("check", "--verbose", "--json", "--brief", ITEM, DEMO / "quill_harrow_0119.jpg")
    assert len(lines(done)) == 1 and b"judging by quayside-exchange/item-picture" in done.stderr
    assert b" ms  " in done.stderr
    assert call("check", "--json", "--brief", ITEM, DEMO / "quill_harrow_0119.jpg").stderr == b""
