"""German, French and Spanish: complete, current, chosen by the system or the person, and with room."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from aptandum import language
from aptandum.core import words
from samples import DEMO

ROOT = Path(__file__).resolve().parents[1]
FIELD = re.compile(r"\{[^{}]*\}")
SPOKEN = [name for name in language.NAMES if name != "en"]


@pytest.fixture(scope="module")
def catalogues() -> Iterator[object]:
    sys.path.insert(0, str(ROOT / "tools"))
    try:
        import extract_words

        yield extract_words
    finally:
        sys.path.pop(0)


def says(args: list[str], home: Path, **env: str) -> subprocess.CompletedProcess[str]:
    plain = {k: v for k, v in os.environ.items() if k not in ("APTANDUM_LANGUAGE", "LANGUAGE")}
    state = {"XDG_STATE_HOME": str(home), "XDG_DATA_HOME": str(home), "COLUMNS": "200"}
    return subprocess.run(
        [sys.executable, "-m", "aptandum", *args],
        capture_output=True,
        text=True,
        env={**plain, **state, **env},
        timeout=300,
        check=False,
    )


@pytest.mark.long
@pytest.mark.parametrize("name", SPOKEN)
def test_every_template_is_translated_and_keeps_its_fields(catalogues, name):
    held = catalogues.translation(name)
    wrong = []
    for message in held:
        if not message.id:
            continue
        asked = message.id if isinstance(message.id, tuple) else (message.id,)
        given = message.string if isinstance(message.string, tuple) else (message.string,)
        fields = [set(FIELD.findall(form)) for form in asked]
        for i, form in enumerate(given):
            wants = fields[min(i, len(fields) - 1)]
            # A count of one may be said by the word alone, in either language.
            if not form or set(FIELD.findall(form)) - {"{n}"} != wants - {"{n}"}:
                wrong.append((asked[0], form))
            if "{n}" in form and not any("{n}" in one for one in fields):
                wrong.append((asked[0], form))
            spaced = (form[:1].isspace(), form[-1:].isspace())
            if spaced != (asked[0][:1].isspace(), asked[0][-1:].isspace()):
                wrong.append((asked[0], form))
    assert not wrong, wrong[:20]


@pytest.mark.long
@pytest.mark.parametrize("name", SPOKEN)
def test_what_is_compiled_is_what_was_translated_last(catalogues, name):
    """Run ``tools/extract_words.py`` where this fails: a template came, went or was translated."""

    def words_of(text: str) -> list[str]:
        return [line for line in text.split("\n") if not line.startswith("#:")]

    held = catalogues.translation(name)
    kept = (ROOT / "translations" / f"{name}.po").read_text("utf-8")
    assert words_of(catalogues.written(held).decode()) == words_of(kept)
    assert catalogues.compiled(held) == catalogues.compiled_path(name).read_bytes()


def test_every_language_of_the_settings_has_a_catalogue(catalogues):
    assert set(SPOKEN) == set(catalogues.LANGUAGES)


@pytest.mark.long
def test_findings_are_told_in_the_language_of_the_system_with_its_figures(tmp_path):
    args = ["check", str(DEMO / "ines_marrow_0417.jpg"), "--brief", "orrin-moor/print-archive"]
    plain, german = says(args, tmp_path, LC_ALL="C"), says(args, tmp_path, LANGUAGE="de", LANG="de")
    assert german.returncode == plain.returncode == 1
    assert "misses" in plain.stdout and "338.7 mm" in plain.stdout
    assert "verfehlt Druckbreite: 338,7 mm. Verlangt: 200 mm bis 300 mm" in german.stdout
    assert "misses" not in german.stdout and "338.7" not in german.stdout


@pytest.mark.long
def test_the_language_that_a_person_chose_is_spoken_unless_the_environment_names_one(tmp_path):
    state = tmp_path / "aptandum"
    state.mkdir()
    kept = state / "preferences.json"
    kept.write_text(json.dumps({"language": "fr"}))
    assert "Règlements" in says(["--help"], tmp_path).stdout
    assert "Rulebooks" in says(["--help"], tmp_path, APTANDUM_LANGUAGE="en").stdout
    for held in ({"language": "../../etc"}, {"language": 3}, ["fr"], {}):
        kept.write_text(json.dumps(held))
        assert "Rulebooks" in says(["--help"], tmp_path, LC_ALL="C").stdout
    kept.write_text("{")
    assert "Rulebooks" in says(["--help"], tmp_path, LC_ALL="C").stdout


@pytest.mark.long
@pytest.mark.parametrize("call", [["--help"], ["conform", "--help"], ["rulebook", "--help"]])
def test_help_says_nothing_in_english_to_who_reads_german(tmp_path, call):
    said = says(call, tmp_path, APTANDUM_LANGUAGE="de").stdout
    assert said.startswith("Aufruf: aptandum") and "Diese Hilfe anzeigen" in said
    assert "Usage" not in said and "Show this" not in said
    plain = says(call, tmp_path, APTANDUM_LANGUAGE="en").stdout
    assert plain.startswith("Usage: aptandum") and "Show this message and exit." in plain


def test_machine_output_is_the_same_in_every_language(tmp_path):
    args = ["check", str(DEMO / "blue_jug_03.jpg"), "--brief", "orrin-moor/print-archive", "--json"]
    plain = says(args, tmp_path, LC_ALL="C").stdout
    (tmp_path / "aptandum").mkdir(exist_ok=True)
    (tmp_path / "aptandum" / "preferences.json").write_text(json.dumps({"language": "es"}))
    assert json.loads(plain)["findings"]
    assert says(args, tmp_path).stdout == plain


def test_a_day_is_written_as_the_language_has_it(tmp_path):
    code = (
        "from datetime import date; from aptandum.core.words import show_day;"
        "print(show_day(date(2026, 11, 2)))"
    )
    env = {**os.environ, "LC_ALL": "C"}
    for name, day in {"de": "02.11.2026", "fr": "02/11/2026", "en": "2026-11-02"}.items():
        done = subprocess.run(
            [sys.executable, "-c", code],
            capture_output=True,
            text=True,
            env={**env, "APTANDUM_LANGUAGE": name},
            check=True,
        )
        assert done.stdout.strip() == day
    assert words.NEUTRAL.decimal == "."


@pytest.mark.long
@pytest.mark.parametrize(
    ("name", "size", "by"),
    [("de", "900x600", 1), ("de", "1280x800", 2), ("fr", "900x600", 1), ("es", "900x600", 1)],
)
def test_no_word_is_clipped_in_any_place(tmp_path, name, size, by):
    env = {
        **os.environ,
        "APTANDUM_LANGUAGE": name,
        "QT_SCALE_FACTOR": str(by),
        "HOME": str(tmp_path),
    }
    env |= {f"XDG_{kind}_HOME": str(tmp_path) for kind in ("STATE", "DATA", "CONFIG", "CACHE")}
    done = subprocess.run(
        [sys.executable, str(ROOT / "tests" / "clipped_walk.py"), size],
        capture_output=True,
        text=True,
        env=env,
        timeout=600,
        check=False,
    )
    assert done.returncode == 0, done.stderr[-2000:]
    met = [json.loads(line) for line in done.stdout.splitlines()]
    assert met and met[-1]["places"] > 30
    assert not met[:-1], "\n".join(map(str, met[:-1]))


@pytest.mark.parametrize(
    ("said", "told"),
    [
        ("Missing option '--brief'.", "Es fehlt die Option '--brief'."),
        ("No such option: --brif (Possible options: --brief)",
         "Diese Option gibt es nicht: --brif (möglich: --brief)"),
        ("Invalid value for '--every': Input should be a valid number, unable to parse string as a number",
         "Falscher Wert für '--every': Das ist keine Zahl."),
        ("Something that it never said before.", "Something that it never said before."),
    ],
)  # fmt: skip
def test_what_the_parser_of_the_command_line_says_is_translated(said, told):
    code = "import sys; from aptandum.cli.parser_words import translated; print(translated(sys.argv[1]))"
    done = subprocess.run(
        [sys.executable, "-c", code, said],
        capture_output=True,
        text=True,
        env={**os.environ, "APTANDUM_LANGUAGE": "de"},
        check=True,
    )
    assert done.stdout.strip() == told


@pytest.mark.parametrize("name", SPOKEN)
def test_what_is_remembered_in_one_language_is_not_shown_in_another(name):
    """Sentences are kept in an audit's book: those of another language are made anew."""
    code = (
        "from aptandum.core.docket.audit_book import rules_key; from aptandum.core import words;"
        "words.use_customs(words.NEUTRAL); print(rules_key('a', 'b', False));"
        "words._neutrally.set(True); print(rules_key('a', 'b', False))"
    )

    def keys(language: str) -> list[str]:
        env = {**os.environ, "APTANDUM_LANGUAGE": language}
        done = subprocess.run(
            [sys.executable, "-c", code], capture_output=True, text=True, env=env, check=True
        )
        return done.stdout.split()

    theirs, english = keys(name), keys("en")
    assert theirs[0] != english[0] and theirs[1] == english[1]
