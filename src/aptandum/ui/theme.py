"""All colours, sizes and fonts of the interface, and the style sheet made from them."""

from __future__ import annotations

import atexit
import os
import re
import tempfile
from dataclasses import replace
from functools import lru_cache
from importlib import resources
from pathlib import Path

from platformdirs import user_cache_path
from PyQt6.QtCore import QByteArray, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QIcon, QPainter, QPalette, QPixmap
from PyQt6.QtSvg import QSvgRenderer

from aptandum.core.atomic import write_atomic
from aptandum.core.frozen import frozen


@frozen
class Palette:
    """Neutral greys round pictures (ISO 3664), one drafting blue for what can be acted on.

    Every tone of text is 4.5 : 1 or more on every ground, and ``outline``, the edge of what can be acted on, 3 : 1 (WCAG 2);
    a ``hairline`` parts what a space would part as well.
    """

    window: str
    panel: str
    field: str
    hairline: str
    outline: str
    ink: str
    ink2: str
    blue: str
    blue_soft: str
    on_blue: str
    meets: str
    misses: str
    misses_soft: str
    advises: str
    asks: str
    unknown: str
    idle: str
    rail: str
    meets_band: str
    misses_band: str
    advises_band: str


LIGHT = Palette(
    window="#E9E9E7",
    panel="#F6F6F4",
    field="#FFFFFF",
    hairline="#D2D3D2",
    outline="#7A8187",
    ink="#1D2630",
    ink2="#56606A",
    blue="#27508C",
    blue_soft="#DEE5F1",
    on_blue="#FFFFFF",
    meets="#146C54",
    misses="#B1341E",
    misses_soft="#FBEDE9",
    advises="#7F5400",
    asks="#67479A",
    unknown="#56606A",
    idle="#5C656E",
    rail="#E1E2E0",
    meets_band="#BFDDD2",
    misses_band="#ECC9C1",
    advises_band="#EAD9AC",
)
DIM = Palette(
    window="#202122",
    panel="#292A2B",
    field="#1B1C1D",
    hairline="#434547",
    outline="#83888C",
    ink="#DBDDDF",
    ink2="#A9B0B7",
    blue="#8FB4E8",
    blue_soft="#30394A",
    on_blue="#14181D",
    meets="#6CC7A6",
    misses="#F09A86",
    misses_soft="#43302C",
    advises="#DDB565",
    asks="#BFA4E8",
    unknown="#A9B0B7",
    idle="#A3A9B0",
    rail="#3A3C3E",
    meets_band="#2F5247",
    misses_band="#5B3B34",
    advises_band="#55482A",
)

SURROUNDS = ("#FFFFFF", "#BFBFBF", "#7A7A7A", "#2C2C2C", "#000000")
"""Tones of the sheet's ground, white to black; the second is where a sheet begins."""

UNIT = 8
LEDGER_WIDTH = 312
CARD_WIDTH = 280
RADIUS = 4

LIGHT_CLEAR = replace(
    LIGHT, window="#FFFFFF", panel="#FFFFFF", hairline="#5A6068", outline="#3F454C", ink="#000000", ink2="#20262C", blue="#0B3A86",
    meets="#00563C", misses="#8E1400", advises="#5C3B00", asks="#43207A", unknown="#20262C", idle="#4A5058",
    rail="#F0F0EE",
)  # fmt: skip
DIM_CLEAR = replace(
    DIM, window="#000000", panel="#000000", field="#000000", hairline="#9AA0A6", outline="#C2C7CC", ink="#FFFFFF", ink2="#E2E6EA",
    blue="#A9CBFF", on_blue="#000000", meets="#7FE8C0", misses="#FFB3A3", advises="#FFD780", asks="#D9C0FF",
    unknown="#E2E6EA", idle="#B9BEC4",
)  # fmt: skip
"""The same two with more contrast, for whoever asks the system or us for it (WCAG 2, contrast 7 : 1)."""

_palette = LIGHT
_scale = 1.0
SMALLEST, LARGEST = 0.85, 1.4
"""How much smaller or larger texts may be made."""


