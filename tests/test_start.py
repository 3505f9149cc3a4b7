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
         "app = application(); shell = open_shell(); shell.show(); app.processEvents()\n"
         f"{LOADED}\nimport os; sys.stdout.flush(); os._exit(0)",
         PICTURES | NETWORK | PAPER | {"typer", "click", "tomlkit"}),
    ],
    ids=lambda value: value if isinstance(value, str) and len(value) < 20 else "",
)  # fmt: skip
def test_a_start_imports_nothing_that_it_has_no_use_for(what, code, none_of):
    assert loaded(code) & none_of == set()
