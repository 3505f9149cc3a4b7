"""Why something cannot be done now."""

from __future__ import annotations

from aptandum.ui.menus import Reasons
from aptandum.ui.session import Session
from aptandum.ui.strings import t


def reasons(session: Session) -> Reasons:
    """Why something cannot be done now, by what it needs; empty: it can."""
    docket, bench, history = session.docket, session.bench, session.store.history
    proof = bench.proof if bench is not None else None
    written = bench.written if bench is not None else None
    return {
        name: "" if there else why
        for name, there, why in (
            ("docket", docket.photos or session.store.path, t("There is no docket open.")),
            ("photos", docket.photos, t("There is no photo in this docket yet.")),
            ("fittings", docket.fittings, t("There is no fitting in this docket yet.")),
            ("hand_all", docket.fittings, t("There is no fitting to hand over yet.")),
            ("report_all", docket.fittings, t("There is nothing to report on yet.")),
            ("next", len(docket.fittings) > 1, t("There is no other fitting in this docket.")),
            (
                "others",
                len(docket.photos) > 1,
                t("There is no other photo in this docket yet."),
            ),
            ("bench", bench, t("There is no photo on the bench.")),
            ("hand", bench, t("There is no fitting on the bench to hand over.")),
            ("proof", proof, t("There is no proved file yet: conform first.")),
            (
                "report",
                proof,
                t("There is no proved file to report on yet: conform first."),
            ),
            ("written", written, t("The file is not written to a folder yet.")),
            ("handed", docket.handed, t("Nothing of this docket has been handed over yet.")),
            ("undo", history.undo_label, t("There is nothing to undo.")),
            ("redo", history.redo_label, t("There is nothing to redo.")),
        )
    }
