"""Changes of the docket, and the bench brought in line with them."""

from __future__ import annotations

from datetime import datetime

from aptandum.core.conform import named
from aptandum.core.docket.model import Answer
from aptandum.core.file import budget
from aptandum.core.fitting.line import live_reading, picture_of, resolve
from aptandum.core.judge.findings import judge
from aptandum.core.rulebook.shelf import BriefNotFound
from aptandum.ui.session.base import Base
from aptandum.ui.session.who import person
from aptandum.ui.strings import t


class Changes(Base):
    """See the module."""

    def _follow(self) -> None:
        """Bring the bench in line with the docket."""
        bench = self.bench
        if bench is not None:
            known = {fitting.id: fitting for fitting in self.docket.fittings}
            fitting = known.get(bench.fitting.id)
            if fitting is None:
                self.bench = None
                self.queue.cancel("draft")
                self.queue.cancel("proof")
                self.opened.emit()
            else:
                remade = fitting.settings != bench.fitting.settings
                try:
                    other = self.find(fitting.brief)[1] != bench.brief
                except BriefNotFound:
                    other = False
                if other or self.docket.photo(fitting.photo).turn != bench.photo.facts.turn:
                    bench.fitting = fitting
                    self._relay()
                    self.changed.emit()
                    return
                bench.fitting = fitting
                hand = self.docket.photo(fitting.photo).marks
                if hand != bench.hand:
                    brushed = hand.strokes != bench.hand.strokes
                    bench.hand = hand
                    self._judge_again()
                    if brushed:
                        self._look_again()
                        self.pictures.emit()
                        remade = remade or bench.line.finish.needs_mask
                if remade:
                    bench.proof = None
                    bench.written = None
                    self.queue.cancel("proof")
                    self._settle.start()
                self._refresh()
        self.changed.emit()

    def _refresh(self) -> None:
        bench = self.bench
        assert bench is not None
        answers = bench.fitting.confirmed()
        bench.line = resolve(bench.photo.facts, bench.brief, bench.fitting.settings)
        size, estimated = self.expected_bytes()
        see = self._see_people(bench.photo, bench.hand)
        look = bench.look
        reading = live_reading(
            bench.photo.facts, bench.line, size, estimated, see,
            (lambda: look) if look is not None else None, not bench.draft_is_current,
        )  # fmt: skip
        bench.live = judge(reading, bench.brief, answers)
        if answers != bench.judged_with:
            bench.judged_with = answers
            self._judge_supplied()
            if bench.proof is not None:
                bench.proof = named(bench.proof, bench.brief, bench.proof.suggested, answers)

    def expected_bytes(self) -> tuple[int, bool]:
        """The bytes to expect, and whether that is an estimate: a draft's are the real count."""
        bench = self.bench
        assert bench is not None
        if bench.draft_is_current and bench.draft is not None:
            return len(bench.draft.data), False
        file = bench.line.file
        w, h = bench.line.frame.output
        guess = budget.reckoned(w * h, file.quality, file.at_least, file.at_most)
        return guess, True

    def confirm(self, clause_id: str, yes: bool | None) -> None:
        """Record a person's answer to an ``ask`` clause, that it is so or is not so; ``None``
        takes an answer back."""
        if self.bench is None:
            return
        fitting = self.bench.fitting
        answers = tuple(a for a in fitting.answers if a.clause != clause_id)
        if yes is not None:
            now = datetime.now().astimezone().isoformat(timespec="minutes")
            of = picture_of(self.bench.line)
            answers = (*answers, Answer(clause=clause_id, by=person(), at=now, met=yes, of=of))
        label = t("Take back") if yes is None else t("Confirm") if yes else t("Say no")
        self._take(fitting.model_copy(update={"answers": answers}), label)

    def before(self) -> list[Answer]:
        """The answers to the bench's questions that were given before the picture changed."""
        bench = self.bench
        if bench is None:
            return []
        asked = {f.clause.id for f in bench.live.findings if f.verdict == "asks"}
        return [answer for answer in bench.fitting.answers if answer.clause in asked]

    def confirm_again(self) -> None:
        """Say of the picture as it is now what was said of it before it changed."""
        again = {answer.clause: answer for answer in self.before()}
        if self.bench is None or not again:
            return
        fitting, of = self.bench.fitting, picture_of(self.bench.line)
        now = datetime.now().astimezone().isoformat(timespec="minutes")
        new = {"by": person(), "at": now, "of": of}
        answers = tuple(
            a.model_copy(update=new) if a.clause in again else a for a in fitting.answers
        )
        self._take(fitting.model_copy(update={"answers": answers}), t("Confirm"))
