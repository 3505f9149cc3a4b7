"""Every command, every option of it and every status, from outside: a process, what it says, how it ends."""

from __future__ import annotations

import contextlib
import os
import signal
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import pytest

from aptandum.cli.commands import COMMANDS, command_of
from aptandum.cli.main import run as command
from aptandum.core.fitting.settings import names
from aptandum.core.photo.facts import PhotoError
from samples import DEMO

BOOKS = DEMO.parent / "rulebooks"
JUG, QUILL = DEMO / "blue_jug_03.jpg", DEMO / "quill_harrow_0119.jpg"
PASS, ITEM = "vessary-ferries/deck-pass", "quayside-exchange/item-picture"
OWN = """format = 1
[body]
id = "mole"
name = "The Mole"
[[brief]]
id = "small"
title = "Small"
[[brief.clause]]
measure = "longest_side"
at_most = "700 px"
[[brief]]
id = "large"
title = "Large"
optional = true
[[brief.clause]]
measure = "longest_side"
at_least = "900 px"
"""
CALLS: list[tuple[str, int, str]] = [
    ("facts {jug}", 0, "width=1280"),
    ("facts {jug} --json --quick", 0, '"decodes": null'),
    ("facts {jug} --limits megapixels=1", 2, "at most 1 are opened"),
    ("facts {bad}", 2, "bad.jpg"),
    ("facts", 2, "FILE"),
    ("check {jug} --brief " + ITEM, 1, "Longest side"),
    ("check {quill} --brief mole/large --rulebook {own} --json", 0, '"ready": true'),
    ("check {jug} --brief mole/small --rulebook {own} --quick", 1, "too much"),
    ("check {jug} --brief mole/small --rulebook {own} --no-mends --mends", 1, "Write it at"),
    ("check {jug} --brief mole/small --rulebook {own} --mends --no-mends", 1, "too much.\n"),
    ("check {jug} --brief " + ITEM + " --limits megapixels=x", 2, "--limits takes"),
    ("check {jug} --brief mole/small", 2, "There is no rulebook"),
    ("conform {jug} --brief mole/small --rulebook {own} --out {out}", 0, "Scaled by"),
    ("conform {jug} --body mole --optional --rulebook {own} --out {out} --json", 0, "mole/large"),
    ("conform {jug} --brief mole/small --rulebook {own} --out {out} --replace --workers 1 --resume", 0, ""),
    ("conform {jug} --brief mole/small --rulebook {own} --out {out} --set file.format=png --report {out}/r.html", 0, "Report"),
    ("conform {jug} --brief mole/small --rulebook {own} --out {out} --keep-clear 10,10,50,50 --limits seconds=9", 0, ""),
    ("conform {jug} --brief " + ITEM + " --out {out} --set frame.fill=nonsense", 2, "frame.fill"),
    ("conform --blank sea-chart --brief mole/small --rulebook {own} --out {out}", 0, "blank-"),
    ("conform --blank mud --brief mole/small --rulebook {own} --out {out}", 2, "There is no ground"),
    ("conform --brief mole/small --rulebook {own} --out {out}", 2, "--blank"),
    ("audit {photos} --brief mole/small --rulebook {own} --quick --workers 1 --all --json", 1, '"in_danger": true'),
    ("audit {photos} --brief mole/large --rulebook {own} --out {out}.csv", 0, "0 of 1"),
    ("audit {photos} --brief mole/small --brief mole/large --rulebook {own} --book {out}.sqlite --new --by-value --accept jug.jpg", 0, "1 was accepted"),
    ("audit {photos} --brief mole/small --rulebook {own} --new", 2, "need --book"),
    ("audit {demo}/quayside_listing.csv --brief mole/small --rulebook {own} --quick --item item --picture picture\u00a0file --stock in\u00a0stock --key item --value price --out {out}.html", 1, "in danger"),
    ("audit {demo}/quayside_listing.csv --brief mole/small --rulebook {own} --quick --value worth", 2, "no column"),
    ("watch {photos} --brief mole/small --rulebook {own} --out {out} --once --every 0.05 --settle 0 --patience 0 --again", 0, "1 file is made"),
    ("watch {photos} --brief mole/large --rulebook {own} --out {out} --once --settle 0 --workers 1 --set file.format=png --limits seconds=9 --json", 0, '"made"'),
    ("watch {photos} --brief mole/small --rulebook {own} --out {photos}", 2, "other than"),
    ("watch {out}-gone --brief mole/small --rulebook {own} --out {out}", 2, "There is no folder"),
    ("check {jug} --brief " + ITEM + " --cluster nowhere://x --send", 2, "There is no scheduler at nowhere://x"),
    ("conform {jug} --brief " + ITEM + " --out {out} --cluster nowhere://x --send", 2, "There is no scheduler"),
    ("audit {jug} --brief " + ITEM + " --cluster nowhere://x --send", 2, "There is no scheduler"),
    ("prints {jug} --to {out}.pdf --print 60mm --paper A6 --marks --check --margin 5mm --gap 2mm", 0, "on A6"),
    ("prints {jug} --to {out}.jpg --print 60mm --paper A4 --no-marks --no-check --ppi 300 --enlarge --replace", 0, "on A4"),
    ("prints {jug} --to {out}.pdf --print 60mm --paper foolscap", 2, "There is no paper"),
    ("prints {jug} --to {out}.gif --print 60mm", 2, ".pdf, .jpg or .tif"),
    ("prints {bad} --to {out}.pdf --print 60mm", 2, "bad.jpg"),
    ("report {docket} --out {out}.html --rulebook {own}", 1, ""),
    ("report {bad} --out {out}.html", 2, "bad.jpg"),
    ("rulebook list --rulebook {own}", 0, "mole/small"),
    ("rulebook list --json", 0, PASS),
    ("rulebook lint {own}", 0, ""),
    ("rulebook lint {draft} --json", 1, "contradict"),
    ("rulebook compare {books}/quayside-exchange.toml {demo}/quayside-exchange-10.toml --json", 0, "limit"),
    ("rulebook sizes mole/small --rulebook {own} --for {jug} --json", 0, "largest"),
    ("rulebook new {out}-new.toml --body Pier", 0, "is begun"),
    ("rulebook new {own} --body Pier", 2, "is there already"),
    ("rulebook schema", 0, "$defs"),
    ("rulebook read {words} --language en --body Pier", 0, "[body]"),
    ("rulebook read {out}-gone.txt --json", 2, "gone.txt"),
    ("rulebook pack {own} --out {out}.zip", 0, "0 pictures"),
    ("hand-over {quill} --brief " + ITEM + " --book {out}-book --docket {docket2} --ask-every 0.05 --longest-wait 0.1 --json", 0, "number"),
    ("hand-over {jug} --brief mole/small --rulebook {own} --book {out}-b2 --unproved", 2, "--i-know"),
    ("hand-over {jug} --brief mole/small --rulebook {own} --book {out}-b2 --unproved --i-know --ask-every 0.05", None, ""),
    ("hand-over --resume --book {out}-b3 --desk http://127.0.0.1:9 --token t", 0, ""),
    ("handed --book {out}-book --json", 0, ""),
    ("desk no-body", 2, "There is no rulebook"),
    ("--version", 0, "aptandum "),
    ("--help", 0, "ends with 0"),
    ("open --help", 0, "opens it with photos"),
    ("open {jug} --brief no/brief", 2, "no"),
    ("nonsense", 2, "nonsense"),
]  # fmt: skip
DESK = {"--rulebook", "--folder", "--port", "--condition", "--token", "--seed"}


