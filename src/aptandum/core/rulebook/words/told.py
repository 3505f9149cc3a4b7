"""What a sentence tells of and asks for nothing: devices, examples, what lies beside a picture, how it is shown."""

from __future__ import annotations

import re

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.by_body import made_by_body
from aptandum.core.rulebook.words.kept_free import is_of_part
from aptandum.core.rulebook.words.quantities import Quantity
from aptandum.core.rulebook.words.stated import Stated

_I = int(re.I)

_SAFE = r"\b(?:safe (?:area|zone)|Sicherheitsbereich|sicherer Bereich|mounts?|mount(?:ed)?(?: on)?|on (?:card|board)|auf Karton|Passepartout)\b\W{0,3}(?:\w+ ){0,2}$"
_BELOW = r"\W*(?:anything |everything |alles )?(?:below|under|less than|smaller than|unter|weniger als|kleiner als)\b"
_FOR_EXAMPLE = r"\W*(?![^.;]*\b(?:(?:brauchen|benötigen) wir|we (?:need|require|want))\b)(?:for|für|bei)\s[^.;]*\d[^.;]*\b(?:that is|that's|that means|this is|this means|these are|that would be|you (?:will )?need|sind das|ist das|wären das|ergibt das|das sind|entspricht das)\s+(?:about |etwa |rund )?\d"
_FOR_PRINTS = r"\b(?:for|enough for|good for|suits?|allows?|fit for) (?:print(?:s|ing)?|enlargements?|posters?)(?: of| at)? (?:up to|as large as|no larger than)\s+$"
_SAFE_IS = r"\b(?:safe (?:area|zone)|Sicherheitsbereich|sicherer Bereich)\b[^.;\d]*$"
_SCREENS = r"\b(?:screens?|displays?|monitors?|TVs?|panels?|Bildschirme?|Monitore?)\W+$"
"""What is so many inches across, and so many of it: *screens: 6 × 55"*."""
_LONG_NAME = 255
"""So many letters no file system takes in a name."""
_NAME = 24
"""So many letters before a number are looked through for the name that it is below, which is no part of its sentence."""
_LEFT_FREE = r"\s*(?:px|pixels?|Pixel)?\s*(?:\w+\s+){0,6}?(?:left|kept|stay|remain|leave|keep|bleiben|gelassen)\s+(?:blank|free|empty|clear|white|frei|leer|weiß)\b|\s*(?:px|pixels?|Pixel)?\s*(?:\w+\s+){0,6}?(?:frei|leer)\s*(?:bleiben|gelassen|lassen|halten)\b"
_ALL_ROUND = r"\s*(?:px|pixels?|mm|cm)?\s*(?:extra\s+|more\s+)?(?:(?:on|at|to|an|auf)\s+(?:each|every|all|both|the|jeder|allen|beiden)\b|all round|around|ringsum|rundum)"
_FROM_WHERE = r"\s*(?:px|pixels?|mm|cm)?\s*(?:inside|within|in from) (?:the |each |every |all )?(?:trim|cut|crop|bleed|fold|edge|border)\w*\b|\s*(?:px|pixels?|mm|cm)?\s*(?:of|from|away from|vom|von der|von den) (?:the |each |every |all )?(?:image |picture |photo )?(?:cent(?:er|re)|middle|edges?|borders?|corners?|rim|perforations?|folds?|spine|gutter|seams?|trim|Perforation|Falz|Bund|Mitte|Rand|Rändern|Kanten?|Ecken)\b"
_MADE_TO = r"(?:resize|scale|crop)(?: \w+){0,2} to\s+$"
_IS_SHOWN = r"\s*(?:\w+\s+)?(?:are|is|will be|werden|wird)\s+(?:shown|displayed|projected|cropped|fitted|padded|gezeigt|angezeigt|beschnitten)\b"
"""What tells how pictures of a shape are shown: *photos in 16:9 are shown full screen*."""
_ON_SCREEN = r"\b(?:shown|displayed|projected|viewed|gezeigt|angezeigt|projiziert)\b[^.;,]*\b(?:screens?|displays?|monitors?|projectors?|TVs?|Bildschirm\w*|Beamer\w*|Monitor\w*)\s*\($"
_SCALE = r"^\W{0,2}(?:scale|in Endgröße|im Maßstab|at final size)"
_REPRODUCED = r"\b(?:photograph|reproduc|scann|digiti[sz]|captur|imag|copi|fotografier|reproduzier|gescannt|digitalisier)\w*\s+(?:at|in|im|to|mit)\s+$"
_CUT_TO = r"\b(?:crop|cut|trim|show|display|appear|beschn\w+|zugeschnitten|angezeigt)\w*(?: \w+){0,2} (?:to|at|as|in|auf)\s+$"
_HANDED_IN = r"(?:are|is) (?:delivered|supplied|submitted|provided|sent|handed in|uploaded)|(?:werden|wird|sind|ist) [^.;]*(?:geliefert|eingereicht|gesandt|abgegeben|hochgeladen)"
_COMES_TO = r"\s*,?\s*(?:(?:that|this|these|which|it)(?:'s| is| are| makes?| gives?| means?| comes?| works out| corresponds)|(?:das|dies) (?:sind|ist|ergibt|entspricht|macht))\b"
"""What makes a density one that only explains: *at 200 dpi that is 1417 pixels*."""
_PREVIEW = r"\W*(?:(?:please )?(?:send|e?-?mail)(?: us)? )?(?:an? |one |bitte |eine? )?(?:small |low[- ]res\w* |kleine\w* )?(?:previews?|vorschau\w*)\b[^.;]*\b(?:e-?mail|first|beforehand|in advance|vorab|zuerst)\b"
"""How a sentence goes that asks for a look beforehand, and says nothing of the file."""
_AT_A_PINCH = (
    r"\b(?:notfalls|zur Not|if need be|if necessary|at a pinch|falls nötig|wenn nötig)\b[^.;,]*$"
)
"""*Notfalls mit Palette (256 Farben)*."""
_USUAL = (
    r"\W*(?:are|is|sind|ist)\s+(?:typical|usual|common|normal|customary|average|üblich|typisch)\b"
)
"""What makes a number one that only is so: *file sizes of 2 MB are typical*."""
_STILL = r"\b(?:jpe?gs?|pngs?|gifs?|tiffs?|webps?|bmps?|avifs?|photos?|pictures?|images?|stills?|fotos?|bild(?:er)?)\b"
_OF_TILES = r"\s*(?:tiles?|panels?|screens?|monitors?|displays?|modules?|Kacheln?|Paneele?|Bildschirme?|Monitore?|Module?|Elemente?)\b"
"""What is counted and not measured: *the wall has 3 x 3 panels*."""
_MORE_THAN = r"\s*(?:px\s|pixels?\s)?(?:larger|smaller|wider|taller|bigger|longer|narrower|higher|more|less|größer|kleiner|breiter|höher|länger)\s+(?:than|als)\b"
"""What makes a number one of how far something is beyond another: *50 pixels larger than the frame*."""


