"""The places in which a brief's picture is seen, their zones, and its template of panels."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any, cast

from aptandum.core.brief.model import PLACES, Clause, Example, Panel, Seen, Template, Zone
from aptandum.core.quantity import ASPECT, LENGTH, PIXELS, SHARE, SIZE
from aptandum.core.rulebook.language import ANCHORS, EXAMPLE, PANEL, SEEN, TEMPLATE, ZONE, names
from aptandum.core.rulebook.toml_lines import Path_
from aptandum.core.rulebook.toml_tables import TableReader, _shown
from aptandum.core.words import listed, say

_KINDS = ("good", "bad")
_COLOUR = re.compile(r"#[0-9A-Fa-f]{6}")


class PlaceReader(TableReader):
    """Reads what a brief carries beside its clauses."""

    def seen(self, table: Mapping[str, Any], path: Path_) -> Seen:
        self.known(table, path, names(SEEN))
        as_ = self.get(
            table,
            path,
            "as",
            lambda v: v if v in PLACES else None,
            say("one of {words}", words=listed(PLACES)),
            "",
            needed=True,
        )
        opacity = self.quantity(table, path, "opacity", SHARE)
        if opacity is not None and not 0 <= opacity <= 1:
            self.problem((*path, "opacity"), _shown(table["opacity"]), say("0 % to 100 %"))
        colours = table.get("colours", [])
        good = isinstance(colours, list) and all(
            isinstance(c, str) and _COLOUR.fullmatch(c) for c in colours
        )
        if not good:
            self.problem((*path, "colours"), _shown(colours), say('colours such as "#1F5A7A"'))
            colours = []
        return Seen(
            as_=as_,
            width=self.quantity(table, path, "width", LENGTH),
            at=self.quantity(table, path, "at", PIXELS),
            opacity=opacity,
            zones=self.zones(table, path),
            colours=tuple(colours),
            text=self.text_of(table, path, "text"),
            aspect=self.quantity(table, path, "aspect", ASPECT),
            anchor=self.get(
                table,
                path,
                "anchor",
                lambda v: v if v in ANCHORS else None,
                say("one of {words}", words=listed(ANCHORS)),
                "middle",
            ),
        )

    def zones(self, table: Mapping[str, Any], path: Path_) -> tuple[Zone, ...]:
        zones = []
        for i, entry in enumerate(self.tables(table, path, "zones")):
            at = (*path, "zones", i)
            self.known(entry, at, names(ZONE))
            name = self.text_of(entry, at, "name", needed=True)
            sides = [
                self.quantity(entry, at, key, SHARE, needed=True)
                for key in ("left", "top", "width", "height")
            ]
            if any(side is None for side in sides):
                continue
            left, top, width, height = sides
            inside = left >= 0 and top >= 0 and width > 0 and height > 0
            if not inside or left + width > 1 + 1e-9 or top + height > 1 + 1e-9:
                self.problem(at, _shown(name), say("a zone that lies inside the frame"))
                continue
            zones.append(Zone(name, left, top, width, height))
        return tuple(zones)

    def examples(
        self, table: Mapping[str, Any], path: Path_, clauses: tuple[Clause, ...]
    ) -> tuple[Example, ...]:
        """The body's examples; one may be about a clause of the brief."""
        known = {clause.id for clause in clauses}
        found = []
        for i, entry in enumerate(self.tables(table, path, "example")):
            at = (*path, "example", i)
            self.known(entry, at, names(EXAMPLE))
            picture = self.picture(entry, at, "picture")
            if "picture" not in entry:
                self.problem((*at, "picture"), say("nothing"), say("a file name without a folder"))
            kind = self.get(
                entry,
                at,
                "kind",
                lambda v: v if v in _KINDS else None,
                say("one of {words}", words=listed(_KINDS)),
                "",
                needed=True,
            )
            about = self.text_of(entry, at, "about")
            if about and about not in known:
                expected = say("the id of a clause of this brief")
                self.problem((*at, "about"), _shown(about), expected)
            shows = self.text_of(entry, at, "shows", needed=True)
            if picture and kind:
                found.append(Example(picture, kind == "good", shows, about))
        return tuple(found)

    def template(self, table: Mapping[str, Any], path: Path_) -> Template | None:
        if "template" not in table:
            return None
        at = (*path, "template")
        entry = self.table(table["template"], at)
        if entry is None:
            return None
        self.known(entry, at, names(TEMPLATE))
        size = self.quantity(entry, at, "size", SIZE, needed=True)
        shade = self.picture(entry, at, "shade")
        panels = []
        for i, part in enumerate(self.tables(entry, at, "panel")):
            spot = (*at, "panel", i)
            self.known(part, spot, names(PANEL))
            name = self.text_of(part, spot, "name", needed=True)
            outline = part.get("outline")
            good = isinstance(outline, list) and len(outline) >= 3
            good = good and all(
                isinstance(p, list)
                and len(p) == 2
                and all(
                    isinstance(c, (int, float)) and not isinstance(c, bool) and abs(c) < 1e6
                    for c in p
                )
                for p in cast(list[Any], outline)
            )
            if not good:
                expected = say("at least three points such as [24, 20]")
                self.problem((*spot, "outline"), _shown(outline), expected)
                continue
            points = tuple((float(p[0]), float(p[1])) for p in cast(list[Any], outline))
            if size is not None and any(
                not (0 <= x <= size[0] and 0 <= y <= size[1]) for x, y in points
            ):
                expected = say("points inside the template's size")
                self.problem((*spot, "outline"), _shown(outline), expected)
                continue
            panels.append(Panel(name, points))
        if not entry.get("panel"):
            self.problem(at, say("no panel"), say("at least one [[brief.template.panel]]"))
        self.unique(
            [(p.name, (*at, "panel", i, "name")) for i, p in enumerate(panels)], say("panel")
        )
        return Template(size, tuple(panels), shade) if size is not None else None
