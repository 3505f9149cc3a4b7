"""Audits and hand-overs on the command line."""

from __future__ import annotations

import csv
import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from aptandum.cli.main import run
from aptandum.core.docket.store import load
from samples import DEMO

ITEM = "quayside-exchange/item-picture"
LISTING = DEMO / "quayside_listing.csv"


def call(capsys, *args: object) -> tuple[int, str, str]:
    capsys.readouterr()
    status = run([str(arg) for arg in args], lambda *a: 0)
    told = capsys.readouterr()
    return status, told.out, told.err


@pytest.fixture
def made(capsys, tmp_path) -> Path:
    folder = tmp_path / "made"
    for name in ("lantern_quay_dusk.jpg", "night_moor_stack.jpg"):
        assert call(capsys, "conform", DEMO / name, "--brief", ITEM, "--out", folder)[0] == 0
    return folder


def test_the_demo_listing_is_audited_and_exported(capsys, tmp_path):
    out = tmp_path / "danger.csv"
    status, said, _ = call(capsys, "audit", LISTING, "--brief", ITEM, "--out", out)
    assert status == 1
    assert said.startswith("5 of 7 are in danger.\n3 that are out of stock were set aside")
    assert "      1  No usable picture" in said and "Mug, gull" in said
    rows = list(csv.DictReader(out.read_text("utf-8-sig").splitlines()))
    assert len(rows) == 7 and rows[0]["item"] == "Mug, gull" and rows[-1]["reasons"] == ""
    _, lines, _ = call(capsys, "audit", LISTING, "--brief", ITEM, "--all", "--json")
    records = [json.loads(line) for line in lines.splitlines()]
    assert (
        len(records) == 10 and sum(record["in_danger"] for record in records) == 6
    )  # two are not there
    quick = call(capsys, "audit", DEMO, "--brief", ITEM, "--quick")[1]
    assert quick.splitlines()[0] == "4 of 8 are in danger."
    status, _, wrong = call(capsys, "audit", tmp_path / "none.csv", "--brief", ITEM)
    assert status == 2 and "none.csv" in wrong


@pytest.mark.long
def test_a_check_by_the_header_alone_leaves_pixels_unknown(capsys):
    portrait = DEMO / "osk_fennel_0508.jpg"
    full = call(capsys, "check", portrait, "--brief", "vessary-ferries/deck-pass", "--json")[1]
    quick = call(
        capsys, "check", portrait, "--brief", "vessary-ferries/deck-pass", "--json", "--quick"
    )
    held = {f["clause"]: f["verdict"] for f in json.loads(full)["findings"]}
    told = {f["clause"]: f["verdict"] for f in json.loads(quick[1])["findings"]}
    assert held["size"] == told["size"] == "misses" and held["profile"] == told["profile"]
    assert told["eye_line"] == "unknown" and held["eye_line"] != "unknown"


@pytest.mark.long
def test_files_are_handed_over_and_their_receipts_stand_in_the_docket(capsys, tmp_path, made):
    docket = tmp_path / "quay.docket"
    args = ("hand-over", made, "--brief", ITEM, "--docket", docket, "--ask-every", "0.3")
    status, lines, _ = call(capsys, *args, "--json")
    assert status == 0
    last = {r["file"]: r for r in map(json.loads, lines.splitlines())}
    assert {r["state"] for r in last.values()} == {"accepted"} and len(last) == 2
    held = load(docket)
    assert {i.number for i in held.handed} == {"QE-00001", "QE-00002"} and held.key
    assert all(i.ready and i.received for i in held.handed)
    status, said, _ = call(capsys, *args)  # again: nothing is sent twice
    assert status == 0 and said.count("has been handed over already (QE-0000") == 2
    assert len(load(docket).handed) == 2
    listed = call(capsys, "handed")[1]
    assert listed.count("accepted") == 2


@pytest.mark.long
def test_what_misses_is_not_sent_unless_that_is_said_twice(capsys, tmp_path):
    bad = DEMO / "blue_jug_03.jpg"
    status, said, _ = call(capsys, "hand-over", bad, "--brief", ITEM)
    assert status == 1 and "is not sent: " in said and "miss" in said
    assert call(capsys, "handed")[1] == ""
    status, _, wrong = call(capsys, "hand-over", bad, "--brief", ITEM, "--unproved")
    assert status == 2 and "--i-know" in wrong
    args = ("hand-over", bad, "--brief", ITEM, "--unproved", "--i-know", "--ask-every", "0.3")
    status, said, _ = call(capsys, *args)
    assert status == 1 and "blue_jug_03.jpg: held QE-00001. " in said and "Proportion" in said
    status, _, wrong = call(capsys, "hand-over", "--brief", ITEM)
    assert status == 2 and "--resume" in wrong


@pytest.mark.long
def test_a_desk_opened_by_hand_says_where_it_is_and_takes_files(capsys, tmp_path, made):
    words = [
        sys.executable,
        "-m",
        "aptandum",
        "desk",
        "quayside-exchange",
        "--folder",
        str(tmp_path / "desk"),
        "--condition",
        "review=0",
        "--token",
        "low-tide",
    ]
    desk = subprocess.Popen(words, stdout=subprocess.PIPE, text=True, env=os.environ.copy())
    try:
        told = json.loads(desk.stdout.readline())
        assert told["address"].startswith("http://127.0.0.1:")
        status, said, _ = call(
            capsys,
            "hand-over",
            made,
            "--brief",
            ITEM,
            "--desk",
            told["address"],
            "--token",
            told["token"],
            "--ask-every",
            "0.05",
        )
        assert status == 0 and "    2  accepted" in said
        assert len(list((tmp_path / "desk" / "files").iterdir())) == 2
    finally:
        desk.terminate()
        desk.wait(5)
    status, _, wrong = call(capsys, "desk", "nobody")
    assert status == 2 and "nobody" in wrong