_ANOTHER_WAY = r"\W*(?:please )?(?:use|send|write|contact|ask|call|split|share|mail|e-?mail|talk|let us|get in touch|bring|put|upload|drop)\b"
"""How a sentence goes on that tells how pictures come for which something holds: *if it is over 25 MB use the drop box*."""
_SEND_ELSE = (
    _ANOTHER_WAY
    + r"[^.;]*\b(?:link|mail|e-?mail|post|stick|cloud|transfer|drop ?box|server|ftp|courier)\b[^.;]*\b(?:{0})\b[^.;,]*$"
)
"""How a sentence begins that tells which way larger files come: *send by link, not by mail, if over …*."""
_OF_MOUNT = r"\W*(?:the |all |any |die |alle )?(?:mounts?|mats?|matts?|passepartouts?|envelopes?|parcels?|frames|boards|rahmen|umschläge?|pakete?)\s+(?:must|should|has to|have to|are|is|have|measure|müssen|muss|sollen|sollten|sind|ist|haben|messen)\b(?!\s+(?:not|nicht)\b)"
"""How a sentence begins that is of what a print stands on or comes in: *mounts must be 500 x 400 mm*."""
_PRINT_BESIDE = r"\W*(?:\(?\d{1,2}[.)]\s*)?[^.;\d]{0,16}\b(?:an? |the |any |ein |der )?(?:(?:contact |paper )?prints?|(?:Papier)?abz[uü]g\w*)\b[^.;\d]*\b(?:beside|besides|alongside|in addition to|together with|accompan\w+|along with|neben|zusätzlich zu\w?|zusammen mit)\s+(?:the |its |der |ihrer )?(?:\w+ )?(?:files?|images?|upload|Datei\w*)\b"
"""How a sentence begins that is of a print on paper beside the file: *a print lodged beside the file shall be 10 x 15 cm*."""
_BY_BODY = r"^\W*(?:we|wir)\s+(?:(?:will|then|also|always|werden|dann)\s+)*(?:crop|cut|trim|scale|resize|shrink|reduce|beschneid\w*|schneid\w*|verkleiner\w*)\b"
"""What a body does itself with what it was given: *we crop every picture to a circle of 320 px*."""


