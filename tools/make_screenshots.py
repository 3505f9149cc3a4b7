"""Make the pictures in docs/screenshots from the demo docket, at 1280 x 800.

python tools/make_screenshots.py [--out FOLDER] [NAME …]
"""

from __future__ import annotations

import argparse
import os
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
# Nobody's own rulebooks and dockets in the pictures.
os.environ["XDG_DATA_HOME"] = os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()

import pypdfium2
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QScrollArea, QWidget

from aptandum.core.docket.reported import gather
from aptandum.core.photo.profile import shipped
from aptandum.core.report import Report
from aptandum.core.report.pdf import pdf
from aptandum.ui import preferences, theme
from aptandum.ui.app import application, open_shell
from aptandum.ui.bench.views import PLACE
from aptandum.ui.docket_acts import demo_path, own_demo
from aptandum.ui.photo_dialog import Preview, photo_dialog
from aptandum.ui.shell import Shell

ROOT = Path(__file__).resolve().parent.parent
DEMO = demo_path().parent


def own_home() -> None:
    """What one view leaves behind (files handed over, recent dockets) is not seen in the next."""
    home = tempfile.mkdtemp()
    for name in ("XDG_DATA_HOME", "XDG_STATE_HOME", "XDG_DOCUMENTS_DIR", "XDG_PICTURES_DIR"):
        os.environ[name] = f"{home}/Documents" if name == "XDG_DOCUMENTS_DIR" else home


def settle(shell: Shell, seconds: float = 20) -> None:
    """Wait until nothing is being worked on and nothing is about to be."""
    session = shell.session
    end = time.monotonic() + seconds
    quiet = 0
    while time.monotonic() < end and quiet < 12:
        QApplication.processEvents()
        time.sleep(0.02)
        bench = session.bench
        ready = bench is None or (bench.preview is not None and bench.draft_is_current)
        quiet = quiet + 1 if ready and not session.jobs.busy else 0


def demo(photo: str = "", brief: str = "") -> Shell:
    shell = open_shell(demo=True)
    shell.message.hide()
    if photo:
        for fitting in shell.session.docket.fittings:
            path = shell.session.docket.photo(fitting.photo).path
            if Path(path).name.startswith(photo) and fitting.brief.endswith(brief):
                shell.session.model.lay(fitting.id)
                break
    return shell


def start() -> Shell:
    """The three doors: a body on the shelf, rules in words as they are read, and a file."""
    shell = open_shell()
    words = shell.start.words
    words.field.setPlainText(
        "Portrait of 600 x 800 px, JPEG, no more than 240 kB. The head takes 62 to 70 % of the height. "
        "Files of 60 kB. Plain light background, no glasses. Open daily from 9:00."
    )
    until(lambda: words.reading is not None)
    return shell


def bench_proof() -> Shell:
    shell = demo()
    settle(shell)
    shell.session.making.conform()
    until(lambda: shell.session.bench is not None and shell.session.bench.proof is not None)
    settle(shell)
    shell.session.answers.confirm("expression", True)
    return shell


def bench_dim() -> Shell:
    preferences.keep(look="dim")
    theme.use(theme.DIM)
    shell = demo("lantern", "night-round")
    settle(shell)
    shell.bench.open_station("colour")
    shell.bench.set_tone(3)
    return shell


def rulebooks(brief: str, photo: str = "") -> Shell:
    """The place of rulebooks with a brief, and one photo of the docket chosen on the chart."""
    shell = demo()
    shell.resize(1280, 800)
    shell.show()
    shell.go("rulebooks")
    settle(shell)
    shell.rulebooks.show_brief(brief)
    chart = shell.rulebooks.chart
    for point in chart.photos:
        if photo and point.name.startswith(photo):
            chart.look_at(point.size, point)
    return shell


WORDS = """Vessary Harbour Registry: pictures for the registers

Portrait for the seal book

- 35 mm wide and 45 mm high, printed by us at 600 dpi
- JPEG, less than 1 MB, sRGB
- Head 32 to 36 mm from crown to chin
- Files of 60 kB are returned
- Plain expression, eyes open, nothing over the face

Picture for the notice board

- 600 x 600 px; PNG up to 2 MB, JPEG up to 500 kB
- No borders. Write to 14 Quay Street with any question.
"""


def rulebooks_words() -> Shell:
    """Rules in words beside what they became, one of them chosen."""
    shell = demo()
    shell.resize(1280, 800)
    shell.show()
    shell.session.worded.put(WORDS)
    shell.show_words()
    rows = shell.rulebooks.words.rows
    until(lambda: len(rows.rows) > 8)
    settle(shell)
    next(r for r in rows.rows.values() if r.draft.fields.get("measure") == "head_height").setFocus()
    return shell


