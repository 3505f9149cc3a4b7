"""The session: its parts, put together once, each given what it stands on."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from aptandum.core.docket.model import Docket
from aptandum.core.rulebook.shelf import Shelf
from aptandum.ui.jobs import Command, Jobs
from aptandum.ui.jobs.command import State
from aptandum.ui.session.autosave import Autosave
from aptandum.ui.session.bench import Bench
from aptandum.ui.session.bench_model import BenchModel
from aptandum.ui.session.docket_store import DocketStore
from aptandum.ui.session.dockets import Dockets
from aptandum.ui.session.library import Library
from aptandum.ui.session.photo_store import PhotoStore
from aptandum.ui.session.requests import Requests
from aptandum.ui.session.worded import Worded
from aptandum.ui.strings import t

if TYPE_CHECKING:
    from aptandum.ui.session.answers import Answers
    from aptandum.ui.session.audit import AuditModel
    from aptandum.ui.session.drafts import Drafts
    from aptandum.ui.session.lettering import Lettering
    from aptandum.ui.session.linked import Linking
    from aptandum.ui.session.making import Making
    from aptandum.ui.session.many import Many
    from aptandum.ui.session.marks import Marking
    from aptandum.ui.session.pixels import Pixels
    from aptandum.ui.session.reports import Reports
    from aptandum.ui.session.watching import Watching


class Session(QObject):
    """What is open in a window. Views show what its parts hold and ask them for changes.

    Signals:
        said: something a person should read: its kind (``trouble``, ``note`` or ``done``) and a
            sentence.

    Attributes:
        store: the docket, its history and its file.
        library: the shelf of rulebooks.
        worded: rules in words, as they are read.
        photos: the photos, with faces and masks.
        model: the fitting on the bench.
        drafts, pixels: its pictures; what is measured in them.
        marking, answers, making: what a person does with it.
        lettering: the words of the photo that must be read.
        linking: fittings of one photo that share their framing.
        many, reports, audit, dockets, autosave: the docket as a whole.
        watching: the folder that is watched.
        jobs: all work beside the interface.
        screen: the profile of the screen that pictures are shown for at first; ``None``: sRGB.
        requests: what views ask of one another.
    """

    said = pyqtSignal(str, str)

    def __init__(self, shelf: Shelf | None = None, parent: QObject | None = None) -> None:
        super().__init__(parent)
        tell = self.tell
        self.requests = Requests(self)
        self.jobs = jobs = Jobs(tell, self)
        self.store = store = DocketStore(self)
        self.library = library = Library(store, tell, shelf, self)
        self.worded = Worded(library, jobs, tell, self)
        self.photos = photos = PhotoStore(store, jobs, self)
        self.model = model = BenchModel(store, library, photos, tell, self)
        self.autosave = autosave = Autosave(store, model, jobs, tell, self)
        self.dockets = Dockets(store, photos, model, autosave, jobs, tell, self)
        self.screen: bytes | None = None
        model.laying.connect(self._lay)
        jobs.ended.connect(self._ended)

    # -- parts that an empty window has no use for: each is made when it is first asked for --------

    def _lay(self) -> None:
        """A photo is about to lie on the bench: those that follow it there are made."""
        for _part in (self.linking, self.drafts, self.pixels, self.making):
            pass

    @cached_property
    def drafts(self) -> Drafts:
        from aptandum.ui.session import drafts

        made = drafts.Drafts(self.model, self.photos, self.jobs, self.tell, self)
        made.screen = self.screen
        return made

    @cached_property
    def pixels(self) -> Pixels:
        from aptandum.ui.session import pixels

        return pixels.Pixels(self.model, self.photos, self.drafts, self.jobs, self.tell, self)

    @cached_property
    def marking(self) -> Marking:
        from aptandum.ui.session import marks

        return marks.Marking(self.store, self.model, self.photos, self.jobs, self.tell, self)

    @cached_property
    def answers(self) -> Answers:
        from aptandum.ui.session import answers

        return answers.Answers(self.model, self)

    @cached_property
    def making(self) -> Making:
        from aptandum.ui.session import making

        made = making.Making(self.store, self.model, self.photos, self.jobs, self.tell, self)
        made.doubted.connect(self.requests.doubted)
        return made

    @cached_property
    def lettering(self) -> Lettering:
        from aptandum.ui.session import lettering

        return lettering.Lettering(self.model, self.jobs, self.tell, self)

    @cached_property
    def many(self) -> Many:
        from aptandum.ui.session import many

        made = many.Many(self.store, self.library, self.photos, self.jobs, self.tell, self)
        made.outcome.connect(self.requests.outcome)
        return made

    @cached_property
    def linking(self) -> Linking:
        from aptandum.ui.session import linked

        parts = self.store, self.library, self.photos, self.model, self.many
        return linked.Linking(*parts, self.tell, self)

    @cached_property
    def reports(self) -> Reports:
        from aptandum.ui.session import reports

        parts = self.store, self.library, self.model, self.jobs
        return reports.Reports(*parts, self.tell, self)

    @cached_property
    def audit(self) -> AuditModel:
        from aptandum.ui.session import audit

        return audit.AuditModel(self.store, self.library, self.jobs, self.tell, self)

    @cached_property
    def watching(self) -> Watching:
        from aptandum.ui.session import watching

        return watching.Watching(self.jobs, self)

    @property
    def bench(self) -> Bench | None:
        """What lies on the bench."""
        return self.model.bench

    @property
    def docket(self) -> Docket:
        return self.store.docket

    def tell(self, sentence: str, kind: str = "trouble") -> None:
        """Have a person read a sentence."""
        self.said.emit(kind, sentence)

    def _ended(self, command: Command[object]) -> None:
        if command.state is State.CANCELLED and command.by_person:
            self.tell(t("Cancelled: {what}", what=command.words.rstrip(" …")), "note")

    def stop(self) -> None:
        """Close: the journal is written, and everything under way is ended."""
        if "watching" in self.__dict__:
            self.watching.close()
        self.jobs.stop()
        if "audit" in self.__dict__:
            self.audit.stop()
        self.dockets.close()
