"""Every benchmark and tool still finds what it takes from the application: they are run by hand, and seldom."""

from __future__ import annotations

import ast
import importlib
from importlib.util import find_spec
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parent.parent
FILES = sorted([*(ROOT / "benchmarks").glob("*.py"), *(ROOT / "tools").glob("*.py")])


@pytest.mark.parametrize("path", FILES, ids=lambda path: path.stem)
def test_what_is_taken_from_the_application_is_there(path):
    for node in ast.walk(ast.parse(path.read_text())):
        if not isinstance(node, ast.ImportFrom) or not (node.module or "").startswith("aptandum"):
            continue
        module = importlib.import_module(node.module)
        for alias in node.names:
            there = hasattr(module, alias.name) or find_spec(f"{node.module}.{alias.name}")
            assert there, f"{path.name}: {node.module} has no {alias.name}"
