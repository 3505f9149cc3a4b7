"""Puts empty libraries in the place of those that are linked and never used: OpenCV's for video and for large matrices, and
the one by which HEIC would be written, which we only read.

    stand_ins.py SITE_PACKAGES

Each keeps its name (soname), its versions and those of its symbols that are asked for. They give nothing back (of
a list of encoders: none); whoever calls one of OpenCV's ends the process, which no function that we use does.
"""

from __future__ import annotations

import re
import subprocess
import sys
import tempfile
from collections import defaultdict
from pathlib import Path

from leave_out import needed

VIDEO = ("libavcodec", "libavformat", "libavutil", "libswscale")
MATRICES = ("libopenblas",)
"""OpenCV asks it for products of 100 rows and more and for solving 25 unknowns and more; ours are of three."""


def _symbols(file: Path, which: str) -> list[list[str]]:
    said = subprocess.run(["nm", "-D", which, file], capture_output=True, text=True, check=True)
    return [line.split() for line in said.stdout.splitlines()]


def _soname(file: Path) -> str:
    said = subprocess.run(
        ["readelf", "-d", file], capture_output=True, text=True, check=True
    ).stdout
    return re.findall(r"SONAME.*\[(.+)\]", said)[0]


def replace(file: Path, asked: list[str], body: str) -> None:
    """Put a stand-in in a library's place.

    Args:
        asked: the symbols that are asked for, each with its version, where they have one.
        body: what each of its functions does, in C.
    """
    defined = {words[-1].split("@")[0]: words[-2] for words in _symbols(file, "--defined-only")}
    by_version: dict[str, set[str]] = defaultdict(set)
    for symbol in asked:
        name, _, version = symbol.partition("@")
        if name in defined:
            if defined[name] not in "TtWi":
                raise SystemExit(f"{file.name}: {name} is no function")
            by_version[version].add(name)
    code = "#include <stdlib.h>\n" + "".join(
        f"void *{name}(void) {{{body}}}\n"
        for names in by_version.values()
        for name in sorted(names)
    )
    script = "".join(
        f"{version} {{ global: {'; '.join(sorted(names))}; }};\n"
        for version, names in by_version.items()
        if version
    )
    soname = _soname(file)
    with tempfile.TemporaryDirectory() as folder:
        source, versions = Path(folder, "empty.c"), Path(folder, "versions")
        source.write_text(code)
        versions.write_text(script)
        file.unlink()
        subprocess.run(
            ["gcc", "-w", "-fno-builtin", "-shared", "-fPIC", "-Os", "-s", f"-Wl,-soname,{soname}",
             *([f"-Wl,--version-script={versions}"] if script else []), "-o", file, source],
            check=True,
        )  # fmt: skip


def stand_in(folder: Path, user: Path, prefixes: tuple[str, ...], body: str) -> int:
    """Replace the libraries of a folder whose names begin so, and take away what only they needed.

    Args:
        user: the library that asks for them.

    Returns:
        the bytes that were saved.
    """
    before = sum(file.stat().st_size for file in folder.iterdir())
    asked = [words[-1] for words in _symbols(user, "--undefined-only")]
    replaced = [file for file in folder.iterdir() if file.name.startswith(prefixes)]
    for file in replaced:
        replace(file, asked, body)
    outside = [user] if user.parent != folder else list(folder.parent.glob("_pillow_heif*.so"))
    kept: set[str] = set()
    todo = [*outside, *replaced]
    while todo:
        for name in needed(todo.pop()):
            if (folder / name).exists() and name not in kept:
                kept.add(name)
                todo.append(folder / name)
    for file in folder.iterdir():
        if file.name not in kept:
            file.unlink()
    return before - sum(file.stat().st_size for file in folder.iterdir())


def main() -> None:
    """Replace them."""
    site = Path(sys.argv[1])
    opencv = next((site / "cv2").glob("cv2*.so"))
    saved = stand_in(site / "opencv_python_headless.libs", opencv, VIDEO, "abort();")
    print(f"{'OpenCV: stand-ins for video, never called':<44}{'':8}     ({-saved / 1e6:+.1f})")
    saved = stand_in(site / "opencv_python_headless.libs", opencv, MATRICES, "abort();")
    print(f"{'OpenCV: a stand-in for large matrices':<44}{'':8}     ({-saved / 1e6:+.1f})")
    libraries = site / "pillow_heif.libs"
    saved = stand_in(libraries, next(libraries.glob("libheif-*")), ("libx265",), "return 0;")
    print(f"{'libheif: a stand-in for writing HEIC':<44}{'':8}     ({-saved / 1e6:+.1f})")


if __name__ == "__main__":
    main()
