"""The finished file: written, copied, reported on, handed over."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QDesktopServices, QImage
from PyQt6.QtWidgets import (
    QApplication,
    QDialog,
    QFileDialog,
)

from aptandum.core.brief.model import turn_of
from aptandum.core.file.free_name import free
from aptandum.ui import preferences
from aptandum.ui.asking import where_to_save
from aptandum.ui.docket_acts import DocketWindow
from aptandum.ui.strings import t

if TYPE_CHECKING:
    from aptandum.ui.carry_dialog import CarryDialog
    from aptandum.ui.desk.hand_overs import Prepared
    from aptandum.ui.desk.sending import SendDialog
    from aptandum.ui.prints_dialog import PrintsDialog
    from aptandum.ui.ruler import RulerDialog
    from aptandum.ui.watch_dialog import WatchDialog
    from aptandum.ui.write_dialog import WriteDialog


class FileWindow(DocketWindow):
    """The window, as far as finished files go out."""

    _watch: WatchDialog | None = None

    def hand_over(self) -> None:
        """Hand over the file of the fitting on the bench; it is proved first."""
        if self.session.bench is not None:
            self.handing.prepare([self.session.bench.fitting.id])
        else:
            self.session.tell(t("There is no fitting on the bench to hand over."), "note")

    def hand_all(self) -> None:
        """Hand over every fitting of the docket; each is proved first."""
        ids = [fitting.id for fitting in self.session.docket.fittings]
        if ids:
            self.handing.prepare(ids)
        else:
            self.session.tell(t("There is no fitting to hand over yet."), "note")

    def send_dialog(self, files: Sequence[Prepared]) -> SendDialog:
        """The question what goes to whom."""
        from aptandum.ui.desk import sending

        return sending.SendDialog(files, self)

    def ask_send(self, files: Sequence[Prepared]) -> None:
        """Say what goes to whom, and send it when that is pressed."""
        dialog = self.send_dialog(files)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.handing.send(dialog.chosen())
            self.go("desk")
            self.desk.show_view("handed")

    def carry_dialog(self) -> CarryDialog | None:
        """The question to which photos the frame is to be carried."""
        from aptandum.core.judge import placing
        from aptandum.ui import carry_dialog

        bench = self.session.bench
        if bench is None:
            return None
        here = bench.fitting.photo
        others = [entry for entry in self.session.docket.photos if entry.id != here]
        if not others:
            self.session.tell(t("There is no other photo in this docket yet."), "note")
            return None
        frame = bench.line.frame
        marks = bool(placing.bands(bench.brief, turn_of(*frame.output)))
        return carry_dialog.CarryDialog(others, bench.brief.title, marks, self)

    def ask_carry(self) -> None:
        """Ask to which photos the frame is to be carried, and carry it."""
        dialog = self.carry_dialog()
        if dialog is not None and dialog.exec() == QDialog.DialogCode.Accepted:
            self.session.marking.carry(dialog.chosen, dialog.way)

    def ruler_dialog(self) -> RulerDialog:
        """The question how long a line of known length is on this screen."""
        from aptandum.ui import ruler

        return ruler.RulerDialog(self.devicePixelRatioF(), self._screen_ppi(), self)

    def _screen_ppi(self) -> float:
        """Of this screen, as it was measured with the ruler, else as it says itself."""
        screen, ratio = self.screen(), self.devicePixelRatioF()
        said = screen.physicalDotsPerInch() * ratio if screen is not None else 96.0 * ratio
        return preferences.screen_ppi() or said

    def ask_ruler(self) -> None:
        """Lay a ruler on the screen; every true size follows it."""
        if self.ruler_dialog().exec() == QDialog.DialogCode.Accepted:
            self.bench.in_place.update()
            scene = self.bench.in_place.scene
            if scene is not None:
                scene.update()

    def ask_bounds(self) -> None:
        """Ask how much may be spent on one photo."""
        from aptandum.ui import bounds_dialog

        bounds_dialog.BoundsDialog(self).exec()

    def write_dialog(self) -> WriteDialog | None:
        """The question where the file is to be written."""
        from aptandum.ui import write_dialog

        bench = self.session.bench
        if bench is None:
            return None
        proof = bench.proof
        name = proof.suggested if proof else bench.line.file.name
        if proof is None:
            ready = t("The file is made and read back first.")
        else:
            summary = proof.findings.summary()
            ready = (
                t("Ready.") if summary == t("all met") else t("This file: {what}.", what=summary)
            )
        supplied = [entry.path for entry in self.session.docket.photos]
        folder, counted = Path(bench.photo.path).parent, bench.line.file.counted
        name = free(folder / name, counted).name if counted else name
        return write_dialog.WriteDialog(folder, name, supplied, ready, counted, self)

    def ask_write(self) -> None:
        """Ask where the file is to be written, and write it."""
        dialog = self.write_dialog()
        if dialog is not None and dialog.exec() == QDialog.DialogCode.Accepted:
            self.session.making.write(dialog.target(), dialog.replace.isChecked())

    def ask_write_linked(self) -> None:
        """Ask for a folder, and make and write the files of all fittings that are framed
        together."""
        bench = self.session.bench
        if bench is None or not self.session.linking.together():
            return
        first = self.session.store.path or Path(bench.photo.path)
        folder = QFileDialog.getExistingDirectory(
            self, t("Folder for the finished files"), str(first.parent)
        )
        if folder:
            self.session.linking.write_all(Path(folder))

    def answer(self, met: bool) -> None:
        """Answer the question that is asked at the Proof station; elsewhere, go there first."""
        if self.session.bench is not None:
            self.bench.answer(met)

    def copy_file(self) -> None:
        """Put the proved file on the clipboard, as a file."""
        from aptandum.ui.bench.cards import finished_file

        data = finished_file.mime_of(self.session)
        clipboard = QApplication.clipboard()
        if data is None or clipboard is None:
            self.session.tell(t("There is no proved file yet: conform first."), "note")
            return
        name = Path(data.urls()[0].toLocalFile()).name
        clipboard.setMimeData(data)
        self.session.tell(t("On the clipboard: {file}", file=name), "done")

    def open_elsewhere(self) -> None:
        """Open the file that was written in the program that the desktop has for it."""
        bench = self.session.bench
        if bench is None or bench.written is None:
            self.session.tell(t("The file is not written to a folder yet."), "note")
        elif not QDesktopServices.openUrl(QUrl.fromLocalFile(str(bench.written))):
            self.session.tell(
                t("No program was found that opens {file}.", file=bench.written.name), "note"
            )

    def open_folder(self) -> None:
        """Show the folder that the file was written to in the system's own file manager."""
        bench = self.session.bench
        if bench is None or bench.written is None:
            self.session.tell(t("The file is not written to a folder yet."), "note")
            return
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(bench.written.parent)))

    def watch_folder(self) -> None:
        """Show which folder is watched, and what came of it; work goes on beside it."""
        from aptandum.ui import watch_dialog

        if self._watch is None:
            bench = self.session.bench
            self._watch = watch_dialog.WatchDialog(
                self.session, bench.fitting.brief if bench else "", self
            )
        self._watch.show_all()
        self._watch.show()
        self._watch.raise_()
        self._watch.activateWindow()

    def prints_dialog(self) -> PrintsDialog | None:
        """The question how the finished file is printed; ``None`` where there is none yet, which is said."""
        from aptandum.core.prints.draw import most_enlarged, pictured
        from aptandum.core.sizes.typed import printed_at
        from aptandum.ui import prints_dialog

        bench = self.session.bench
        path = self.session.making.file_to_hand() if bench is not None else None
        if bench is None or bench.proof is None or path is None:
            self.session.tell(t("There is no proved file to print yet: conform first."), "note")
            return None
        picture = pictured(str(path), most_enlarged(bench.brief))
        own = printed_at(bench.brief, picture.ppi, bench.fitting.settings.file.ppi)
        picture = replace(picture, ppi=own)
        image = QImage.fromData(bench.proof.made.data)
        return prints_dialog.PrintsDialog(picture, image, self._screen_ppi(), self)

    def ask_prints(self) -> None:
        """Ask for a sheet of prints, and where it goes; write it."""
        dialog = self.prints_dialog()
        if dialog is None or dialog.exec() != QDialog.DialogCode.Accepted or dialog.sheet is None:
            return
        stem = Path(dialog.picture.path).stem
        bench = self.session.bench
        folder = Path(bench.photo.path).parent if bench is not None else Path.home()
        first = free(folder / f"{stem}-{t('prints')}.pdf")
        kinds = {"PDF": ".pdf", "JPEG": ".jpg", "TIFF": ".tif"}
        target = where_to_save(self, t("Sheet of prints"), str(first), kinds)
        if target is not None:
            self.write_prints(dialog, target)

    def write_prints(self, dialog: PrintsDialog, target: Path) -> None:
        """Write the sheet that a dialog asks for."""
        from aptandum.core.prints.draw import FORMATS

        if dialog.sheet is not None:
            kind, marks = FORMATS.get(target.suffix.lower(), "pdf"), dialog.marks.isChecked()
            self.session.reports.write_prints(target, dialog.sheet, dialog.picture, kind, marks)

    def ask_report(self) -> None:
        """Ask where the conformity report goes, and write it."""
        bench = self.session.bench
        if bench is None or bench.proof is None:
            self.session.tell(t("There is no proved file to report on yet: conform first."), "note")
            return
        folder = bench.written.parent if bench.written else Path(bench.photo.path).parent
        target = self._report_target(folder, Path(bench.proof.suggested).stem)
        if target is not None:
            self.session.reports.write_report(target)

    def ask_docket_report(self) -> None:
        """Ask where the report on every fitting goes, prove them all, and write it."""
        docket = self.session.docket
        if not docket.fittings:
            self.session.tell(t("There is nothing to report on yet."), "note")
            return
        here = self.session.store.path
        folder = here.parent if here is not None else Path(docket.photos[0].path).parent
        target = self._report_target(folder, docket.title or t("Untitled docket"))
        if target is not None:
            self.session.reports.write_docket_report(target)

    def _report_target(self, folder: Path, stem: str) -> Path | None:
        """Where a report goes, as a person says; its ending says what it is."""
        first = free(folder / f"{stem}-{t('report')}.html")
        kinds = {t("Web page, one file"): ".html", "PDF": ".pdf"}
        return where_to_save(self, t("Conformity report"), str(first), kinds)
