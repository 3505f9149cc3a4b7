"""Takes out of an environment what the application never reaches, and prints what each part weighed.

    leave_out.py SITE_PACKAGES

What Qt's parts need of one another is read from the files themselves (readelf), so that nothing is guessed.
"""

from __future__ import annotations

import re
import shutil
import subprocess
import sys
from pathlib import Path

QT_MODULES = {"QtCore", "QtDBus", "QtGui", "QtSvg", "QtWidgets", "sip"}
QT_PLUGINS: dict[str, set[str] | None] = {
    "platforms": {"libqxcb.so", "libqoffscreen.so", "libqminimal.so", "libqwayland.so", "libqwayland-egl.so",
                  "libqwayland-generic.so"},
    "xcbglintegrations": None,
    "imageformats": {"libqsvg.so", "libqjpeg.so"},
    "iconengines": None,
    "platforminputcontexts": {"libcomposeplatforminputcontextplugin.so", "libibusplatforminputcontextplugin.so"},
    "platformthemes": {"libqxdgdesktopportal.so"},
    "wayland-shell-integration": None,
    "wayland-decoration-client": None,
    "wayland-graphics-integration-client": {"libqt-plugin-wayland-egl.so"},
}  # fmt: skip
"""Plugins that stay, by folder; ``None``: all of a folder."""
FONTTOOLS = (
    "voltLib",
    "otlLib",
    "designspaceLib",
    "ufoLib",
    "svgLib",
    "qu2cu",
    "cu2qu",
    "mtiLib",
    "merge",
    "t1Lib",
    "varLib",
    "subset",
    "cffLib",
    "colorLib",
    "diff",
    "unicodedata",
)
"""What it has for making fonts; ours are unpacked with it and no more."""
FEATURES = {"__init__.py", "lookupDebugInfo.py"}
"""What its reader of tables takes from the compiler of features."""
NUMPY = ("f2py", "distutils", "tests", "testing/tests", "_pyinstaller", "doc", "_core/include", "_core/lib",
         "random/lib", "core/include")  # fmt: skip
LITERT = {"__init__.py", "interpreter.py", "metrics_interface.py", "metrics_portable.py", "_pywrap_litert_interpreter_wrapper.so",
          "libpywrap_litert_common.so"}  # fmt: skip
"""What runs a network; the rest makes them, or runs them on hardware of other kinds."""
NOT_ASKED = ("flatbuffers", "google", "ml_dtypes", "tqdm", "backports")
"""What LiteRT names beside itself, for that rest."""
LEXERS = {"__init__.py", "_mapping.py", "python.py", "special.py", "_lua_builtins.py"}


def weight(folder: Path) -> int:
    """Bytes of all files below a folder."""
    return sum(
        file.lstat().st_size
        for file in folder.rglob("*")
        if file.is_file() and not file.is_symlink()
    )


def remove(path: Path) -> None:
    """A file or a folder, where it is there."""
    if path.is_dir() and not path.is_symlink():
        shutil.rmtree(path)
    elif path.exists() or path.is_symlink():
        path.unlink()


def needed(file: Path) -> list[str]:
    """Names of the libraries that one is linked to."""
    said = subprocess.run(
        ["readelf", "-d", file], capture_output=True, text=True, check=True
    ).stdout
    return re.findall(r"NEEDED.*\[(.+)\]", said)


def qt(site: Path) -> None:
    """Modules, plugins and libraries of Qt that nothing reaches."""
    bound, whole = site / "PyQt6", site / "PyQt6/Qt6"
    for file in bound.glob("*.so"):
        if file.name.split(".")[0] not in QT_MODULES:
            remove(file)
    for name in ("bindings", "uic", "lupdate"):
        remove(bound / name)
    for name in ("qml", "qsci", "translations", "resources", "libexec"):
        remove(whole / name)
    for folder in (whole / "plugins").iterdir():
        kept = QT_PLUGINS.get(folder.name, set())
        for file in folder.iterdir():
            if kept is not None and file.name not in kept:
                remove(file)
        if not any(folder.iterdir()):
            folder.rmdir()
    todo, reached = [*bound.glob("*.so"), *(whole / "plugins").rglob("*.so")], set()
    while todo:
        for name in needed(todo.pop()):
            file = whole / "lib" / name
            if file.exists() and name not in reached:
                reached.add(name)
                todo.append(file)
    for file in (whole / "lib").iterdir():
        if file.name not in reached:
            remove(file)