_OF_PLAN = r"\((?:the|our|my|der|die|das|unser\w*)\s+(?:[\w-]+\s+){1,3}(?:has|holds|gives|offers|hat|bietet)\s+$"
"""What tells in brackets how much a body has: *(the free plan has 500 MB in total)*."""
_NOT_FROM = (
    r"(?<!out of )(?<!out of the )(?<!out of your )(?<!from )(?<!from the )(?<!from your )(?<!off the )"
    r"(?<!in )(?<!aus der )(?<!von der )(?<!in der )"
)
"""*JPEG straight out of camera* tells nothing of one."""
OF_WHOLE = r"\b(?:Bild|Foto|Gesamt|image |picture |photo |print |total )(?:höhe|height)\b"
"""A height that is the picture's own: *vom Kinn bis zum Scheitel 32 mm (bei 45 mm Bildhöhe)*."""
_GIVEN = r"(?:[^.;:\d]*:\s)?\W*(?:you(?: will|'ll)? (?:receive|get)\b(?! (?:the best|better|an error|a message|a warning|rejected|refused))|sie (?:erhalten|bekommen)\b|wir stellen\b[^.;]*\b(?:bereit|zur Verfügung)\b|we provide\b(?! you must)|we(?: will|'ll)? (?:send|deliver|supply|give) you\b|wir (?:schicken|liefern|senden) (?:Ihnen|euch|dir)\b)"
_ON_STICK = r"\b(?:USB|memory|SD|(?:memory |SD[- ]?)?cards?|Speicherkarten?)\b[^;]{0,24}$"
_ROUND_THEM = r"\s*(?:pictures|images|photos|ones|Bilder|Fotos)\s+(?:get|are|will|have|show|bekommen|werden|haben)\b"
"""How it goes on behind a proportion that some pictures have: *3:2 pictures get a white strip*."""
_FAR = 240
"""So many letters before a size are looked through for the one that it is trimmed from."""
_READ_AT = r"\b(?:readable|legible|viewed|recogni[sz]able|lesbar|erkennbar)\b[^.;,]*$"
"""What makes a size that in which something has to be read: *readable at 5 x 13 cm*."""
_OF_HEAD = r"\b(?:head|face|eyes?|kopf\w*|gesicht\w*|augen\w*)\b[^.;,]*\b(?:to|zu|zur|zum|of|/)\b[^.;,]*\b(?:ratio|proportion|Verhältnis)\b[^.;]*$|\b(?:ratio|proportion|Verhältnis)\b[^.;,]*\b(?:head|face|kopf\w*|gesicht\w*)\b[^.;]*$"
"""What makes a proportion one of a head and its picture, and none of the picture: *head width to image width ratio*."""
_LOOKED_AT = r"\b(?:sharp|crisp|clean|clear|viewed|seen|inspected|checked|judged|zoom\w*|scharf|Ansicht|betrachtet)\s+(?:at|bei|in|to|auf)\s+$"
"""*Sharp at 1:1*."""
_PDFS = r"\W*(?:the |all |die |alle )?PDFs?(?:[- ](?:files?|dateien|documents?))?\s+(?:may|can|must|should|are|have|need|up to|dürfen|können|müssen|sollen|sind|haben|bis)\b"
_BY_SOME = r"\b(?:shown|displayed|read|supported|gezeigt|angezeigt) (?:by|in|on|von|in|auf) (?:some|many|most|old(?:er)?|einige\w*|viele\w*|manche\w*) (?:\w+ )?(?:programs|clients|browsers|viewers|devices|apps|programs|Programmen?|Browsern?|Geräten?)\b"
"""*Only the first frame of a GIF is shown by some programs*."""
_PITCH = r"\b(?:pitch|Pixelabstand)\W+(?:of |is |von )?$"
_FEW_OF = r"\s*(?:thumbnails?|pictures|images|photos|frames|Miniaturen|Bilder|Fotos)\b"
_HARDLY_PIXELS = 20
"""So many pixels at most no side of a picture has: *5 x 4 thumbnails* are counted."""
_MULTIPLES = r"\b(?:multiples?|Vielfache[sn]?) (?:of|von)\s+$"
"""*Multiples of 8 px*."""
_OF_VIDEO = r"(?<!before the )(?<!before a )(?<!after the )(?<!vor dem )(?<!from the )(?<!of the )(?<!for the )(?<!zum )\b(?:videos?|trailer|clips?|films?)\W*$"
"""What names a moving picture: *Promo video*, where *slides before the film* stand still."""
_PANEL = r"\W*(?:panel|display|screen|diagonal|anzeige|bildschirm)\b[^.;\d]{0,12}\d"
_OVER_HEAD = r"\s*(?:px|mm|cm)?\s*(?:of (?:space|room|air) )?(?:above|over|über) (?:the |dem |den )?(?:head|hair|crown|Kopf|Haaren?|Scheitel)\b"
_OF_PDF = r"\bPDFs?\s*\(\W*(?:\w+\.?\s+){0,3}$"
"""What stands before the bytes of a PDF, which is no picture: *as PDF (max. 50 MB)*."""


