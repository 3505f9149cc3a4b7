"""Fixtures that every test may use, and what no test may leave behind."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings
from PIL import Image

from aptandum.core import mistakes
from aptandum.core.photo.profile import shipped
from samples import jpeg, scene

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

# A slow machine is no failure: no example has a deadline. ``--hypothesis-profile=thorough`` looks
# at far more of them (scripts/test --thorough).
settings.register_profile(
    "ordinary", deadline=None, suppress_health_check=[HealthCheck.too_slow], print_blob=True
)
settings.register_profile("thorough", settings.get_profile("ordinary"), max_examples=1000)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "ordinary"))


@pytest.fixture(autouse=True)
def own_home(tmp_path_factory: pytest.TempPathFactory, monkeypatch: pytest.MonkeyPatch) -> None:
    """No test reads or writes the rulebooks of the person who runs it."""
    home = tmp_path_factory.mktemp("home")
    monkeypatch.setenv("XDG_DATA_HOME", str(home / "data"))
    monkeypatch.setenv("XDG_STATE_HOME", str(home / "state"))
    monkeypatch.setenv("XDG_CACHE_HOME", str(home / "cache"))


@pytest.fixture(autouse=True)
def mistakes_met() -> Iterator[list[BaseException]]:
    """What nobody foresaw, wherever it was caught: a test that makes one on purpose takes it out of
    the list, and any other fails."""
    met: list[BaseException] = []
    listen = met.append
    mistakes.heard.append(listen)
    yield met
    mistakes.heard.remove(listen)
    assert not met, f"mistakes that nobody expected: {met!r}"


@pytest.fixture
def photo(tmp_path: Path) -> Callable[..., Path]:
    """Makes a JPEG photo on disk: ``photo(width, height, name=…, orientation=…, space=…)``."""

    def make(
        width: int = 1200,
        height: int = 900,
        name: str = "sea_wall.jpg",
        orientation: int = 1,
        space: str | None = "srgb",
        seed: int = 1,
        grain: float = 6.0,
    ) -> Path:
        exif = Image.Exif()
        exif[0x0112] = orientation
        exif[0x013B] = "Quill Harrow"
        exif[0x8298] = "Quill Harrow, Vessary"
        gps = exif.get_ifd(0x8825)
        gps[1], gps[2], gps[3], gps[4] = "N", (47.0, 1.0, 2.0), "W", (21.0, 3.0, 4.0)
        options: dict[str, object] = {"exif": exif}
        if space:
            options["icc_profile"] = shipped(space)  # type: ignore[arg-type]
        path = tmp_path / name
        path.write_bytes(jpeg(scene(width, height, seed, grain), **options))
        return path

    return make
