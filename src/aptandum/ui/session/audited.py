"""One source that is audited against one brief, and what is known of it so far."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from aptandum.core.docket import audit_lists
from aptandum.core.docket.audit import Checked
from aptandum.core.docket.audit_book import Since
from aptandum.core.docket.audit_found import Found, Known
from aptandum.core.docket.audit_lists import Rows
from aptandum.core.docket.audit_memory import Remembered
from aptandum.core.docket.listed import Listed
from aptandum.core.docket.listing import Columns
from aptandum.core.docket.model import Audited, Instead

Come = tuple[tuple[int, ...], Checked]
"""The places of the items that show a picture, and what was found of it."""


@dataclass
class AuditRun:
    """One source held against one brief.

    Attributes:
        items: what is looked at.
        checked: what was found, by the item's place.
        briefs: all that the source is audited against, where there are several.
        columns: what a person has said of the listing's columns.
        visit: of the book, while it goes on; 0: not begun.
        remembered, since: what the book remembers, once all were looked at.
    """

    source: str
    brief: str
    items: Listed = field(default_factory=lambda: Listed(()))
    checked: Found = field(default_factory=lambda: Found(Listed(())))
    asked: object = None
    briefs: tuple[str, ...] = ()
    columns: Columns | None = None
    visit: int = 0
    remembered: Remembered | None = None
    since: Since = field(default_factory=Since)

    @classmethod
    def of(cls, source: str, brief: str, items: Listed) -> AuditRun:
        """One of which nothing is known yet."""
        return cls(source, brief, items, Found(items))

    @property
    def lane(self) -> str:
        return f"audit {self.source} {self.brief}"

    def audited(self) -> Audited:
        """As the docket keeps it."""
        listed = self.items.as_listed
        instead = tuple(
            Instead(item=listed[at].name, listed=listed[at].file, file=file)
            for at, file in sorted(self.items.instead.items())
        )
        said = {} if self.columns is None else {k: v for k, v in vars(self.columns).items() if v}
        return Audited.model_validate(
            {"source": self.source, "brief": self.brief, "instead": instead, "briefs": self.briefs, "columns": said}
        )  # fmt: skip

    def told(self) -> Rows:
        """Everything that was looked at, with what is remembered of it, as it is listed."""
        return audit_lists.told(self.checked.copy(), self.remembered)

    def put_instead(self, held: Audited) -> None:
        """Look at the pictures that the docket names in place of listed ones; what was found of
        others stands."""
        other = {(one.item, one.listed): one.file for one in held.instead}
        listed = self.items.as_listed
        files = {}
        if other:
            named = ((at, (item.name, item.file)) for at, item in enumerate(listed))
            files = {at: other[name] for at, name in named if name in other}
        self.use(listed.with_files(files))

    def put(self, items: Listed, known: Known | None, found: Iterable[Come] = ()) -> None:
        """What is known or was found of some pictures, as they were listed when they were asked for; what another
        picture has taken the place of meanwhile is looked at anew."""
        then, now = items.instead, self.items.instead
        other = {at for at in then.keys() | now.keys() if then.get(at) != now.get(at)}
        if known is not None:
            self.checked.put_known(known.without(other) if other else known)
        for at, one in found:
            self.checked.put([n for n in at if n not in other], one)

    def use(self, items: Listed) -> None:
        """Look at these, which are the same with other pictures in place of some; what was found of others stands."""
        before, now = self.items.instead, items.instead
        if before == now:
            return
        self.items, self.checked = items, self.checked.copy(items)
        changed = [at for at in before.keys() | now.keys() if before.get(at) != now.get(at)]
        self.checked.forget(changed)
