"""A kite from end to end: panels filled at once, a figure, a line and a caption over one of them."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from aptandum.core.judge.polygons import gaps, inside
from driving import choose, drop, on_sheet, stroke, wait
from samples import DEMO, PATIENCE

LEFT = Qt.MouseButton.LeftButton


def panels_of(shell):
    return shell.session.bench.fitting.settings.finish.panels


def begin(qtbot, shell):
    drop(shell, DEMO / "blue_jug_03.jpg")
    shell.start.choose("windhover-kites/two-sail-kite")
    wait(qtbot, shell)
    shell.open_finish("panels")
    return shell.bench.cards["finish"].parts["panels"]


@pytest.mark.long
def test_photos_that_are_dropped_together_fill_panel_after_panel(qtbot, shell):
    part = begin(qtbot, shell)
    names = ["lantern_quay_dusk.jpg", "tobin_oar_0212.jpg", "night_moor_stack.jpg"]
    drop(shell, *(DEMO / name for name in names))
    fills = {fill.panel: fill.source.rpartition("/")[2] for fill in panels_of(shell).fills}
    assert fills == dict(zip(["left sail", "right sail", "keel"], names, strict=True))
    assert len(shell.session.docket.fittings) == 1 and part.panel == "left sail"
    shell.session.store.undo()  # all of them are one step
    assert not panels_of(shell).fills


@pytest.mark.long
def test_a_kite_with_a_texture_a_figure_a_line_and_a_caption(qtbot, shell):
    part = begin(qtbot, shell)
    shell.session.photos.take([str(DEMO / "tobin_oar_0212.jpg")])
    bench, template = shell.bench, shell.session.bench.line.finish.given.template
    choose(part.kind, "texture")
    choose(part.source, "planks")
    qtbot.mouseClick(part.all, LEFT)
    assert [(f.panel, f.source) for f in panels_of(shell).fills] == [
        (panel.name, "planks") for panel in template.panels
    ]
    # a figure out of another photo, made smaller, dragged on the sheet in one step
    over = part.layers
    qtbot.mouseClick(over.adds["figure"], LEFT)
    choose(over.source, str(DEMO / "tobin_oar_0212.jpg"))
    field = over.numbers["wide"]
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "45")
    QTest.keyClick(field, Qt.Key.Key_Return)
    wait(qtbot, shell)
    (figure,) = panels_of(shell).of("left sail").layers
    assert figure.kind == "figure" and figure.wide == 0.45
    start = on_sheet(bench.sheet, 0.26, 0.3)
    stroke(bench.sheet, start, start + QPoint(20, -10))
    (moved,) = panels_of(shell).of("left sail").layers
    assert moved.at[0] > 0.53 and moved.at[1] < 0.49
    shell.session.store.undo()
    assert panels_of(shell).of("left sail").layers == (figure,)
    shell.session.store.redo()
    # the sea over it, up to a line that is drawn from left to right
    qtbot.mouseClick(over.adds["colour"], LEFT)
    qtbot.mouseClick(over.line, LEFT)
    stroke(bench.sheet, on_sheet(bench.sheet, 0.04, 0.4), on_sheet(bench.sheet, 0.48, 0.4))
    wait(qtbot, shell)
    sea = panels_of(shell).of("left sail").layers[1]
    assert len(sea.edge) >= 4 and over.no_line.isVisible()
    # lower than the figure, and back again
    qtbot.mouseClick(over.down, LEFT)
    assert [one.kind for one in panels_of(shell).of("left sail").layers] == ["colour", "figure"]
    wait(qtbot, shell)
    qtbot.mouseClick(over.up, LEFT)
    assert [one.kind for one in panels_of(shell).of("left sail").layers] == ["figure", "colour"]
    # a press on the figure takes hold of it, and it is the one that is set
    at = on_sheet(bench.sheet, 0.27, 0.3)
    QTest.mouseClick(bench.sheet, LEFT, pos=at)
    assert over.number == 1
    shell.open_finish("caption")
    words = bench.cards["finish"].parts["caption"]
    words.text.setFocus()
    QTest.keyClicks(words.text, "KITE")
    choose(words.panels, "right sail")
    wait(qtbot, shell)
    qtbot.mouseClick(bench.act, LEFT)
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    proof = shell.session.bench.proof
    pixels = np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("RGBA")).astype(int)
    assert (pixels[..., 3][gaps(template)] == 0).all()
    left = inside(template.panels[0].outline, template.size)
    assert (pixels[..., 3][left] == 255).all()
    # below the line all is the layer's white, darkened by the brief's shade alone; above it is not
    low = pixels[280:290, 200:340, :3]
    assert np.ptp(low, axis=2).max() < 24 and low.mean() > 150
    assert pixels[40:200, 60:340, :3][left[40:200, 60:340]].std() > 15
    told = " ".join(act.does for act in proof.record)
    assert "left sail with a texture, over it a figure and a colour" in told and "KITE" in told
    assert proof.findings.of("kept_empty").verdict == "meets"
    assert proof.ready, [f.says for f in proof.findings.findings]
