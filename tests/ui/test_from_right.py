"""A language that is written from right to left is laid out so, painted parts as well; photos and charts stay as they are."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

WALK = Path(__file__).with_name("mirrored_walk.py")


def walked(language: str) -> dict:
    """What is seen in a language, told by a process of its own: words are found when one starts."""
    env = {k: v for k, v in os.environ.items() if k != "APTANDUM_LANGUAGE"}
    run = subprocess.run(
        [sys.executable, str(WALK), language], env=env, capture_output=True, text=True, check=True
    )
    return json.loads(run.stdout.splitlines()[-1])


@pytest.fixture(scope="module")
def both():
    return walked("en"), walked("mirrored")


def test_everything_changes_sides(both):
    left, right = both
    assert not left["from the right"] and right["from the right"]
    for part in ("ledger", "source", "sign", "title", "bar"):
        assert left[part] + right[part] == pytest.approx(1, abs=0.04), part
    assert left["sign"] < 0.3 and right["sign"] > 0.7


def test_photos_stay_as_they_are_and_keys_and_clicks_find_their_parts(both):
    for found in both:
        assert not found["sheet from the right"]
        assert found["chosen"]


def test_an_english_text_keeps_its_own_direction(both):
    left, right = both
    assert left["said"] == "3 % cut away"
    assert right["said"].strip("\u200f\u2066\u2069") == left["said"]
