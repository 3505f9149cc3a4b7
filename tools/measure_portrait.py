"""How near what is found of a portrait comes to the truth, over made-up heads whose truth is known.

    python tools/portrait_truth.py FOLDER 150
    python tools/measure_portrait.py FOLDER

For each thing that is found: mean and largest error, and the error that nineteen of twenty keep; the same where nothing is
seen before the eyes, and where something is; then the means by skin, hair and light. Lengths are per cent of the head's height, angles degrees. Then heads cut off at the crown, the
chin or a side: how many are noticed, and how many whole ones are taken for cut.
"""

from __future__ import annotations

import json
import math
import sys
from collections import defaultdict
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

sys.path.insert(0, str(Path(__file__).resolve().parent))

import measure_answers
from aptandum.core.judge.measures.eyes_and_mouth import CLOSED, MOUTH_CLOSED, MOUTH_OPEN, OPEN
from aptandum.core.photo.people import Face, find_people

OF_EYES = ("worse eye", "eye distance", "eye line", "eyes across", "tilt")
CUTS = (0.02, 0.05, 0.1, 0.2, 0.3)


def crown_of(mask: Any, chin: Any, up: Any, wide: float) -> float:
    """How far above the chin a head ends along its axis, by the renderer's own mask: higher than 97 of 100 columns of
    the strip about the axis, since single hairs are no crown."""
    aside = np.array([-up[1], up[0]])
    along = np.arange(0.5 * wide, 3.2 * wide, 0.25)
    tops = []
    for across in np.linspace(-0.35 * wide, 0.35 * wide, 64):
        spots = np.floor(chin + along[:, None] * up + across * aside).astype(int)
        held = (
            (spots[:, 0] >= 0)
            & (spots[:, 0] < mask.shape[1])
            & (spots[:, 1] >= 0)
            & (spots[:, 1] < mask.shape[0])
        )
        there = np.zeros(len(along), bool)
        there[held] = mask[spots[held, 1], spots[held, 0]] > 0.5
        tops.append(along[there][-1] if there.any() else 0.0)
    return float(np.percentile(tops, 97))


def truth_of(held: dict[str, Any], mask: Any) -> dict[str, Any]:
    """The truth of one portrait in the terms of what is found."""
    mesh = np.array(held["mesh"])
    chin, brow = mesh[152], mesh[10]
    up = (brow - chin) / np.linalg.norm(brow - chin)
    wide = float(np.linalg.norm(mesh[234] - mesh[454]))
    head = crown_of(mask, chin, up, wide)
    eyes = [(mesh[33] + mesh[133]) / 2, (mesh[362] + mesh[263]) / 2]
    return {"chin": chin, "up": up, "head": head, "eyes": eyes, "skull": np.array(held["skull_top"]), "wide": wide}  # fmt: skip


def angle(pair: Any) -> float:
    return math.degrees(math.atan2(pair[1][1] - pair[0][1], pair[1][0] - pair[0][0]))


def errors(face: Face, truth: dict[str, Any], settings: dict[str, Any]) -> dict[str, float]:
    """What is found less what is true."""
    up, head = truth["up"], truth["head"] / 100
    crown = float((np.array(face.crown) - truth["chin"]) @ up)
    chin = float((truth["chin"] - np.array(face.chin)) @ up)
    assert face.skull is not None and face.sides is not None and face.nod is not None
    true_eyes = float(np.linalg.norm(truth["eyes"][1] - truth["eyes"][0]))
    return {
        "crown": (crown - truth["head"]) / head,
        "chin": chin / head,
        "head height": (math.dist(face.crown, face.chin) - truth["head"]) / head,
        "skull": float((np.array(face.skull) - truth["skull"]) @ up) / head,
        "worse eye": max(math.dist(a, b) for a, b in zip(face.eyes, truth["eyes"], strict=True))
        / head,
        "eye distance": (math.dist(*face.eyes) - true_eyes) / head,
        "head width": (math.dist(*face.sides) - truth["wide"]) / head,
        "eye line": float((np.mean(face.eyes, 0) - np.mean(truth["eyes"], 0)) @ up) / head,
        "eyes across": float((np.mean(face.eyes, 0) - np.mean(truth["eyes"], 0)) @ (-up[1], up[0]))
        / head,
        "tilt": angle(face.eyes) - angle(truth["eyes"]),
        "turn": face.turn - settings["yaw"],
        "nod": face.nod - settings["pitch"],
    }


