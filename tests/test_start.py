"""What a start imports: nothing that it has no use for."""

from __future__ import annotations

import subprocess
import sys

import pytest

from samples import DEMO

PICTURES = {"numpy", "cv2", "pyvips", "PIL", "simplejpeg", "pillow_heif", "pyjpegxl", "scipy"}
NETWORK = {"httpx", "httpcore", "h11", "flask", "waitress", "ssl"}
PAPER = {"reportlab", "jinja2", "fontTools", "pypdfium2", "rich"}
PARSERS = {"typer", "click", "tomlkit", "regex", "pydantic"}
WINDOW = {"PyQt6"}
LOADED = "import sys; print(*sorted({name.split('.')[0] for name in sys.modules}))"


def loaded(code: str) -> set[str]:
    """The packages that are there at the end of a program."""
    done = subprocess.run(
        [sys.executable, "-c", f"{code}\n{LOADED}"], capture_output=True, text=True, check=True
    )
    return set(done.stdout.splitlines()[-1].split())


def called(*words: str) -> str:
    return (
        f"import sys; sys.argv = ['aptandum', *{list(words)!r}]\n"
        "from aptandum.__main__ import main\n"
        "try: main()\nexcept SystemExit: pass"
    )


@pytest.mark.parametrize(
    ("what", "code", "none_of"),
    [
        ("--version", called("--version"), PICTURES | NETWORK | PAPER | PARSERS | WINDOW | {"json", "subprocess"}),
        ("--help", called("--help"), PICTURES | NETWORK | PAPER | WINDOW | {"tomlkit", "regex", "pydantic"}),
        ("facts", called("facts", str(DEMO / "blue_jug_03.jpg"), "--json"),
         PICTURES | NETWORK | PAPER | PARSERS | WINDOW | {"sqlite3", "asyncio", "multiprocessing"}),
        ("check --help", called("check", "--help"), PICTURES | NETWORK | WINDOW),
        ("import aptandum", "import aptandum", PICTURES | NETWORK | PAPER | PARSERS | WINDOW),
        ("the window",
         "import os; os.environ['QT_QPA_PLATFORM'] = 'offscreen'\n"
         "from aptandum.ui.app import application, open_shell\n"
         "app = application(); shell = open_shell(); shell.errands_soon.stop(); shell.show(); app.processEvents()\n"
         f"{LOADED}\nimport os; sys.stdout.flush(); os._exit(0)",
         PICTURES | NETWORK | PAPER | {"typer", "click", "tomlkit", "regex", "multiprocessing", "email", "sqlite3"}),
    ],
    ids=lambda value: value if isinstance(value, str) and len(value) < 20 else "",
)  # fmt: skip
def test_a_start_imports_nothing_that_it_has_no_use_for(what, code, none_of):
    assert loaded(code) & none_of == set()


def test_an_empty_window_loads_nothing_of_the_bench_the_board_and_the_desks():
    code = (
        "import os; os.environ['QT_QPA_PLATFORM'] = 'offscreen'\n"
        "from aptandum.ui.app import application, open_shell\n"
        "app = application(); shell = open_shell(); shell.errands_soon.stop(); shell.show(); app.processEvents()\n"
        "import sys; print(*sorted(sys.modules)); sys.stdout.flush(); os._exit(0)"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    there = set(done.stdout.splitlines()[-1].split())
    unused = ("aptandum.desks", "aptandum.ui.board", "aptandum.ui.desk.", "aptandum.ui.bench.cards",
              "aptandum.ui.bench.sheet", "aptandum.ui.bench.mockups", "aptandum.core.conform",
              "aptandum.core.mending", "aptandum.core.report", "aptandum.core.file.encode",
              "aptandum.core.rulebook.words.grammar", "aptandum.core.docket.batch")  # fmt: skip
    assert "aptandum.ui.start_screen" in there
    assert [name for name in sorted(there) if name.startswith(unused)] == []
