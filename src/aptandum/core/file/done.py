"""What is done round a picture on the way to its file, each with its cause, and all of it in a line."""

from __future__ import annotations

from aptandum.core.figures import show_bytes, show_factor, show_number, show_share
from aptandum.core.file.make import Made
from aptandum.core.file.standing import Held
from aptandum.core.fitting.causes import Cause, Why, by_hand, so_meant, standing_wish
from aptandum.core.fitting.not_carried import NO_DENSITY, NO_METADATA, NO_PROFILE
from aptandum.core.fitting.plan import THREE_CHANNELS, Line
from aptandum.core.fitting.record import Act
from aptandum.core.photo.facts import FORMAT_NAMES, Facts
from aptandum.core.photo.metadata_groups import GROUPS
from aptandum.core.photo.profile import SPACE_NAMES
from aptandum.core.words import joined, say


def around(
    facts: Facts, line: Line, held: Held, why: Why, done: tuple[Act, ...], made: Made
) -> tuple[Act, ...]:
    """What is done round the picture, each with its cause: how it is encoded, what its metadata no
    longer tell, which density and which profile are put in.

    Args:
        held: what the photo holds that is left out unless somebody keeps it.
        done: what is done to the picture.
        made: the file.
    """
    found: list[Act] = []
    if line.way == "anew":
        causes = [act.cause for act in done if act.cause is not None]
        found.append(
            Act(
                "",
                say("Encoded anew as {what}.", what=_encoding(facts, line, made)),
                why.of_encoding(causes),
            )
        )
        found += _beside(facts)
    if line.way == "supplied":
        return ()
    wishes = line.file.metadata
    for name, there, said in (
        ("location", held.location, say("Place of the shot left out.")),
        ("camera", held.camera, say("Camera data left out.")),
    ):
        if there and wishes.get(name) != "keep":
            found.append(Act("", said, _left_out(name, why)))
    for name, wish in wishes.items():
        if wish is None or name in ("location", "camera"):
            continue
        if why.wishes.get(name) is not None:
            found.append(Act("", _wished(name, wish), by_hand()))
        elif wish == "drop" and name in held.groups:
            found.append(Act("", _wished(name, wish), why.of_group(name) or standing_wish()))
    if line.way == "anew":
        found += _no_longer(facts, line, held, made)
    asked = line.file.ppi
    if asked is not None and (facts.ppi_x is None or abs(facts.ppi_x - asked) >= 0.01):
        found.append(
            Act("", say("Pixels per inch set to {n}.", n=show_number(asked, 2)), why.of_ppi())
        )
    profiled = made.format not in NO_PROFILE and line.colour.bits > 1
    if line.colour.icc and not facts.icc_bytes and profiled:
        three = line.colour.target == "grey" and made.format in THREE_CHANNELS
        what = SPACE_NAMES["srgb" if three else line.colour.target]
        cause = so_meant() if three else why.of_profile()
        found.append(Act("", say("Profile embedded: {space}.", space=what), cause))
    return tuple(found)


def _no_longer(facts: Facts, line: Line, held: Held, made: Made) -> list[Act]:
    """What a photo's file tells and the made one does not, where nobody has asked for that."""
    found: list[tuple[str, str]] = []
    none = say("{format} holds none", format=FORMAT_NAMES[made.format])
    wishes = line.file.metadata
    told = any(wishes.get(group) is None for group in held.groups - {"location", "camera"})
    if made.format in NO_METADATA and (told or held.more):
        found.append((say("Metadata left out."), none))
    elif held.more:
        taken = say("a file that is encoded anew takes over credit, copyright, caption and date")
        found.append((say("Other metadata left out, such as comments and keywords."), taken))
    if facts.icc_bytes and made.format in NO_PROFILE:
        found.append((say("Profile left out."), none))
    elif facts.icc_bytes and line.colour.bits == 1:
        found.append((say("Profile left out."), say("dots are black or white")))
    if facts.ppi_x is not None and made.format in NO_DENSITY:
        found.append((say("Pixels per inch left out."), none))
    elif facts.ppi_x is not None and line.file.ppi is None:
        stated = show_number(facts.ppi_x, 2)
        same = facts.ppi_x == facts.ppi_y
        because = (
            say("{n} is not a usable value", n=stated)
            if same
            else say("the values across and up differ")
        )
        found.append((say("Pixels per inch left out."), because))
    return [Act("", does, Cause(because)) for does, because in found]


def _beside(facts: Facts) -> list[Act]:
    """What lies in a photo's file beside its picture and does not come into another."""
    found = []
    if facts.gain_map:
        found.append(
            Act("", say("Its gain map, for screens that can be brighter than white, is left out."))
        )
    several = facts.pictures - facts.gain_map
    if several > 1:
        said = say("Its file holds {n} pictures; the one that it names first is used.", n=several)
        found.append(Act("", said))
    if facts.format == "tiff" and (facts.frames or 1) > 1:
        said = say("Its file has {n} pages; the first is used.", n=facts.frames)
        found.append(Act("", said))
    return found


def _encoding(facts: Facts, line: Line, made: Made) -> str:
    """How a file was encoded, and where nothing has set its quality, what that quality means."""
    name = FORMAT_NAMES[made.format]
    if made.options is None:
        if made.colours is None:
            return name
        if line.colour.target == "grey":
            return say("{format} of at most {n} levels of grey", format=name, n=made.colours)
        return say("{format} of at most {n} colours", format=name, n=made.colours)
    quality = made.options.quality
    free = line.file.quality is None and line.file.at_most is None and line.file.at_least is None
    chroma = "4:2:0" if made.format == "webp" else made.options.subsampling
    coarser = chroma not in ("4:4:4", facts.subsampling) and line.colour.target != "grey"
    named = {"format": name, "n": quality}
    if free and coarser:
        return say(
            "{format} at quality {n}, as no rule limits its size in bytes, with less colour detail ({chroma})",
            chroma=chroma,
            **named,
        )
    if free:
        return say("{format} at quality {n}, as no rule limits its size in bytes", **named)
    if coarser:
        return say("{format} at quality {n}, with less colour detail ({chroma})", chroma=chroma, **named)  # fmt: skip
    return say("{format} at quality {n}", **named)


def _left_out(name: str, why: Why) -> Cause:
    if why.wishes.get(name) == "drop":
        return by_hand()
    asked = why.of_group(name)
    return asked or standing_wish()


def _wished(name: str, wish: str) -> str:
    title = next(group.title for group in GROUPS if group.name == name)
    if wish == "keep":
        return say("{group}: kept.", group=title)
    if wish == "drop":
        return say("{group}: left out.", group=title)
    return say("{group}: set.", group=title)


def summary(line: Line, made: Made) -> str:
    """What was done in one short line: ``kept whole · 0.36 × · quality 93 · 251 kB``."""
    frame = line.frame
    parts = []
    if line.way == "supplied":
        parts.append(say("as it came"))
    elif line.way == "around":
        parts.append(say("picture untouched"))
    elif frame.ground is not None:
        parts.append(say("padded"))
    elif frame.kept >= 1 - 1e-6:
        parts.append(say("kept whole"))
    else:
        parts.append(say("{n} cut away", n=show_share(1 - frame.kept)))
    if frame.scale > 1 + 1e-9:
        parts.append(say("enlarged {n}", n=show_factor(frame.scale)))
    elif line.way == "anew" and not frame.exact:
        parts.append(show_factor(frame.scale))
    if line.way == "anew" and made.options is not None:
        parts.append(say("quality {n}", n=made.options.quality))
    parts.append(show_bytes(len(made.data)))
    return joined(parts)
