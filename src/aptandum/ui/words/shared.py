"""What every view of rules in words has: the text, whose they are, and how the reading stands."""

from __future__ import annotations

from aptandum.core.rulebook.words import Draft, Reading, foreign_words
from aptandum.ui.fields import TextField
from aptandum.ui.session.worded import Worded
from aptandum.ui.strings import sentences, t, t_n
from aptandum.ui.words.field import WordsField

MOST_NUMBERS = 8


class BodyField(TextField):
    """Whose rules they are: as it is guessed, until a person writes it."""

    def __init__(self, worded: Worded) -> None:
        super().__init__(t("Name of the body"), t("whose rules they are"))
        self.worded = worded
        self._guessed = ""
        worded.changed.connect(self._guess)

    def given(self) -> str:
        """The name as it stands, of the text as it stands."""
        self._guess()
        return self.text().strip()

    def _guess(self) -> None:
        if self.text() == self._guessed:
            self._guessed = self.worded.body()
            self.setText(self._guessed)


def bind(field: WordsField, worded: Worded) -> None:
    """Have a field show the text that is read, and read what is typed in it; and mark what it became."""

    def typed() -> None:
        worded.put(field.toPlainText())

    def texted() -> None:
        if field.toPlainText() != worded.text:
            field.setPlainText(worded.text)

    def marked() -> None:
        reading = worded.reading
        held: tuple[Draft, ...] = reading.drafts if reading else ()
        answers = worded.decisions.answers
        field.mark(reading, [d for d in held if answers.get(d.key) is not None],
                   [d for d in held if worded.is_answered(d) and answers[d.key] is None])  # fmt: skip

    field.textChanged.connect(typed)
    worded.texted.connect(texted)
    worded.changed.connect(marked)
    texted()
    marked()


def state_of(worded: Worded) -> str:
    """How a reading stands, in a sentence."""
    drafts = worded.reading.drafts if worded.reading else ()
    if not drafts:
        return t("No rule is understood so far.")
    doubtful = sum(d.certainty != "sure" and not worded.is_answered(d) for d in drafts)
    if doubtful:
        said = t_n(
            "{n} of {all} can be read in another way.",
            "{n} of {all} can be read in another way.",
            doubtful,
            all=len(drafts),
        )
        foreign = worded.reading is not None and worded.reading.foreign
        return sentences([foreign_words(), said]) if foreign else said
    return t_n("{n} rule is understood.", "{n} rules are understood.", len(drafts))


def not_rules(reading: Reading, text: str, most: int = MOST_NUMBERS) -> str:
    """The numbers of the text that are no rule. Those that only count its lines say nothing, and are left out."""
    told = [aside for aside in reading.asides if not aside.counts]
    numbers = list(dict.fromkeys(text[a.start : a.end].strip() for a in told))
    if not numbers:
        return ""
    shown = numbers[:most]
    if len(numbers) > len(shown):
        more = len(numbers) - len(shown)
        shown.append(t_n("{n} more", "{n} more", more))
    return t("Numbers that are no rule: {numbers}", numbers=" · ".join(shown))