def rulebooks_changes() -> Shell:
    shell = rulebooks("quayside-exchange/item-picture")
    shell.rulebooks.show_view("changes")
    return shell


def rulebooks_form() -> Shell:
    """A clause that depends on the format, in a brief that leaves a choice."""
    shell = rulebooks("harbour-registry/notice-board", "lantern")
    shell.rulebooks.change()
    form = shell.rulebooks.form
    form.clauses.setCurrentRow(4)
    settle(shell)
    area = form.findChild(QScrollArea)
    area.verticalScrollBar().setValue(200)
    return shell


def finish_backdrop() -> Shell:
    shell = demo("quill", "plaque")
    settle(shell)
    shell.open_finish("backdrop")
    shell.session.pixels.show_mask(True)
    return shell


def colour_outside() -> Shell:
    """A dusk in Adobe RGB whose strongest colours sRGB does not hold."""
    folder = Path(tempfile.mkdtemp())
    vivid = folder / "dusk_in_adobe_rgb.jpg"
    with Image.open(DEMO / "lantern_quay_dusk.jpg") as picture:
        small = picture.convert("HSV").resize((1950, 1300))
        h, s, v = small.split()
        strong = Image.merge("HSV", (h, s.point(lambda n: min(255, int(n * 1.9))), v)).convert(
            "RGB"
        )
        strong.save(vivid, quality=90, icc_profile=shipped("adobe-rgb"))
    shell = demo()
    photo = shell.session.photos.take([str(vivid)]).ids[0]
    shell.session.model.start_fitting(str(photo), "orrin-moor/night-round")
    settle(shell)
    shell.bench.open_station("colour")
    settle(shell)
    shell.bench.toggle_outside()
    return shell


def start_on(photo: str, brief: str) -> Shell:
    shell = demo()
    known = shell.session.docket.photos
    shell.session.model.start_fitting(next(p.id for p in known if photo in p.path), brief)
    settle(shell)
    return shell


def file_budget() -> Shell:
    """A tight limit: where it falls on the curve, and what it costs."""
    shell = demo("lantern", "night-round")
    settle(shell)
    shell.bench.open_station("file")
    shell.session.model.set({"file.at_most": "90 kB"}, "At most")
    settle(shell)
    shell.bench.show_loss()
    return shell


def place_handset() -> Shell:
    shell = start_on("ines_marrow", "pocketvane/wall-slim")
    shell.bench.open_station("frame")
    shell.bench.show_view(PLACE)
    return shell


def bench_frame() -> Shell:
    """Four ways of filling the frame, what each would cost, and the size of the file."""
    shell = start_on("lantern", "orrin-moor/night-round")
    shell.bench.open_station("frame")
    return shell


def bench_linked() -> Shell:
    """One portrait to the briefs of a body, framed together."""
    shell = start_on("ines_marrow", "pocketvane/wall-slim")
    shell.session.linking.fit_all()
    settle(shell)
    shell.bench.open_station("frame")
    return shell


def board() -> Shell:
    """The demo docket's photos and briefs, the worst first."""
    shell = demo()
    shell.resize(1280, 800)
    shell.show()
    shell.go("board")
    end = time.monotonic() + 60
    while shell.board.judging.busy and time.monotonic() < end:
        QApplication.processEvents()
        time.sleep(0.02)
    shell.board.sort.click()
    shell.board.grid.go((0, 0))
    return shell


def until(test: Callable[[], bool], seconds: float = 120) -> None:
    end = time.monotonic() + seconds
    while not test() and time.monotonic() < end:
        QApplication.processEvents()
        time.sleep(0.02)


def desk() -> Shell:
    """The demo docket handed over: accepted, waiting, and held by a desk that has a unit wrong."""
    shell = demo()
    handing = shell.handing
    handing.ask_every = 0.2
    for body, review in (
        ("vessary-ferries", 0.0),
        ("orrin-moor", 600.0),
        ("quayside-exchange", 0.0),
        ("keepers-hall", 0.0),
        ("lantern-channel", 0.0),
        ("pocketvane", 4.0),
        ("windhover-kites", 0.0),
    ):
        handing.moods[body] = {"review": review}
    handing.moods["quayside-exchange"]["wrong_unit"] = True
    handing.prepared.disconnect(shell.ask_send)
    handing.prepared.connect(lambda files: handing.send([file for file in files if file.goes]))
    shell.hand_all()
    still = ("orrin-moor/", "pocketvane/")
    until(
        lambda: (
            bool(handing.items)
            and all(i.settled or (i.number and i.brief.startswith(still)) for i in handing.items)
        )
    )
    shell.resize(1280, 800)
    shell.show()
    shell.go("desk")
    held = [item for item in handing.items if item.state == "held"]
    if held:
        shell.desk.handed.list.choose(held[-1].id)
    return shell