_PRINTED_AT = r"\d[\d.,]*\s*(?:px|pixels?|Pixel)\b[^().;]{0,40}\((?P<told>(?:that is |that's |which is |= ?|i\.e\. |entspricht |das sind |das ist |das wären )?\d[\d.,]*\s*(?:mm|cm|in(?:ch(?:es)?)?|[\"″])\s*(?:at|@|bei|mit|with|,)\s*\d+\s*[dp]pi)\)"


def _in_print(said: str, at: int) -> bool:
    """Whether a place lies in brackets that tell how large pixels are in print."""
    return any(
        hit.start("told") <= at < hit.end("told")
        for hit in patterns.finditer(_PRINTED_AT, said, _I)
    )


def _counted(q: Quantity, behind: str) -> bool:
    """Whether what looks like a size counts pictures: *5 x 4 thumbnails*."""
    sides = re.findall(r"\d+", q.values[-1]) if q.kind == "size" else []
    if sides and patterns.match(_OF_TILES, behind, _I):
        return True
    few = bool(sides) and all(int(side) <= _HARDLY_PIXELS for side in sides)
    return few and patterns.match(_FEW_OF, behind, _I) is not None


class Told(Stated):
    """A sentence, and which of its quantities are only told of."""

    def of_middle(self, quantity: Quantity, before: str) -> bool:
        """Whether a number of the head's says where it is, or how wide: *centred to within 2 mm*."""
        middle = r"\b(?:cent(?:red?|er(?:ed)?)|middle|Mitte|zentriert|mittig)\b[^,;]*$"
        wide = r"\bwidth\b[^,;]*$"
        return bool(
            (quantity.kind in ("share", "length") and patterns.search(middle, before, _I))
            or (quantity.kind == "share" and patterns.search(wide, before, _I))
        )

    def of_device(self) -> bool:
        """Whether a sentence tells of a device and asks for nothing: *the new camera has 24 megapixels*."""
        words = self.words
        asks = "|".join((*words.before.values(), *words.after.values(), words.must, words.should))
        tells = rf"^\W*(?:our|this|its|my|unser|der|die)\s+(?:\w+\s+){{0,2}}(?:{words.device})\s+\w+(?:s|t)\b"
        if patterns.search(
            r"\b(?:asks?|wants?|needs?|requires?|accepts?|verlangt|braucht|nimmt)\b", self.said, _I
        ):
            return False
        beyond = rf"\b(?:{words.pictures}|bilder\w*|fotos|dateien)\s+(?:{words.before['above']}|{words.before['below']})\s"
        if patterns.search(beyond, self.said, _I):
            return False  # “My old printer hums at files over 8 MB”
        if patterns.search(tells, self.said, _I) and not patterns.search(
            rf"\b(?:{words.must}|{words.should}|{words.hands_in})\b", self.said, _I
        ):
            return True  # “Our scanner handles originals up to 216 x 356 mm”
        source = "" if re.search(r"\d", self.said) else _NOT_FROM
        return (
            not self.listed
            and not patterns.match(rf"\W*(?:{words.forbids})\b", self.said, _I)
            and bool(patterns.search(rf"{source}\b(?:{words.device})\b", self.said, _I))
            and not patterns.search(
                rf"(?<!\w)(?:{asks}|{words.hands_in}|{words.asks}|{_HANDED_IN})(?!\w)",
                self.said,
                _I,
            )
        )

    def of_shown(self) -> bool:
        """Whether a sentence tells how a body shows some pictures: *transparent PNGs are shown on grey*."""
        of = rf"(?:[^\W\d]+ ){{0,3}}(?:{self.words.pictures}|pngs?|gifs?|jpe?gs?|dateien|bilder|fotos|image|picture|photo|file|bild|foto|alpha(?: channels?)?|transparency|transparent (?:areas?|parts?|pixels))"
        some = rf"^\W*{of}(?: (?:of|with|in|von|mit) (?:[^\W\d]+ ){{1,3}}| )(?:are|is|will be|get|gets|werden|wird)\s+(?:(?!not\b|nicht\b)[^\W\d]+ ){{0,4}}?"
        how = r"(?:shown|displayed|flattened|placed|put|padded|recompressed|re-?encoded|gezeigt|angezeigt|dargestellt|hinterlegt)\b(?![^.;]*\d)"
        binds = rf"\b(?:{self.words.must}|{self.words.should})\b"
        if patterns.search(_BY_SOME, self.said, _I):
            return True
        return bool(patterns.match(some + how, self.said, _I)) and not patterns.search(
            binds, self.said, _I
        )

    def of_given(self) -> bool:
        """Whether a sentence tells what a body hands out itself: *you receive: JPEG 3000 px*."""
        return patterns.match(_GIVEN, self.said, _I) is not None

    def of_film(self) -> bool:
        """Whether a sentence is about moving pictures alone, or a look beforehand: *motion: MP4, H.264, 10 s*."""
        film = r"\b(?:mp4|mov|webm|avi|h\.?26[45])\b"
        if patterns.search(_OF_VIDEO, self.brief, _I):
            return True  # “Promo video: 30 s”
        if patterns.match(_PREVIEW, self.said, _I):
            return True
        return bool(patterns.search(film, self.said, _I)) and not patterns.search(
            _STILL, self.said, _I
        )

    def _conditional(self, q: Quantity) -> bool:
        """Whether a quantity stands in a condition whose other half refuses nothing: *if your file is over
        200 MB, write to us*."""
        before, behind = self.text[self.start : q.start], self.text[q.end : self.end]
        if patterns.match(_SEND_ELSE.format(self.words.depends), before, _I) and q.kind == "bytes":
            return not behind.strip(" .;)")  # “Send by link, not by mail, if over 20 MB”
        return bool(
            patterns.search(rf"(?:^|[,;:]\s*)\W*(?:{self.words.depends})\b[^,;:]*$", before, _I)
            and (
                patterns.search(r"^[^,;:.]{0,24},", behind)
                or patterns.match(_ANOTHER_WAY, behind, _I)
            )
            and q.kind in ("bytes", "px", "size", "megapixels")
            and not patterns.search(
                rf"\b(?:{self.words.refusal}|{self.words.must}|{self.words.rejects})\b", behind, _I
            )
        )

    def explains(self, quantity: Quantity) -> bool:
        """Whether a quantity says how many bytes a unit has: ``(1 kB = 1024 bytes)``."""
        around = self.text[max(self.start, quantity.start - 12) : quantity.end + 12]
        return quantity.kind == "bytes" and bool(
            patterns.search(r"1\s*[kKmM]i?B\s*=\s*1", around) and quantity.values[0].split()[0]
            in ("1", "1024", "1000", "1048576", "1000000")
        )  # fmt: skip

    def seen(self, q: Quantity) -> bool:
        """Whether a size is that in which a picture is seen, or one that was refused."""
        before, behind = self.text[self.start : q.start], self.text[q.end : self.end]
        if self._told_of(before) or self._of_its_kind(q, before):
            return True
        if "size" in q.kind and patterns.search(_READ_AT, before, _I):
            return True
        if q.kind == "bytes" and patterns.match(_PDFS, self.said, _I):
            return True
        if q.kind == "bytes" and patterns.search(f"{_OF_PDF}|{_OF_PLAN}|{_ON_STICK}", before, _I):
            return True
        if self._in_frame(q) or self._conditional(q) or self._of_words(q) or self._trimmed(q):
            return True
        if q.kind == "characters" and int(q.values[-1]) > _LONG_NAME:
            return True
        if q.kind == "characters" and patterns.search(
            rf"\b(?:{self.words.titled})\b", self.said, _I
        ):
            return not patterns.search(r"\b(?:file ?names?|Dateinamen?)\b", self.said, _I)
        if self._beside(q, before):
            return True
        if patterns.match(_USUAL, behind, _I):
            return True
        bounds = "|".join(
            (*self.words.before.values(), *self.words.after.values(), self.words.must)
        )
        if q.kind in ("size", "print size", "px", "length") and (
            not self.listed
            and patterns.search(rf"\b(?:{self.words.no_rule})", self.said, _I)
            and not patterns.search(rf"(?<!\w)(?:{bounds})(?!\w)", self.said, _I)
        ):
            return True  # “the print, 40 x 60 cm, sold for 900 crowns”
        if made_by_body(q.kind, before, behind):
            return True
        if q.kind not in ("size", "px"):
            return False
        if _counted(q, self.text[q.end : self.end]):
            return True
        if patterns.search(
            rf"\b(?:{self.words.shown})(?:\s+an?\s+(?:square|format|size|width|height|frame)\s+of)?\s+$",
            before,
            _I,
        ):
            return not self._bid(before)
        too = rf"\b(?:{self.words.shown})\s+\d[\d.,]*\s*(?:px|pixels?|Pixel)(?:\s+\w+){{0,4}}\s+(?:and|or|und|oder)\s+$"
        explains = q.kind == "size" and patterns.search(
            r"(?:mega-?pixels?|MP)\s*\((?:\w+ )?$", before, _I
        )
        if explains or patterns.search(_ON_SCREEN, before, _I) or patterns.search(too, before, _I):
            return True
        if patterns.search(rf"^\W{{0,3}}\b(?:{self.words.shown_behind})\b", behind, _I):
            return True
        if patterns.search(_BY_BODY, before, _I) and not patterns.search(
            rf"(?<!\w)(?:{bounds})(?!\w)", before, _I
        ):
            return True
        return bool(
            patterns.search(rf"^[^.;]{{0,12}}\b(?:{self.words.refusal})\b", behind, _I)
            and not patterns.search(rf"(?<!\w)(?:{bounds})(?!\w)", before[-40:], _I)
        )

    def _in_frame(self, q: Quantity) -> bool:
        """Whether a length is of a thing that is photographed as well: *a 10 cm scale in frame*."""
        screen = r"[\s-]+(?:[\w-]+ ){0,2}?(?:displays?|screens?|panels?|monitors?|TVs?|Displays?|Bildschirme?)\b"
        if q.kind == "length" and patterns.match(screen, self.text[q.end : self.end], _I):
            return True  # “a 32-inch e-paper display”
        if q.kind == "length" and patterns.match(_PANEL, self.said, _I):
            return q.values[-1].endswith("in")  # “Panel: 2.9", 296 x 128 px”
        if q.kind == "length" and patterns.search(_PITCH, self.text[self.start : q.start], _I):
            return True
        if q.kind == "px" and patterns.search(_MULTIPLES, self.text[self.start : q.start], _I):
            return True
        thing = r"[\s-]*(?:scale|ruler|scale ?bar|colou?r chart|Maßstab|Lineal|Farbkeil)\b"
        return q.kind == "length" and bool(patterns.match(thing, self.text[q.end : self.end], _I))

    def _of_its_kind(self, q: Quantity, before: str) -> bool:
        """Whether what stands round a quantity of its kind makes it one that is only told of."""
        behind = self.text[q.end : self.end]
        may = rf"^\W{{0,2}}(?:is |are |ist |sind )?(?:{self.words.optional}|accepted|permitted)\b"
        if q.kind == "bit":
            return bool(patterns.search(may, behind, _I))  # “16 bit accepted”
        if q.kind in ("ppi", "length") and _in_print(
            self.text[self.start : self.end], q.start - self.start
        ):
            return True  # “3543 px on the longest side (30 cm at 300 dpi)”
        if q.kind == "megapixels" and patterns.match(
            r"[\s-]*(?:sensor|camera|Kamera|Sensor)\b", behind, _I
        ):
            return True
        if q.kind == "ppi":  # “3508 x 2480 pixels (A4 at 300 dpi)” only explains
            if patterns.match(_COMES_TO, behind, _I):
                return True
            if patterns.search(r"\d\s*(?:px|pixels?|Pixel)?\s*\($", before, _I) and patterns.match(
                _BELOW, self.said, _I
            ):
                return True  # “Below 1181 x 532 px (150 dpi) we will not print”
            explains = r"\bA\d\s+(?:at|with|bei|mit)\s+$|\((?:that is|that's|i\.e\.|which is|das sind|das ist|entspricht)\s+$"
            return bool(patterns.search(explains, before, _I))
        if q.kind == "ratio" and patterns.search(rf"{_OF_HEAD}|{_LOOKED_AT}", before, _I):
            return True
        if q.kind == "ratio":
            by_body = rf"\b(?:{self.words.by_body}|\w+'ll be|are|is|werden|wird)\b"
            return bool(
                patterns.search(
                    r"(?:Maßstab|scale)(?: of)?\s+$|\b[dp]pi\s+(?:at|bei)\s+$", before, _I
                )
                or patterns.search(_SCALE, behind, _I)
                or (
                    patterns.fullmatch(r"1:\d+|\d+:1", q.values[-1])
                    and patterns.search(_REPRODUCED, before, _I)
                )
                or patterns.match(_ROUND_THEM, behind, _I)
                or patterns.match(r"\s*crop\b[^.;]*\b(?:shown|displayed)\b", behind, _I)
                or (
                    patterns.search(r"\b(?:in|of|im)\s+$", before, _I)
                    and patterns.match(_IS_SHOWN, behind, _I)
                )
                or (patterns.search(_CUT_TO, before, _I) and patterns.search(by_body, before, _I))
            )  # “We crop to 4:3”
        beyond = r"\s+of (?!space\b|room\b|the\b|an?\b|each\b|its\b|paper\b)\w+"
        if q.kind == "length" and patterns.match(beyond, behind, _I):
            return True  # “64 mm of rain”
        if q.kind in ("px", "length", "share", "bytes") and patterns.search(
            r"(?:±|\+\s*/?\s*[-–]|\bplus or minus|\bplus/minus|\bgive or take)\s*$", before, _I
        ):
            return True
        more = q.kind in ("px", "length", "share")
        return more and bool(patterns.match(_MORE_THAN, behind, _I))

    def _beside(self, q: Quantity, before: str) -> bool:
        """Whether a quantity is of what lies beside the picture or inside it: a bleed, a safe area, how far from an edge
        something lies that is no head and no eye."""
        behind = self.text[q.end : self.end]
        if q.kind in ("size", "print size", "px", "length", "share") and is_of_part(
            self.said, q.start - self.start
        ):
            return True
        example = patterns.match(_FOR_EXAMPLE, self.said, _I) if "size" in q.kind else None
        behind_it = example is not None and q.start >= self.start + example.end() - 1
        if behind_it or (example is not None and q.kind == "print size"):
            return True  # “For half a page (18 x 12 cm) that is 2126 x 1417 pixels”
        if "size" in q.kind or q.kind == "length":
            held = self._sized_beside(q, before)
            if held or "size" in q.kind:
                return held
        if q.kind not in ("px", "length"):
            return False
        if patterns.search(
            r"\((?:our|the|unsere?|die|der)\s+\w+\s+(?:is|are|ist|sind)\s+$", before, _I
        ):
            return True  # “(our column is 8.5 cm wide)”
        if patterns.search(
            r"(?:\b(?:add|plus|zuzüglich|dazu)|\+)\s+$", before, _I
        ) and patterns.match(_ALL_ROUND, behind, _I):
            return True  # “add 4 cm on every side”
        left = patterns.search(
            r"\b(?:leave|keep|lassen(?: Sie)?|lass|lasst|halten(?: Sie)?)\s+(?:at least |about |min\.? |mindestens |mind\.? )?$",
            before,
            _I,
        )
        if left and patterns.match(
            r"\s*(?:px|pixels?|Pixel|mm|cm)?\s*(?:free|blank|empty|clear|frei|leer)\b", behind, _I
        ):
            return True  # “leave 10 px free at every edge”
        if patterns.match(_LEFT_FREE, behind, _I):
            return True  # “a border of 60 px must be left blank”
        of_head = "|".join(self.words.topics[one] for one in ("headroom", "eye_line"))
        # “A gap of 3 to 5 mm above the hair” is a rule by itself.
        if patterns.match(_OVER_HEAD, behind, _I) or patterns.search(
            rf"\b(?:{of_head})\b[^,;]{{0,4}}$", before, _I
        ):
            return False
        beside = f"{self.words.apart}|{self.words.line}" if q.kind == "length" else self.words.apart
        if patterns.search(rf"\b(?:{beside})\b[^,;]{{0,14}}$", before, _I) or patterns.search(
            rf"^\W{{0,3}}(?:px\W{{0,3}})?(?:(?:in|of|for|extra|als|für) )?(?:{beside})\b",
            behind,
            _I,
        ):
            return True
        person = "|".join(self.words.topics[one] for one in ("head_height", "headroom", "eye_line"))
        return bool(patterns.match(_FROM_WHERE, behind, _I)) and not patterns.search(
            rf"\b(?:{person}|eyes?|Augen|chin|Kinn)\b", self.said, _I
        )

    def _sized_beside(self, q: Quantity, before: str) -> bool:
        """The same of a size, or of a length of what a print stands on."""
        if "size" in q.kind and patterns.search(_FOR_PRINTS, before, _I):
            return True  # “For printing up to 20 x 25 cm it is good enough”
        apart = patterns.match(f"{_OF_MOUNT}|{_PRINT_BESIDE}", self.said, _I)
        if apart and q.kind in ("size", "print size", "length"):
            return True
        return "size" in q.kind and bool(
            patterns.search(_SAFE, before, _I)
            or patterns.search(_SAFE_IS, before, _I)
            or (
                q.kind == "print size"
                and patterns.search(_SCREENS, self.text[max(0, q.start - _NAME) : q.start], _I)
            )
        )

    def _told_of(self, before: str) -> bool:
        """Whether the words before a quantity make it an example, what once was, or how far it may be off."""
        off = r"\b(?:tolerances?|deviations?|Toleranz|Abweichung)\s*(?:of|is|:|von|ist)?\s*(?:±|\+/?[-–]|plus or minus)?\s*$"
        example = r"\b(?:e\.\s?g\.|for example|for instance|z\.\s?B\.|zum Beispiel|(?:also|d\.\s?h\.)(?= (?:rund|etwa|ungefähr|ca\.?)\b))[,:]?\s+(?:(?:\w+\s+){0,2}|(?:\w+\s+){1,2}bzw\.\s+|[^.;]{0,24}=\s*)$"
        if patterns.search(_AT_A_PINCH, before, _I):
            return True
        told = rf"\b(?:{self.words.told}|(?:are|is|sind|ist) (?:then |dann )?(?:only|nur noch))\s+$"
        once = r"(?!)" if self.lead else told  # “Rejected: your picture was over 8 MB” is a bound
        inside = r"\b(?:closer|nearer|näher)\s+(?:(?:to|an|am) [^.;,\d]{2,24} )?(?:than|als)\s+$"
        return any(patterns.search(one, before, _I) for one in (once, example, off, inside))

    def _of_words(self, q: Quantity) -> bool:
        """Whether a quantity is of lettering in the picture, or of how long a screen shows it."""
        words = self.words
        bounds = "|".join(words.before.values())
        lettering = rf"^\W*(?:(?:the|any|all|der|die|das)\s+)?(?:{words.lettering})\b\W?(?:\s+\w+){{0,2}}?\s+(?:{words.must}|{words.should}|is|are|ist|sind|{bounds})(?!\w)"
        headed = rf"^\W*(?:{words.lettering})\b[^.;:\d]{{0,30}}:\s"
        none = rf"{headed}|^\W*(?:no|keine?n?|keep(?: all| any| your| the)?)\s+(?:{words.lettering}|logos?)\b|\b(?:smallest|finest|thinnest|kleinste\w*|feine|fine|thin|dünne|feinste\w*|dünnste\w*)\s+(?:{words.lettering}|lines?|strokes?|details?|Linien?|Striche?)\b"
        if q.kind in ("px", "length") and (
            patterns.search(lettering, self.said, _I) or patterns.search(none, self.said, _I)
        ):
            return True  # “No text nearer than 100 px to the edge”
        showing = r"\b(?:display|viewing|showing|slide|Anzeige|Stand)[ -]?(?:time|duration|dauer|zeit)\b\W*(?:\w+ ){0,2}$"
        if q.kind == "seconds" and patterns.search(showing, self.text[self.start : q.start], _I):
            return True  # “Display time 8 s”
        each = r"\W{0,2}(?:each|apiece|per (?:still|picture|image|photo|slide)|je (?:Bild|Foto)|pro (?:Bild|Foto)|je)\b"
        if q.kind == "seconds" and patterns.search(
            r"\b(?:static|still image|Standbild)\b", self.said, _I
        ):
            return True  # “Duration: 10 s, static”
        takes = r"\b(?:takes?|lasts?|runs?|stays?|steht|läuft|dauert|every|alle|after|nach)\s+(?:about\s+|etwa\s+)?$"
        if q.kind == "seconds" and patterns.search(takes, self.text[self.start : q.start], _I):
            return True  # “the refresh takes 20 s”
        if q.kind == "seconds" and patterns.match(each, self.text[q.end : self.end], _I):
            return True  # “6 stills, 10 s each”
        shows = r"\b(?:shows?|shown|displayed|zeigt|gezeigt|angezeigt)\b"
        return q.kind == "seconds" and bool(patterns.search(shows, self.said, _I))

    def _trimmed(self, q: Quantity) -> bool:
        """Whether a printed size is what is left of another when its bleed is cut off."""
        before = self.text[max(self.start, q.start - _FAR) : q.start]
        return q.kind == "print size" and bool(
            patterns.search(rf"\d[^.;]*(?:{self.words.trimmed})[^,;\d]{{0,14}}$", before, _I)
        )

    def _bid(self, before: str) -> bool:
        """Whether a size is to be made, and not told of: “resize to 1600 px”, where “we resize to 1600 px” tells."""
        if patterns.search(rf"\b(?:{self.words.by_body})\b", self.said, _I):
            return False
        return bool(patterns.search(rf"(?:^\W*|\b(?:{self.words.bids})\s+){_MADE_TO}", before, _I))
