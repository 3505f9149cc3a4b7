"""What is said of made-up portraits whose truth is known, by the measures that answer in words: how often they answer,
and how often wrongly, by skin and by light. Called by ``tools/measure_portrait.py``."""

from __future__ import annotations

import json
import math
from collections import Counter, defaultdict
from pathlib import Path
from typing import Any

import numpy as np

from aptandum.core.brief.model import Brief
from aptandum.core.fitting.detection import people_in
from aptandum.core.fitting.masking import mask_in
from aptandum.core.judge.measure import CannotMeasure
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.judge.reading import Reading, of_supplied, pixels_of
from aptandum.core.photo.backdrop import NoMask
from aptandum.core.photo.decode import open_photo

ANY = Brief("any", "", ())
REDDISH = 0.12
"""Red of an iris, by what it throws back, from which it is no human one: nothing is asked of red eyes there."""


def truth_of(settings: dict[str, Any]) -> dict[str, str]:
    """What is true of a portrait, by measure; empty where nothing can be asked."""
    gaze, lids, mouth = abs(settings["gaze"][0]), settings["eye_open"], settings["mouth_open"]
    worn, shut = settings["glasses"], lids < 0.1
    odd = settings["iris"][0] > REDDISH and settings["iris"][1] < settings["iris"][0] / 1.5
    return {
        "eyes_open": "closed" if shut else "open" if lids > 0.9 else "",
        "mouth_closed": "open" if mouth > 0.4 else "closed" if mouth == 0 else "",
        "glasses": "worn" if worn else "none",
        "glasses_glare": "seen" if worn and settings["glare"] else "none",
        "frames_over_eyes": "seen" if settings["frame_drop"] else "none",
        "hair_over_eyes": "seen" if settings["fringe"] else "none",
        "red_eye": "" if shut or odd else "seen" if settings["red_eye"] else "none",
        "gaze": "" if shut else "away" if gaze >= 20 else "ahead" if gaze <= 15 else "",
    }


def reading_of(path: Path) -> Reading | None:
    """A portrait ready to be measured; ``None`` where not one face is found."""
    photo = open_photo(path)
    people = people_in(photo)
    if len(people.faces) != 1:
        return None
    box = (0, 0, *photo.facts.size)
    look = PixelStatistics(
        pixels_of(photo.read(), photo.facts), lambda size: mask_in(photo, people).window(box, size)
    )
    return of_supplied(photo, lambda: people, lambda: look)


def value(name: str, reading: Reading) -> Any:
    """What a measure says; ``None`` where it cannot."""
    try:
        return REGISTRY[name].value(reading, ANY)
    except (CannotMeasure, NoMask):
        return None


def main(folder: Path) -> None:
    """Print the tables."""
    counts: dict[str, Counter[str]] = defaultdict(Counter)
    by: dict[str, dict[str, Counter[str]]] = defaultdict(lambda: defaultdict(Counter))
    wrong: list[str] = []
    casts: dict[str, list[float | None]] = defaultdict(list)
    slopes: list[float] = []
    shown: Counter[str] = Counter()
    for path in sorted(folder.glob("[0-9][0-9][0-9].json")):
        held = json.loads(path.read_text())
        reading = reading_of(path.with_suffix(".png"))
        if reading is None:
            continue
        kinds = held["kinds"]
        for name, true in truth_of(held["settings"]).items():
            if not true:
                continue
            told = value(name, reading)
            came = "unknown" if told is None else "right" if told == true else "wrong"
            counts[name][came] += 1
            for kind in ("skin", "light"):
                by[f"{kind} {kinds[kind]}"][name][came] += 1
            if came == "wrong":
                wrong.append(f"{path.stem} {name}: {true} taken for {told}")
        casts[kinds["cast"]].append(value("face_colour", reading))
        slope = value("shoulder_tilt", reading)
        shown["slope told" if slope is not None else "slope unknown"] += 1
        if slope is not None:
            slopes.append(slope + held["settings"]["lean"])
        shown[f"shoulders {value('shoulders', reading) or 'unknown'}"] += 1
    for name, came in counts.items():
        print(f"  {name:17} {_said(came)}")
    for kind, names in sorted(by.items()):
        print(f"{kind}: " + "   ".join(f"{name} {_said(came)}" for name, came in names.items()))
    for line in wrong:
        print("  wrong: " + line)
    for kind, found in sorted(casts.items()):
        known = [v for v in found if v is not None]
        print(
            f"  face_colour, light {kind}: {len(known)} of {len(found)} told, "
            + (f"from {min(known):.1f} to {max(known):.1f}" if known else "")
        )
    off = np.abs(slopes)
    print(
        f"  shoulder_tilt: {dict(shown)}, mean {np.mean(slopes):+.2f}°, 19 of 20 "
        f"{np.percentile(off, 95):.2f}°, largest {off.max():.2f}°"
    )


def _said(came: Counter[str]) -> str:
    all_ = sum(came.values())
    told = came["right"] + came["wrong"]
    return f"{math.floor(100 * told / max(1, all_))} % told, {came['wrong']} of {told} wrong"
