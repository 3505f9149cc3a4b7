"""The session: the docket that is open, the fitting on the bench, and what is known of it.

Each part is a module of this package with a class of its own, which is given the parts that it stands
on. Every change of the docket goes through :class:`DocketStore`, whose history can undo it; each part
says by its own signals what has changed.
"""

from aptandum.ui.session.bench import Bench, Loss
from aptandum.ui.session.docket_store import Change
from aptandum.ui.session.photo_store import seen_as
from aptandum.ui.session.session import Session
from aptandum.ui.session.who import person

__all__ = ["Bench", "Change", "Loss", "Session", "person", "seen_as"]
