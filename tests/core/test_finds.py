"""Short runs of every kind of mutated input, and every find that was kept."""

from __future__ import annotations

import sys
from pathlib import Path

import pytest

from samples import THOROUGH

ROOT = Path(__file__).resolve().parent.parent.parent
sys.path.insert(0, str(ROOT / "tools"))

import fuzz  # noqa: E402

KEPT = sorted(fuzz.KEPT.glob("*.bin")) if fuzz.KEPT.exists() else []


@pytest.mark.parametrize("kind", fuzz.KINDS)
def test_mutated_inputs_break_no_promise(kind):
    count = 20_000 if THOROUGH else 150
    assert [why for _data, why in fuzz.finds(kind, count, 1)] == []


@pytest.mark.parametrize("path", KEPT, ids=lambda path: path.name)
def test_what_was_found_once_stays_mended(path: Path):
    kind = path.name.partition("-")[0]
    fuzz.KINDS[kind][1](path.read_bytes())