def cut_off(picture: Any, truth: dict[str, Any], share: float, end: str) -> Any:
    """The picture without so much of the head, in its height or its width."""
    chin, head = truth["chin"], truth["head"]
    if end == "crown":
        top = chin + truth["up"] * head
        return picture[max(0, round(float(top[1]) + share * head)) :]
    if end == "chin":
        return picture[: round(float(chin[1]) - share * head)]
    left = float(np.mean([eye[0] for eye in truth["eyes"]])) - truth["wide"] / 2
    return picture[:, max(0, round(left + share * truth["wide"])) :]


def eyes_truth(settings: dict[str, Any]) -> str:
    """Whether the eyes are open: half-closed lids are neither, and nothing is asked of them."""
    return "open" if settings["eye_open"] > 0.9 else "closed" if settings["eye_open"] < 0.1 else ""


def mouth_truth(settings: dict[str, Any]) -> str:
    return (
        "open" if settings["mouth_open"] > 0.4 else "closed" if settings["mouth_open"] == 0 else ""
    )


def answers(face: Face) -> dict[str, str]:
    """What is said of eyes and mouth; empty: nothing."""
    least, mouth = min(face.eyes_open), face.mouth_open or 0.0
    return {
        "eyes": "" if face.doubted or CLOSED < least < OPEN else "open" if least >= OPEN else "closed",
        "mouth": "" if MOUTH_CLOSED < mouth < MOUTH_OPEN else "open" if mouth >= MOUTH_OPEN else "closed",
    }  # fmt: skip


def said(name: str, values: list[float]) -> str:
    array = np.array(values)
    off = np.abs(array)
    return f"  {name:14} mean {array.mean():+6.2f}   19 of 20 {np.percentile(off, 95):5.2f}   largest {off.max():5.2f}"


def main() -> None:
    folder = Path(sys.argv[1])
    found: dict[str, list[float]] = defaultdict(list)
    by: dict[str, dict[str, list[float]]] = defaultdict(lambda: defaultdict(list))
    apart: dict[str, dict[str, list[float]]] = defaultdict(lambda: defaultdict(list))
    right: dict[str, list[str]] = defaultdict(list)
    none, doubted, whole_cut = 0, 0, 0
    noticed: dict[tuple[str, float], list[bool]] = defaultdict(list)
    paths = sorted(folder.glob("[0-9][0-9][0-9].json"))
    for path in paths:
        held = json.loads(path.read_text())
        picture = np.asarray(Image.open(path.with_suffix(".png")).convert("RGB"))
        mask = np.asarray(Image.open(path.with_name(path.stem + "-mask.png"))) / 255
        truth = truth_of(held, mask)
        faces = find_people(picture)
        if len(faces) != 1:
            none += 1
            continue
        whole_cut += "crown" in faces[0].cut or "chin" in faces[0].cut
        doubted += bool(faces[0].doubted)
        for name, value in errors(faces[0], truth, held["settings"]).items():
            if faces[0].doubted and name in OF_EYES:
                continue  # nothing is told by eyes that are doubted
            found[name].append(value)
            apart["bare eyes" if faces[0].bare_eyes else "something before the eyes"][name].append(value)  # fmt: skip
            if name in ("crown", "chin", "head height", "worse eye"):
                for kind, of in held["kinds"].items():
                    by[f"{kind} {of}"][name].append(value)
        told = answers(faces[0])
        for name, true in (
            ("eyes", eyes_truth(held["settings"])),
            ("mouth", mouth_truth(held["settings"])),
        ):
            if true:
                right[name].append("unknown" if not told[name] else "right" if told[name] == true else f"wrong: {true} taken for {told[name]}")  # fmt: skip
        for end in ("crown", "chin", "side"):
            for share in CUTS:
                seen = find_people(np.ascontiguousarray(cut_off(picture, truth, share, end)))
                if len(seen) == 1:
                    noticed[end, share].append(end in seen[0].cut)
    print(
        f"{len(paths)} portraits; no face, or not one, found in {none}; eyes doubted in {doubted};"
    )
    print(f"whole heads taken for cut at crown or chin: {whole_cut}")
    for title, table in ({"all": found} | apart).items():
        print(f"{title}: {len(table['tilt'])} whose eyes are told")
        for name, values in table.items():
            print(said(name, values))
    for kind, names in sorted(by.items()):
        print(kind + ": " + "   ".join(f"{n} {np.mean(v):+.2f} ({np.abs(v).max():.2f})" for n, v in names.items()))  # fmt: skip
    for name, all_told in right.items():
        print(f"{name}: " + ", ".join(f"{all_told.count(t)} {t}" for t in sorted(set(all_told))))
    for (end, share), all_ in noticed.items():
        print(f"cut at the {end} by {share:.0%}: {sum(all_)} of {len(all_)} noticed")
    measure_answers.main(folder)


if __name__ == "__main__":
    main()
