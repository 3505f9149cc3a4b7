"""Fields that say each change as it is typed, and that can be marked where they are wrong."""

from __future__ import annotations

from PyQt6.QtWidgets import QLineEdit, QPlainTextEdit, QWidget


def mark(field: QWidget, bad: bool) -> None:
    """Draw a field as wrong, or as right again."""
    if field.property("bad") != ("true" if bad else "false"):
        field.setProperty("bad", "true" if bad else "false")
        style = field.style()
        if style is not None:
            style.unpolish(field)
            style.polish(field)


class TextField(QLineEdit):
    """A line of text."""

    def __init__(self, name: str, hint: str = "") -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setPlaceholderText(hint)

    def put(self, text: str) -> None:
        """Show what the rulebook holds."""
        if self.text() != text:
            self.setText(text)
            self.setCursorPosition(0)

    def mark(self, bad: bool) -> None:
        """Show what is wrong here, or that nothing is."""
        mark(self, bad)


class EntriesField(QPlainTextEdit):
    """Several lines of text, each an entry; Tab goes on to the next field."""

    def __init__(self, name: str, hint: str, rows: int = 3) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setPlaceholderText(hint)
        self.setTabChangesFocus(True)
        self.setFixedHeight(rows * 19 + 14)

    def put(self, text: str) -> None:
        """Show what the rulebook holds."""
        if self.toPlainText() != text:
            self.setPlainText(text)

    def mark(self, bad: bool) -> None:
        """Show what is wrong here, or that nothing is."""
        mark(self, bad)

    def entries(self) -> list[tuple[str, str]]:
        """Name and rest of each line that is not empty: ``name: rest``."""
        lines = (line.partition(":") for line in self.toPlainText().splitlines() if line.strip())
        return [(name.strip(), rest.strip()) for name, _, rest in lines]
