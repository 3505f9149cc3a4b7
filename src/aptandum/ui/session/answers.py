"""A person's answers to what only a person can say."""

from __future__ import annotations

from datetime import datetime

from PyQt6.QtCore import QObject

from aptandum.core.docket.model import Answer
from aptandum.core.fitting.live import picture_of
from aptandum.ui.session.bench_model import BenchModel
from aptandum.ui.session.who import person
from aptandum.ui.strings import t


class Answers(QObject):
    """Records them with who and when, for the picture that was looked at."""

    def __init__(self, model: BenchModel, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._model = model

    def confirm(self, clause_id: str, yes: bool | None) -> None:
        """Record a person's answer to an ``ask`` clause, that it is so or is not so; ``None``
        takes an answer back."""
        bench = self._model.bench
        if bench is None:
            return
        fitting = bench.fitting
        answers = tuple(a for a in fitting.answers if a.clause != clause_id)
        if yes is not None:
            now = datetime.now().astimezone().isoformat(timespec="minutes")
            of = picture_of(bench.line)
            answers = (*answers, Answer(clause=clause_id, by=person(), at=now, met=yes, of=of))
        label = t("Take back") if yes is None else t("Confirm") if yes else t("Say no")
        self._model.take(fitting.model_copy(update={"answers": answers}), label)

    def before(self) -> list[Answer]:
        """The answers to the bench's questions that were given before the picture changed."""
        bench = self._model.bench
        if bench is None:
            return []
        asked = {f.clause.id for f in bench.live.findings if f.verdict == "asks"}
        return [answer for answer in bench.fitting.answers if answer.clause in asked]

    def confirm_again(self) -> None:
        """Say of the picture as it is now what was said of it before it changed."""
        bench = self._model.bench
        again = {answer.clause: answer for answer in self.before()}
        if bench is None or not again:
            return
        fitting, of = bench.fitting, picture_of(bench.line)
        now = datetime.now().astimezone().isoformat(timespec="minutes")
        new = {"by": person(), "at": now, "of": of}
        answers = tuple(
            a.model_copy(update=new) if a.clause in again else a for a in fitting.answers
        )
        self._model.take(fitting.model_copy(update={"answers": answers}), t("Confirm"))
