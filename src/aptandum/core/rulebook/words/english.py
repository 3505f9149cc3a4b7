"""English."""

from aptandum.core.rulebook.words.lexicon import Lexicon

ENGLISH = Lexicon(
    name="en",
    common=r"\b(the|and|must|with|not|image|picture|photo|file|size|width|height|pixels|most)\b",
    before={
        "at_least": r"at least|no(?:t)? (?:less|fewer|smaller|narrower|lower) than|(?:a )?minimum(?: of| is|:)?"
        r"|min\.?(?: of)?|≥|>=|from|starting (?:at|from)|at a minimum",
        "at_most": r"at (?:the )?most|as (?:large|big|much) as|no(?:t)? (?:be )?(?:more|larger|higher|wider|longer|greater|bigger|heavier)"
        r" than|(?:must|may|should|can|does|do)(?: not|n’t|n't) exceed|not exceed(?:ing)?|up to"
        r"|(?:a )?maximum(?: file size)?(?: of| is|:)?|max\.?(?: size)?(?: of|:)?|≤|<=|within|fit into|limit(?:ed)?"
        r" (?:to|of)|not? over|no taller than",
        "below": r"(?:less|smaller|fewer) than|under|below|<",
        "above": r"(?:more|larger|greater|bigger|wider|higher|longer|taller) than|over|above|>",
        "exactly": r"exactly|precisely",
    },
    after={
        "at_least": r"or (?:more|larger|higher|wider|above|bigger|over|better)|(?:as a |is the )?minimum|min\b\.?|and"
        r" (?:more|up|above|larger)|at least|upwards",
        "at_most": r"or (?:less|smaller|below|fewer|under)|(?:as a |is the )?maximum|max\b\.?|at most",
    },
    to=r"to|through|and|–|—|-|up to",
    by=r"x|×|\*|by",
    topics={
        "longest_side": r"long(?:est|er)?[ -](?:side|edge)|larger side",
        "shortest_side": r"short(?:est|er)?[ -](?:side|edge)|smaller side",
        "head_height": r"head(?: height| size)?|crown to chin|chin to crown|face(?: height)?",
        "headroom": r"headroom|above the head|over the head|crown to the (?:top|upper) edge",
        "eye_line": r"eye ?line|eyes?(?= lie| are| stand| should| must)|eye level",
        "both": r"(?:each|both|every|either) (?:sides?|dimensions?|directions?)",
        "width": r"wider?|width|across|breadth|horizontally",
        "height": r"high(?:er)?(?![- ](?:quality|res))|height|tall(?:er)?|vertically",
        "name_length": r"characters|letters long",
        "subject_fill": r"(?:object|subject|product|item) (?:fills?|takes up|occupies|covers?)",
        "turn": r"turned|yaw",
        "tilt": r"tilt(?:ed)?|roll",
    },
    turns={
        "landscape": r"landscape|horizontal(?!ly)",
        "upright": r"portrait(?: format| orientation| images?| pictures?)|upright|vertical(?!ly)",
        "square": r"square",
    },
    should=r"prefer|recommend(?:ed|s)?|ideally|preferably|preferred|should|best|suggest(?:ed)?|would like",
    must=r"must|required|has to|have to|needs? to|mandatory|will be rejected|only",
    negation=r"leave out|omit|strip|delete|no|not|without|never|don’t|don't|do not|cannot|nor|rejected|refused|removed|remove|forbidden",
    whole=(
        (r"(?:embed(?:ded)?\b[^.;]{0,30}\bprofile|profile\b[^.;]{0,20}\bembedded|with (?:its|the|a) profile)",
         {"measure": "profile", "exactly": "embedded"}),
        (r"(?:transparent(?: background| ground)?|transparency)", {"measure": "transparency", "exactly": "present",
         "denied": "none"}),
        (r"\balpha(?: channel)?\b", {"measure": "transparency", "exactly": "present", "denied": "none"}),
        (r"(?:animation|animated)", {"measure": "frames", "denied": "1"}),
        (r"(?:up-?scal(?:ed|ing)|enlarg(?:e|ed|ing|ement)\b|interpolat(?:ed|ion))",
         {"measure": "enlargement", "denied_at_most": "1"}),
        (r"(?:gps|geo-?tags?|location(?: data)?|place of the shot)", {"measure": "location", "exactly": "present",
         "denied": "none"}),
        (r"(?:borders?|frames?)\b", {"measure": "keyline_width", "denied": "0"}),
        (r"(?:in colou?r)\b", {"measure": "channels", "exactly": "colour"}),
        (r"(?:black[ -]and[ -]white|gr[ea]yscale)", {"measure": "channels", "exactly": "grey"}),
        (r"\bprogressive\b", {"measure": "progressive", "exactly": "progressive", "denied": "baseline"}),
        (r"\binterlaced\b", {"measure": "progressive", "exactly": "progressive", "denied": "baseline"}),
        (r"\bcaptions?\b(?=[^.;]*\bmetadata\b)", {"measure": "caption", "exactly": "present", "denied": "none"}),
        (r"\b(?:author|credit|photographer)\b(?=[^.;]*\bmetadata\b)", {"measure": "credit", "exactly": "present",
         "denied": "none"}),
        (r"\bcopyright\b(?=[^.;]*\bmetadata\b)", {"measure": "copyright", "exactly": "present", "denied": "none"}),
        (r"\bbaseline\b", {"measure": "progressive", "exactly": "baseline"}),
        (r"square (?:pictures?|images?|photos?|format)(?: only)?|\b(?:are|is|be) square\b|(?:^|[,:;(])\s*square(?=\s*(?:[,;.)]|$))", {"measure": "orientation", "exactly": "square"}),
        (r"\ball metadata\b", {"measure": "metadata", "denied": "none"}),
        (r"one person|single person", {"measure": "people", "exactly": "1"}),
    ),
    asks=r"expression|(?:sun)?glasses|mouth|eyes open|background|watermarks?|own work|smil|shadows?|hat\b|headgear"
    r"|halos?\b|sharpen|noise|blurr|head covering|looking|copyright|signature|logo|text on|collage|underscores|file names? without|name your files|pure white|full face|scans?\b|on white\b|logos?\b",
    age=r"(?:not|no) older than ([\w]+) (days?|weeks?|months?|years?)|no(?:t)? more than ([\w]+)"
    r" (days?|weeks?|months?|years?) old|(?:taken )?within the last ([\w]+)"
    r" (days?|weeks?|months?|years?)",
    correction=r"correction|corrected|erratum|instead|from now on|supersedes?",
    no_rule=r"crowns?|€|\$|£|telephone|call|phone|fee|price|opens?|closes?|closing|deadline|o’clock|per cent more"
    r"|more than the year",
    pictures=r"pictures|images|photos|entries",
    together=r"together|in total|altogether|total|all files",
    kinds=r"progressive|baseline|animated|interlaced",
    forbids=r"(?:please\s+)?(?:no|do not|don’t|don't|never)",
    refusal=r"disqualif\w+|scaled down|resized|shrunk|ignored|discarded|cut off|rejected|refused|declined|(?:cannot|can’t|can't|will not|won’t) be \w+|not (?:accepted|taken|allowed)",
    packed=r"compress(?:ion|ed)? ratio",
    optional=r"is fine|are fine|is allowed|are allowed|optional|if you like|is possible|may be used",
    as_format=r"as|for|in(?: the case of)?|if",
    otherwise=r"otherwise|or else|else|alternatively|failing that|if not,",
    units={"px": r"px|pixels?", "bytes": r"bytes?|B", "characters": r"characters|letters", "bit": r"-?bits?"},
    numerals={"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9,
              "ten": 10, "twelve": 12},
)  # fmt: skip
