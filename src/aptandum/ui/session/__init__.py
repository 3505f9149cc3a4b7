"""The session: the docket that is open, the fitting on the bench, and what is known of it.

Widgets show what stands here and ask for changes; every change of the docket goes through its
history, so that it can be undone. Each part is a module of this package, and stands on ``base``.
"""

from aptandum.ui.session.base import PREVIEW
from aptandum.ui.session.bench import Bench, Loss
from aptandum.ui.session.changes import Changes
from aptandum.ui.session.keeping import Keeping
from aptandum.ui.session.looks import Looks
from aptandum.ui.session.making import Making
from aptandum.ui.session.many import Many
from aptandum.ui.session.people import Heads
from aptandum.ui.session.photos import Photos
from aptandum.ui.session.shelf import Shelved
from aptandum.ui.session.who import person


class Session(Shelved, Photos, Many, Heads, Looks, Changes, Making, Keeping):
    """See the module."""


__all__ = ["PREVIEW", "Bench", "Loss", "Session", "person"]