def scale() -> float:
    """How many times as large as usual texts are."""
    return _scale


def use_scale(new: float) -> bool:
    """Make texts so many times as large as usual from now on; whether anything has changed."""
    global _scale
    new = min(max(new, SMALLEST), LARGEST)
    if new == _scale:
        return False
    _scale = new
    font.cache_clear()
    return True


def px(size: float) -> int:
    """A length that follows the size of texts, in pixels: the height of a row, the width of a name."""
    return round(size * _scale)


def scaled(sheet: str) -> str:
    """A style sheet whose texts follow their size."""
    return re.sub(r"font-size: (\d+)px", lambda found: f"font-size: {px(int(found[1]))}px", sheet)


def palette() -> Palette:
    """The palette in use."""
    return _palette


def use(new: Palette) -> None:
    """Use another palette from now on."""
    global _palette
    if new is _palette:
        return
    _palette = new
    icon.cache_clear()
    colour.cache_clear()


@lru_cache(maxsize=256)
def colour(name: str, alpha: float = 1.0) -> QColor:
    """A palette colour by its token, optionally translucent; not to be changed by whoever asks."""
    made = QColor(getattr(_palette, name))
    made.setAlphaF(alpha)
    return made


def qt_palette() -> QPalette:
    """The palette for what no style sheet reaches: ticks and marks in boxes, file dialogs."""
    made = QPalette()
    role = QPalette.ColorRole
    for token, roles in (
        ("window", (role.Window, role.AlternateBase, role.Button)),
        ("field", (role.Base, role.ToolTipBase)),
        ("ink", (role.WindowText, role.Text, role.ButtonText, role.ToolTipText)),
        ("ink2", (role.PlaceholderText,)),
        ("blue", (role.Highlight, role.Link, role.Accent)),
        ("on_blue", (role.HighlightedText,)),
    ):
        for one in roles:
            made.setColor(one, colour(token))
    for one in (role.WindowText, role.Text, role.ButtonText):
        made.setColor(QPalette.ColorGroup.Disabled, one, colour("idle"))
    return made


@lru_cache(maxsize=1)
def load_fonts() -> tuple[str, ...]:
    """Register the shipped fonts and return their family names."""
    folder = Path(str(resources.files("aptandum.data").joinpath("fonts")))
    families: list[str] = []
    for path in sorted(folder.glob("*.woff")):
        handle = QFontDatabase.addApplicationFont(str(path))
        families += QFontDatabase.applicationFontFamilies(handle)
    return tuple(dict.fromkeys(families))


SANS, CONDENSED, MONO = "IBM Plex Sans", "IBM Plex Sans Condensed", "IBM Plex Mono"