def options(command: Any) -> set[str]:
    return {max(one.opts, key=len) for one in command.params if one.param_type_name == "option"}


def test_every_command_and_every_option_is_called_below():
    for name in COMMANDS:
        command = command_of(name)
        inner = getattr(command, "commands", None) or {"": command}
        for below, one in inner.items():
            words = f"{name} {below}".strip()
            calls = [call for call, _status, _said in CALLS if f"{call} ".startswith(f"{words} ")]
            used = {word for call in calls for word in call.split() if word.startswith("--")}
            used |= DESK if name == "desk" else set()
            assert calls and options(one) <= used, (words, options(one) - used)


def call(words: list[str], **more: Any) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "aptandum", *words], capture_output=True, text=True, check=False,
        errors="replace", **more,
    )  # fmt: skip


@pytest.mark.parametrize(("line", "status", "said"), CALLS, ids=[line[:60] for line, *_ in CALLS])
@pytest.mark.long
def test_a_call_says_and_ends_as_it_should(tmp_path, line, status, said):
    (tmp_path / "bad.jpg").write_bytes(b"no picture")
    (tmp_path / "own.toml").write_text(OWN)
    (tmp_path / "words.txt").write_text("413 x 531 px, jpeg, at most 200 kB")
    photos = tmp_path / "photos"
    photos.mkdir()
    (photos / "jug.jpg").write_bytes(JUG.read_bytes())
    for name in ("a.docket", "b.docket"):
        (tmp_path / name).write_text(
            f'{{"format": 1, "title": "T", "photos": [{{"id": "p", "path": "{JUG}"}}]}}'
        )
    docket = tmp_path / "fit.docket"
    docket.write_text(
        f'{{"format": 1, "title": "T", "photos": [{{"id": "p", "path": "{JUG}"}}],'
        f' "fittings": [{{"id": "f", "photo": "p", "brief": "{ITEM}"}}]}}'
    )
    held = {
        "jug": JUG, "quill": QUILL, "bad": tmp_path / "bad.jpg", "own": tmp_path / "own.toml", "out": tmp_path / "out",
        "photos": photos, "docket": docket, "docket2": tmp_path / "b.docket", "words": tmp_path / "words.txt",
        "books": BOOKS, "demo": DEMO, "draft": DEMO / "keepers-hall-draft.toml",
    }  # fmt: skip
    done = call([word.format(**held).replace("\u00a0", " ") for word in line.split(" ")])
    assert "Traceback" not in done.stderr
    assert status is None or done.returncode == status, (done.returncode, done.stdout, done.stderr)
    assert said in done.stdout + done.stderr
    if status == 2:
        assert done.stderr.strip()