def arrays(site: Path) -> None:
    """What NumPy, OpenCV, ReportLab and fontTools bring for those who build upon them."""
    remove(site / "cv2/data")
    for name in ("barcode", "charts", "samples"):
        remove(site / "reportlab/graphics" / name)
    for file in (site / "reportlab/fonts").glob("*"):
        if file.suffix in (".sfd", ".fog"):
            remove(file)
    for name in NUMPY:
        remove(site / "numpy" / name)
    for pattern in ("*.a", "*_tests.cpython*.so", "_*_tests*.so"):
        for file in (site / "numpy").rglob(pattern):
            remove(file)
    for file in (site / "numpy/_core").glob("_simd.*.so"):  # what its own tests call
        remove(file)
    for name in FONTTOOLS:
        remove(site / "fontTools" / name)
    for file in (site / "fontTools/feaLib").iterdir():
        if file.name not in FEATURES:
            remove(file)
    for file in (site / "fontTools").rglob("*.c"):
        remove(file)


def networks(site: Path) -> None:
    """What LiteRT brings for those who make networks."""
    for file in (site / "ai_edge_litert").iterdir():
        if file.name not in LITERT:
            remove(file)
    for name in NOT_ASKED:
        remove(site / name)
    subprocess.run(["strip", "--strip-unneeded", site / "ai_edge_litert/libpywrap_litert_common.so"], check=True)  # fmt: skip


def for_authors(site: Path) -> None:
    """Tests, types and headers, installers, and what only colours source code."""
    for name in ("tests", "test"):
        for folder in list(site.rglob(name)):
            if folder.is_dir() and "click" not in folder.parts and "_click" not in folder.parts:
                remove(folder)
    for pattern in ("*.pyi", "*.pxd", "*.pyx", "*.h", "*.hpp"):
        for file in list(site.rglob(pattern)):
            remove(file)
    for name in (
        "setuptools",
        "pkg_resources",
        "_distutils_hack",
        "pip",
        "distutils-precedence.pth",
    ):
        remove(site / name)
    for pattern in ("setuptools-*", "pip-*"):
        for folder in site.glob(pattern):
            remove(folder)
    for file in (site / "pygments/lexers").glob("*"):
        if file.name not in LEXERS:
            remove(file)


def symbols(site: Path) -> None:
    """Names for debuggers in the extension modules. Libraries that wheels bring along are left as they are: NumPy's
    cannot be loaded any more afterwards."""
    for file in [*site.rglob("*.cpython-*.so"), *(site / "PyQt6").glob("*.so")]:
        if "numpy" not in file.parts:
            subprocess.run(["strip", "--strip-unneeded", file], check=True)


def main() -> None:
    """Take it out, part by part."""
    site = Path(sys.argv[1])
    for folder in list(site.rglob("__pycache__")):
        remove(folder)
    at = weight(site)
    print(f"{'as installed':<44}{at / 1e6:8.1f} MB")
    for words, step in (
        ("Qt: modules, plugins and libraries not reached", qt),
        ("NumPy, OpenCV, fontTools: for builders", arrays),
        ("LiteRT: for makers of networks", networks),
        ("tests, types, headers, installers", for_authors),
        ("names for debuggers", symbols),
    ):
        step(site)
        now = weight(site)
        print(f"{words:<44}{now / 1e6:8.1f} MB  ({(now - at) / 1e6:+.1f})")
        at = now


if __name__ == "__main__":
    main()
