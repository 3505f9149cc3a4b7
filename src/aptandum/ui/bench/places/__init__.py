"""The places where a picture is seen: each is one module and one entry here."""

from aptandum.ui.bench.places.banner import BannerScene
from aptandum.ui.bench.places.base import Scene
from aptandum.ui.bench.places.card import CardScene
from aptandum.ui.bench.places.corner import CornerScene
from aptandum.ui.bench.places.grid import GridScene
from aptandum.ui.bench.places.handset import HandsetScene
from aptandum.ui.bench.places.panel import PanelScene
from aptandum.ui.bench.places.print import PrintScene
from aptandum.ui.bench.places.projection import ProjectionScene
from aptandum.ui.bench.places.strip import StripScene
from aptandum.ui.bench.places.tint import TintScene

SCENES: tuple[type[Scene], ...] = (
    CardScene, PrintScene, ProjectionScene, HandsetScene, GridScene, TintScene, CornerScene,
    StripScene, PanelScene, BannerScene,
)  # fmt: skip