@pytest.mark.long
def test_every_setting_refuses_what_it_cannot_take_and_names_itself(tmp_path):
    def refused(name: str) -> tuple[str, subprocess.CompletedProcess[str]]:
        words = [
            "conform",
            str(JUG),
            "--brief",
            ITEM,
            "--out",
            str(tmp_path),
            "--set",
            f"{name}=\x01{{n:",
        ]
        return name, call(words)

    taken = []
    with ThreadPoolExecutor(2) as pool:
        for name, done in pool.map(refused, names()):
            if done.returncode == 2 and name in done.stderr:
                continue
            taken.append(name)
    # A caption is taken as it is; a picture and a panel are looked for once they are needed, and said then.
    own = (
        "finish.caption.text", "finish.caption.panel", "finish.shade.picture", "finish.border.picture",
    )  # fmt: skip
    assert set(taken) <= set(own) and len(names()) > 60, taken


def begun(words: list[str]) -> subprocess.Popen[str]:
    """A call that can be interrupted, even where whoever runs the tests ignores Ctrl-C."""
    return subprocess.Popen(
        words, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
        preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_DFL),
    )  # fmt: skip


def test_a_desk_is_opened_told_how_to_behave_and_closed(tmp_path):
    words = [sys.executable, "-m", "aptandum", "desk", "mole", "--rulebook", str(tmp_path / "own.toml"), "--folder",
             str(tmp_path / "desk"), "--port", "0", "--condition", "slow=0.01", "--token", "t", "--seed", "3"]  # fmt: skip
    (tmp_path / "own.toml").write_text(OWN)
    desk = begun(words)
    assert desk.stdout is not None
    assert "http://127.0.0.1:" in desk.stdout.readline()
    desk.send_signal(signal.SIGINT)
    desk.communicate(timeout=60)
    assert desk.returncode == 0


def test_whoever_reads_may_have_enough(tmp_path):
    ended = subprocess.run(
        ["bash", "-c", 'set -o pipefail; "$0" -m aptandum facts --json "$@" | head -n 1', sys.executable,
         *[str(QUILL)] * 3, *map(str, DEMO.glob("*.jpg"))],
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert ended.returncode == 0 and ended.stderr == "" and ended.stdout.count("\n") == 1


@pytest.mark.long
@pytest.mark.parametrize("after", [1, 3])
def test_an_interrupted_call_ends_with_its_own_status(tmp_path, after):
    folder = tmp_path / "many"
    folder.mkdir()
    for n in range(40):
        (folder / f"{n:02d}.jpg").write_bytes(QUILL.read_bytes())
    words = [sys.executable, "-m", "aptandum", "check", str(folder), "--brief", PASS, "--json"]
    running = begun(words)
    assert running.stdout is not None
    for _ in range(after):
        running.stdout.readline()
    os.kill(running.pid, signal.SIGINT)
    _said, trouble = running.communicate(timeout=120)
    assert running.returncode == 130 and "Traceback" not in trouble
    assert Path(folder, "00.jpg").read_bytes() == QUILL.read_bytes()


def interrupted(*_whatever, **_more):
    raise KeyboardInterrupt


def swallowed(*_whatever, **_more):
    """As where Ctrl-C is met within a library's own call, which goes on as if nothing had been."""
    with contextlib.suppress(KeyboardInterrupt):
        signal.raise_signal(signal.SIGINT)
    raise PhotoError("p.jpg cannot be read.")


@pytest.mark.parametrize("how", [interrupted, swallowed])
def test_an_interruption_in_the_middle_of_a_file_is_none_of_its_faults(monkeypatch, how):
    monkeypatch.setattr("aptandum.core.docket.audit.check_file", how)
    before = signal.signal(signal.SIGINT, signal.default_int_handler)  # ignored by what runs beside
    try:
        assert command(["check", str(QUILL), str(QUILL), "--brief", PASS], lambda *_args: 0) == 130
        assert signal.getsignal(signal.SIGINT) is signal.default_int_handler
    finally:
        signal.signal(signal.SIGINT, before)
