"""What the bench needs of the core, loaded when a photo first lies there: a window with none is up at once."""

from __future__ import annotations

from typing import TYPE_CHECKING

from aptandum.core.later import Later

if TYPE_CHECKING:
    from aptandum.core import conform, mending
    from aptandum.core.file import budget
    from aptandum.core.fitting import detection, live, resolve
    from aptandum.core.judge import findings, reading
else:
    conform = Later("aptandum.core.conform")
    mending = Later("aptandum.core.mending")
    budget = Later("aptandum.core.file.budget")
    detection = Later("aptandum.core.fitting.detection")
    live = Later("aptandum.core.fitting.live")
    resolve = Later("aptandum.core.fitting.resolve")
    findings = Later("aptandum.core.judge.findings")
    reading = Later("aptandum.core.judge.reading")

__all__ = ["budget", "conform", "detection", "findings", "live", "mending", "reading", "resolve"]