@lru_cache(maxsize=128)
def font(family: str = SANS, size: int = 13, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """A font by family and pixel size; not to be changed by whoever asks."""
    made = QFont(family)
    made.setPixelSize(px(size))
    made.setWeight(weight)
    return made


def text(size: int = 13, bold: bool = False) -> QFont:
    """The font of running text, in pixels."""
    return font(SANS, size, QFont.Weight.DemiBold if bold else QFont.Weight.Normal)


def medium(size: int = 13) -> QFont:
    """The font of names and buttons, in pixels."""
    return font(SANS, size, QFont.Weight.Medium)


def tight(size: int = 12, bold: bool = False) -> QFont:
    """The narrow font of rows and marks, in pixels."""
    return font(CONDENSED, size, QFont.Weight.DemiBold if bold else QFont.Weight.Normal)


def figures(size: int = 12, bold: bool = False) -> QFont:
    """The font of figures, whose digits are equally wide, in pixels."""
    return font(MONO, size, QFont.Weight.DemiBold if bold else QFont.Weight.Medium)


def drawing(name: str) -> str:
    """The path of a shipped drawing."""
    return str(resources.files("aptandum.data").joinpath(f"icons/{name}.svg"))


@lru_cache(maxsize=128)
def icon(name: str, token: str = "ink", size: int = 18) -> QIcon:
    """A shipped line icon in a palette colour."""
    path = Path(str(resources.files("aptandum.data").joinpath(f"icons/{name}.svg")))
    svg = path.read_text("utf-8").replace("currentColor", getattr(_palette, token))
    renderer = QSvgRenderer(QByteArray(svg.encode()))
    pixmap = QPixmap(size * 2, size * 2)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    renderer.render(painter, QRectF(0, 0, size * 2, size * 2))
    painter.end()
    pixmap.setDevicePixelRatio(2)
    return QIcon(pixmap)


@lru_cache(maxsize=16)
def _drawn_file(name: str, colour_: str) -> str:
    """A drawing as a file, which is how a style sheet takes a picture; one small file per colour, kept
    for the next time."""
    svg = Path(drawing(name)).read_text("utf-8").replace("currentColor", colour_)
    svg = svg.replace('stroke-width="2"', 'stroke-width="3.4"')
    made = user_cache_path("aptandum", appauthor=False) / f"{name}-{colour_[1:]}.svg"
    try:
        made.parent.mkdir(parents=True, exist_ok=True)
        write_atomic(made, svg)
    except OSError:  # nowhere to keep it: it goes with the process
        handle, name = tempfile.mkstemp(prefix="aptandum-", suffix=".svg")
        os.close(handle)
        made = Path(name)
        made.write_text(svg, "utf-8")
        atexit.register(made.unlink, missing_ok=True)
    return made.as_posix()


def style_sheet() -> str:
    """The style of every widget, in the colours of the palette in use."""
    return scaled(_surfaces(_palette) + _fields(_palette))


def _surfaces(p: Palette) -> str:
    return f"""
    * {{ font-family: "{SANS}"; font-size: 13px; color: {p.ink}; }}
    QMainWindow, QDialog {{ background: {p.window}; }}
    QToolTip {{ background: {p.panel}; color: {p.ink}; border: 1px solid {p.hairline};
        padding: 4px 6px; }}
    QLabel {{ background: transparent; }}
    QLabel[role="title"] {{ font-size: 16px; font-weight: 600; }}
    QLabel[role="big"] {{ font-size: 26px; font-weight: 600; }}
    QLabel[role="second"] {{ color: {p.ink2}; font-size: 12px; }}
    QLabel[role="figure"] {{ font-family: "{MONO}"; font-size: 12px; font-weight: 500; }}
    QLabel[role="rule"] {{ color: {p.ink2}; font-size: 11px; }}
    QWidget[role="panel"] {{ background: {p.panel}; }}
    QFrame[role="hairline"] {{ background: {p.hairline}; border: none; max-height: 1px;
        min-height: 1px; }}
    QPushButton {{ background: {p.field}; border: 1px solid {p.outline};
        border-radius: {RADIUS}px; padding: 7px 14px; font-weight: 500; }}
    QPushButton:hover {{ border-color: {p.blue}; }}
    QPushButton:focus {{ border: 2px solid {p.blue}; padding: 6px 13px; }}
    QPushButton:disabled {{ color: {p.idle}; background: {p.window}; border-color: {p.hairline}; }}
    QPushButton[role="act"] {{ background: {p.blue}; color: {p.on_blue}; border-color: {p.blue};
        font-size: 14px; font-weight: 600; padding: 8px 14px; }}
    QPushButton[role="act"]:hover {{ border-color: {p.ink}; }}
    QPushButton[role="act"]:focus {{ border: 2px solid {p.ink}; padding: 7px 13px; }}
    QPushButton[role="act"]:disabled {{ background: {p.rail}; color: {p.ink2};
        border-color: {p.hairline}; }}
    QPushButton[role="line"] {{ color: {p.blue}; border-color: {p.blue}; font-weight: 600; }}
    QPushButton[role="link"] {{ background: transparent; border: none; color: {p.blue};
        font-weight: 600; padding: 2px 0; text-align: left; }}
    QPushButton[role="link"]:hover {{ text-decoration: underline; }}
    QPushButton[role="link"]:disabled {{ color: {p.idle}; }}
    QPushButton[role="link"]:focus {{ border-bottom: 2px solid {p.blue}; }}
    QPushButton[role="view"] {{ background: transparent; border: 1px solid transparent;
        padding: 4px 10px; }}
    QPushButton[role="view"][tight="true"] {{ padding: 4px 4px; font-family: "{CONDENSED}"; }}
    QPushButton[role="view"]:checked {{ background: {p.field}; }}
    QPushButton[role="view"]:focus {{ border: 2px solid {p.blue}; padding: 3px 9px; }}
    """


def _fields(p: Palette) -> str:
    return f"""
    QLineEdit, QComboBox {{ background: {p.field}; border: 1px solid {p.outline};
        border-radius: 3px; padding: 4px 6px; selection-background-color: {p.blue};
        selection-color: {p.on_blue}; }}
    QLineEdit, QPlainTextEdit {{ placeholder-text-color: {p.ink2}; }}
    QLineEdit[role="number"] {{ font-family: "{MONO}"; font-weight: 500; }}
    QLineEdit:focus, QComboBox:focus {{ border: 2px solid {p.blue}; padding: 3px 5px; }}
    QPlainTextEdit {{ background: {p.field}; border: 1px solid {p.outline};
        border-radius: 3px; padding: 2px 3px; selection-background-color: {p.blue};
        selection-color: {p.on_blue}; }}
    QPlainTextEdit:focus {{ border: 2px solid {p.blue}; padding: 1px 2px; }}
    QLineEdit[bad="true"], QPlainTextEdit[bad="true"] {{ border-color: {p.misses}; background: {p.misses_soft}; }}
    QComboBox::drop-down {{ border: none; width: 18px; }}
    QComboBox QAbstractItemView, QListWidget, QMenu {{ background: {p.panel};
        border: 1px solid {p.hairline}; selection-background-color: {p.blue_soft};
        selection-color: {p.ink}; outline: 0; }}
    QListWidget::item {{ padding: 5px 8px; }}
    QMenu::item {{ padding: 5px 24px 5px 14px; }}
    QMenu::item:selected {{ background: {p.blue_soft}; }}
    QMenu::item:disabled {{ color: {p.idle}; }}
    QMenuBar {{ background: {p.panel}; border: none; }}
    QMenuBar::item {{ padding: 4px 9px; background: transparent; }}
    QMenuBar::item:selected, QMenuBar::item:pressed {{ background: {p.blue_soft}; }}
    QMenu::separator {{ height: 1px; background: {p.hairline}; margin: 4px 0; }}
    QSlider::groove:horizontal {{ height: 2px; background: {p.ink2}; }}
    QSlider::handle:horizontal {{ width: 9px; margin: -7px 0; background: {p.blue};
        border-radius: 2px; }}
    QSlider:focus {{ border: 1px dotted {p.blue}; }}
    QRadioButton:disabled, QCheckBox:disabled {{ color: {p.idle}; }}
    QCheckBox::indicator, QRadioButton::indicator {{ width: 13px; height: 13px;
        border: 1px solid {p.ink2}; background: {p.field}; border-radius: 2px; }}
    QRadioButton::indicator {{ border-radius: 7px; }}
    QCheckBox::indicator:checked {{ image: url("{_drawn_file("check", p.ink)}"); }}
    QRadioButton::indicator:checked {{ width: 7px; height: 7px; border: 4px solid {p.ink}; }}
    QCheckBox::indicator:focus {{ border-color: {p.blue}; border-width: 2px; width: 11px;
        height: 11px; }}
    QCheckBox::indicator:disabled, QRadioButton::indicator:disabled {{
        border-color: {p.hairline}; }}
    QScrollArea {{ border: none; background: transparent; }}
    QScrollBar:vertical {{ background: transparent; width: 8px; margin: 0; }}
    QScrollBar::handle:vertical {{ background: {p.outline}; border-radius: 4px;
        min-height: 30px; }}
    QScrollBar:horizontal {{ background: transparent; height: 8px; margin: 0; }}
    QScrollBar::handle:horizontal {{ background: {p.outline}; border-radius: 4px;
        min-width: 30px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; border: none; }}
    QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
    """
