"""How a hand-over's state looks: an icon, a colour and a word, always together."""

from __future__ import annotations

from datetime import datetime

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter

from aptandum.core.docket.hand_over import HandOver, State
from aptandum.core.words import show_moment
from aptandum.ui import theme
from aptandum.ui.strings import t

LOOK: dict[State, tuple[str, str]] = {
    "ready": ("arrow-right", "blue"),
    "sending": ("arrow-right", "blue"),
    "unsure": ("circle-help", "asks"),
    "waiting": ("inbox", "ink2"),
    "review": ("search", "ink2"),
    "accepted": ("file-check", "meets"),
    "held": ("lock", "advises"),
    "refused": ("file-x", "misses"),
    "retired": ("minus", "unknown"),
    "replaced": ("refresh-cw", "unknown"),
    "withdrawn": ("undo-2", "unknown"),
}

GROUPS: tuple[tuple[str, tuple[State, ...]], ...] = (
    ("to be sent", ("ready", "sending", "unsure")),
    ("at the desk", ("waiting", "review")),
    ("held", ("held",)),
    ("refused", ("refused",)),
    ("accepted", ("accepted",)),
    ("over", ("retired", "replaced", "withdrawn")),
)
"""What a person looks for, and the states in it."""


def group_said(name: str, n: int) -> str:
    """How many stand in a group, in words."""
    return {
        "to be sent": t("{n} to be sent", n=n),
        "at the desk": t("{n} at the desk", n=n),
        "held": t("{n} held", n=n),
        "refused": t("{n} refused", n=n),
        "accepted": t("{n} accepted", n=n),
        "over": t("{n} over", n=n),
    }[name]


def said(item: HandOver) -> str:
    """How one stands, in a word or two."""
    if item.wish == "retire":
        return t("to be retired")
    if item.wish == "review":
        return t("a new review is asked for")
    return {
        "ready": t("nothing yet, to be sent"),
        "sending": t("nothing yet, being sent"),
        "unsure": t("no answer yet"),
        "waiting": t("received, waiting"),
        "review": t("under review"),
        "accepted": t("accepted"),
        "held": t("held"),
        "refused": t("refused"),
        "retired": t("retired"),
        "replaced": t("replaced"),
        "withdrawn": t("nothing, it was withdrawn"),
    }[item.state]


def draw_state(painter: QPainter, state: State, box: QRectF) -> None:
    """Draw a state's icon into a square box."""
    name, token = LOOK[state]
    theme.icon(name, token, 16).paint(painter, box.toRect(), Qt.AlignmentFlag.AlignCenter)


def when(at: str) -> str:
    """A time of today as hours and minutes, an older one with its day."""
    try:
        moment = datetime.fromisoformat(at).astimezone()
    except ValueError:
        return ""
    if moment.date() == datetime.now().date():
        return moment.strftime("%H:%M")
    return show_moment(moment)
