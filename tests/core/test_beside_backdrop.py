"""What is told of a backdrop beside a question about it."""

from __future__ import annotations

import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from aptandum.core.judge.beside_backdrop import backdrop_told, of_backdrop
from aptandum.core.photo.backdrop import NoMask

HIGH, WIDE = 400, 320


def person(size: tuple[int, int]) -> np.ndarray:
    """Somebody in the middle third, down to the lower edge."""
    wide, high = size
    cover = np.zeros((high, wide), np.float32)
    cover[high // 4 :, wide // 3 : 2 * wide // 3] = 1
    return cover


def before(colour: tuple[int, int, int]) -> np.ndarray:
    """A dark person before a backdrop of one colour."""
    picture = np.empty((HIGH, WIDE, 3), np.uint8)
    picture[:] = colour
    picture[person((WIDE, HIGH)) > 0.5] = (60, 40, 30)
    return picture


def lightness(grey: int) -> float:
    """L* of a neutral sRGB value, by IEC 61966-2-1 and CIE 15: a neutral keeps its luminance under any white."""
    x = grey / 255
    light = x / 12.92 if x <= 0.04045 else ((x + 0.055) / 1.055) ** 2.4
    return 116 * light ** (1 / 3) - 16 if light > 216 / 24389 else light * 24389 / 27


@given(st.integers(20, 255))
def test_a_grey_is_told_by_its_own_lightness_and_as_without_colour(grey):
    told = backdrop_told(before((grey, grey, grey)), person)
    said = int(re.search(r"L\* (\d+)", told[0])[1])
    assert abs(said - lightness(grey)) <= 0.6
    assert told[1:] == ["It has no colour of its own.", "It is even."]


@pytest.mark.parametrize(
    ("colour", "name"),
    [
        ((150, 180, 230), "blue"), ((90, 160, 90), "green"), ((220, 205, 110), "yellow"), ((200, 90, 80), "red"),
        ((225, 150, 80), "orange"), ((165, 110, 190), "violet"), ((236, 233, 238), ""), ((232, 238, 242), ""),
    ],
)  # fmt: skip
def test_a_colour_that_is_seen_has_a_name(colour, name):
    said = backdrop_told(before(colour), person)[1]
    assert said == (f"Its colour is {name}." if name else "It has no colour of its own.")


def test_a_shadow_is_told_and_an_even_backdrop_is_not_said():
    picture = before((200, 200, 200))
    picture[:, : WIDE // 5] = (140, 140, 140)
    assert backdrop_told(picture, person)[-1] == "A part of it is darker, as by a shadow."


def test_nothing_is_told_where_no_backdrop_is_seen():
    def none(_size: tuple[int, int]) -> np.ndarray:
        raise NoMask("Nothing stands out.")

    assert backdrop_told(before((200, 200, 200)), none) == []
    assert backdrop_told(before((9, 9, 9)), lambda size: np.ones(size[::-1], np.float32)) == []


@pytest.mark.parametrize("colours", [1, 3])
def test_a_large_picture_and_one_in_grey_are_looked_at_too(colours):
    large = np.full((3000, 2400, colours), 180, np.uint8)
    assert backdrop_told(large, person)[0].startswith("The backdrop reads as L* 73,")


@pytest.mark.parametrize(
    "question",
    ["Light grey background", "a plain backdrop", "White wall", "heller Hintergrund", "fond clair et uni", "fondo blanco"],
)  # fmt: skip
def test_questions_about_what_is_behind(question):
    assert of_backdrop(question)


@pytest.mark.parametrize(
    "question", ["No glasses", "Mouth closed", "Wallet size", None, "Mund geschlossen"]
)
def test_questions_about_something_else(question):
    assert not of_backdrop(question)
