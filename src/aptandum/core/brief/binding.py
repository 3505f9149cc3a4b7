"""What a measure's limit binds, beside measuring it: that which resolving decides.

A measure names it once (:attr:`aptandum.core.judge.measure.Measure.binds`); resolving folds all
limits that bind the same thing, whatever the measures are called. Sizes are bound by
:class:`aptandum.core.sizes.binds.SizeBind`. A measure that binds nothing is measured alone.
"""

from __future__ import annotations

from aptandum.core.frozen import frozen


class Bind:
    """Something that resolving decides, and that a limit may bind."""


@frozen
class Decided(Bind):
    """One thing that resolving decides outright.

    Attributes:
        what: for whoever reads the code; nothing depends on it but its being unique.
    """

    what: str


FORMAT = Decided("the file's format")
BYTES = Decided("the file's bytes")
SPACE = Decided("the colour space written")
PROFILE = Decided("whether a profile is embedded")
CHANNELS = Decided("colour, grey or one bit")
BITS = Decided("bits of a channel")
TRANSPARENCY = Decided("whether the file is clear in parts")
PROGRESSIVE = Decided("how a JPEG is ordered")
LOCATION = Decided("whether the place of the shot is kept")
FRAMES = Decided("frames of the file")
NAME = Decided("the pattern of the file's name")
NAME_LENGTH = Decided("the length of the file's name")
ZONES = Decided("what lies under the zones of a place")
HEAD_HEIGHT = Decided("the head's height in the frame")
HEADROOM = Decided("the gap above the head")
EYE_LINE = Decided("how high the eyes stand")
HEAD_OFFSET = Decided("how far the head is off the middle")
NAME_BEGINS = Decided("how the file's name begins")
NAME_ENDS = Decided("how the file's name ends")
NAME_HOLDS = Decided("what stands in the file's name")
NAME_WHOLE = Decided("the pattern of the file's name with its ending")
NAME_ENDING = Decided("the ending of the file's name")
NAMES = (NAME, NAME_LENGTH, NAME_BEGINS, NAME_ENDS, NAME_HOLDS, NAME_WHOLE, NAME_ENDING)
PACKING = Decided("the kind of compression")
QUALITY = Decided("the quality of a JPEG")
CHROMA = Decided("how finely a JPEG keeps colour")
RATIO = Decided("the bare pixels over the file's bytes")
DEPTH = Decided("bits of a stored pixel")
COLOURS = Decided("how many colours a picture has")


@frozen
class Told(Bind):
    """What becomes of a group of the metadata.

    Attributes:
        group: its name; empty: of all of them.
    """

    group: str