def audit() -> Shell:
    """The demo's listing against the brief of the body that it is listed at."""
    shell = demo()
    settle(shell)
    shell.resize(1280, 800)
    shell.show()
    shell.go("desk")
    shell.desk.show_view("audit")
    shell.desk.audit.open_demo()
    until(lambda: len(shell.desk.audit.checked) == 10)
    return shell


def report_page(target: Path) -> None:
    """The first page about a file in the demo docket's report."""
    shell = demo()
    session = shell.session
    one = session.docket.fittings[0]
    few = session.docket.model_copy(update={"fittings": (one,)})
    found = gather(few, session.library.find)
    made = pdf(Report(session.docket.title, found.entries, datetime(2026, 11, 25, 9, 30)))
    pypdfium2.PdfDocument(made)[0].render(scale=1.4).to_pil().save(target)
    session.stop()
    session.store.saved = session.docket
    shell.close()


def settings() -> Shell:
    """What is set for this machine, over the bench."""
    shell = demo("lantern", "night-round")
    settle(shell)
    OVER.append(shell.settings_dialog())
    return shell


def a_menu() -> Shell:
    """A menu with what cannot be chosen."""
    shell = demo("lantern", "night-round")
    settle(shell)
    shell.look_again()
    OVER.append(next(a.menu() for a in shell.menu.actions() if "Desk" in a.text().replace("&", "")))
    return shell


def open_photos() -> Shell:
    """The dialog for photos, one of which is looked at."""
    shell = demo("lantern", "night-round")
    settle(shell)
    dialog = photo_dialog(shell, "Open photos")
    folder = own_demo().parent  # no path of this machine is in a picture
    dialog.setDirectory(str(folder))
    preview = dialog.findChild(Preview, "preview")
    preview.show_file(str(folder / "ines_marrow_0417.jpg"))
    until(lambda: not preview.picture.pixmap().isNull())
    OVER.append(dialog)
    return shell


OVER: list[QWidget] = []
"""What lies over the window in a picture, and is its subject."""


VIEWS: dict[str, Callable[[], Shell]] = {
    "first-screen": start,
    "bench-proof": bench_proof,
    "bench-frame": bench_frame,
    "bench-linked": bench_linked,
    "bench-dim-room": bench_dim,
    "colour-outside": colour_outside,
    "finish-backdrop": finish_backdrop,
    "file-budget": file_budget,
    "board": board,
    "desk": desk,
    "audit": audit,
    "place-handset": place_handset,
    "settings": settings,
    "menu": a_menu,
    "open-photos": open_photos,
    "rulebooks-words": rulebooks_words,
    "rulebooks-changes": rulebooks_changes,
    "rulebooks-form": rulebooks_form,
}


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("names", nargs="*", default=[*VIEWS, "report"])
    parser.add_argument("--out", type=Path, default=ROOT / "docs/screenshots")
    parser.add_argument("--size", default="1280x800")
    chosen = parser.parse_args()
    chosen.out.mkdir(parents=True, exist_ok=True)
    app = application()
    wide, high = (int(v) for v in chosen.size.split("x"))
    for name in chosen.names or [*VIEWS, "report"]:
        own_home()
        theme.use(theme.LIGHT)
        if name == "report":
            report_page(chosen.out / "report.png")
            print(chosen.out / "report.png")
            continue
        shell = VIEWS[name]()
        shell.resize(wide, high)
        shell.show()
        if not shell.is_built("rulebooks") or shell.pages.currentWidget() is not shell.rulebooks:
            shell.setFocus(Qt.FocusReason.OtherFocusReason)
        settle(shell)
        seen: QWidget = shell
        if OVER:
            seen = OVER.pop()
            seen.show()
            QApplication.processEvents()
        if not seen.grab().save(str(chosen.out / f"{name}.png")):
            sys.exit(f"{name}.png could not be saved")
        print(chosen.out / f"{name}.png")
        shell.session.store.saved = shell.session.docket
        if shell.is_built("rulebooks"):
            shell.rulebooks.form.begin(None)
        shell.board.stop()
        shell.handing.stop()
        shell.session.stop()
        shell.close()
        shell.deleteLater()
        app.processEvents()
        QApplication.processEvents()


if __name__ == "__main__":
    main()
