"""The places where a picture is seen: each is one module and one entry here."""

from aptandum.ui.bench.mockups.banner import BannerScene
from aptandum.ui.bench.mockups.base import Scene
from aptandum.ui.bench.mockups.card import CardScene
from aptandum.ui.bench.mockups.corner import CornerScene
from aptandum.ui.bench.mockups.grid import GridScene
from aptandum.ui.bench.mockups.handset import HandsetScene
from aptandum.ui.bench.mockups.panel import PanelScene
from aptandum.ui.bench.mockups.print import PrintScene
from aptandum.ui.bench.mockups.projection import ProjectionScene
from aptandum.ui.bench.mockups.strip import StripScene
from aptandum.ui.bench.mockups.tint import TintScene

SCENES: tuple[type[Scene], ...] = (
    CardScene,
    PrintScene,
    ProjectionScene,
    HandsetScene,
    GridScene,
    TintScene,
    CornerScene,
    StripScene,
    PanelScene,
    BannerScene,
)
