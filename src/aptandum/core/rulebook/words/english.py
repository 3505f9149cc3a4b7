"""English."""

from aptandum.core.rulebook.words.lexicon import Lexicon

ENGLISH = Lexicon(
    name="en",
    common=r"\b(the|and|must|with|not|image|picture|photo|file|size|width|height|pixels|most)\b",
    before={
        "at_least": r"at least|(?:no|not|\w+n't)(?: be)? (?:less|fewer|smaller|narrower|lower|shorter) than|nothing (?:(?:less|smaller|narrower|shorter) than|under|below)|(?:equal to or )?(?:greater|larger|more) than or equal to|equal to or (?:greater|larger|more) than|not below|greater than or equal to|(?:a )?minimum(?: of| is|:)?"
        r"|min\.?(?: of)?|≥|>=|down to|from|starting (?:at|from)|at a minimum",
        "at_most": r"at (?:the )?most|nothing (?:bigger|larger|heavier|over|above|more)(?: than)?|(?:less|smaller) than or equal to|equal to or (?:less|smaller) than|capped at|(?:upper )?limit(?: is| of|:)|without exceeding|no longer than|(?:can|may) be up to|as (?:large|big|much) as|(?:no|not|\w+n't)(?: be)? (?:more|larger|higher|wider|longer|greater|bigger|heavier)"
        r" than|(?:must|may|should|can|does|do|will)(?: not|n't) exceed|won't exceed|cannot exceed|not to exceed|not exceed(?:ing)?|up to"
        r"|(?:a )?maximum(?: file size)?(?: of| is|:)?|max\.?(?: size)?(?: of|:)?|≤|<=|within|fit into|limit(?:ed)?"
        r" (?:to|of)|not? over|no taller than",
        "below": r"(?:less|smaller|fewer) than|under|below|<",
        "above": r"(?:more|larger|greater|bigger|wider|higher|longer|taller) than|over|above|>",
        "exactly": r"exactly|precisely",
    },
    after={
        "at_least": r"(?:is|are|would be) too (?:small|short|low|narrow|few)|or (?:more|larger|higher|wider|above|bigger|over|better)|(?:as a |is the )?minimum|min\b\.?|and"
        r" (?:more|up|above|larger)|at least|upwards",
        "at_most": r"(?:is|are|would be) too (?:large|big|long|high|wide|heavy|much|many)|or (?:less|smaller|below|fewer|under)|(?:as a |is the )?maximum|max\b\.?|at (?:the )?most",
    },
    to=r"to|through|and|–|—|-|up to",
    by=r"x|×|\*|by",
    topics={
        "longest_side": r"long(?:est|er)?[ -](?:side|edge|dimension)|larger (?:side|dimension)|largest (?:side|dimension)",
        "shortest_side": r"short(?:est|er)?[ -](?:side|edge|dimension)|small(?:er|est) (?:side|dimension)",
        "head_height": r"head(?: height| size)?|crown to chin|chin to (?:the )?(?:crown|top)|face(?: height)?|facial height",
        "headroom": r"headroom|above the head|over the head|crown to the (?:top|upper) edge",
        "eye_line": r"eye ?line|eyes?(?= lie| are| stand| should| must| have to| between| at\b| \d)|eye level|eye height",
        "both": r"(?:each|both|every|either) (?:sides?|edges?|dimensions?|directions?)|(?:edge|side) length|(?:a|per) side",
        "width": r"wider?|width|across|breadth|horizontally",
        "height": r"high(?:er)?(?![- ](?:quality|res))|height|tall(?:er)?|vertically",
        "name_length": r"characters|letters long",
        "subject_fill": r"(?:object|subject|product|item|garment|goods|figure) (?:(?:should|must|has to|needs to|may|shall|will) )?(?:fills?|takes? up|occup(?:y|ies)|covers?)",
        "turn": r"turned|yaw",
        "tilt": r"tilt(?:ed)?|roll",
    },
    turns={
        "landscape": r"landscape|horizontal(?!ly)",
        "upright": r"portrait(?: format| orientation| images?| pictures?)|(?<=, )portrait(?=[,;.)]|$)|upright|vertical(?!ly)",
        "square": r"square",
    },
    should=r"prefer|recommend(?:ed|s)?|ideally|preferably|preferred|preference|should|ideal|optimal(?:ly)?|desirable|advis(?:ed|able)|encouraged|aim for|try to|where possible|if possible|best|suggest(?:ed)?|would like",
    must=r"must|required|has to|have to|needs? to|mandatory|will be rejected|only",
    negation=r"none|leave out|omit|strip|delete|no|not|without|never|don't|do not|cannot|nor|rejected|refused|removed|remove|forbidden",
    whole=(
        (r"(?:embed(?:ded)?\b[^.;]{0,30}\bprofile|profile\b[^.;]{0,20}\bembedded|with (?:its|the|a) profile)",
         {"measure": "profile", "exactly": "embedded"}),
        (r"(?:transparent(?: background| ground)?|transparency)", {"measure": "transparency", "exactly": "present",
         "denied": "none"}),
        (r"\balpha(?: channel)?\b", {"measure": "transparency", "exactly": "present", "denied": "none"}),
        (r"(?:animation|animated)", {"measure": "frames", "denied": "1"}),
        (r"\b(?:still|static) (?:images?|pictures?|photos?)\b", {"measure": "frames", "exactly": "1"}),
        (r"(?:up-?scal(?:e|es|ed|ing)\b|up-?sampl\w+|enlarg(?:e|ed|ing|ement)\b|interpolat(?:ed|ion))",
         {"measure": "enlargement", "denied_at_most": "1"}),
        (r"(?:gps|geo-?tags?|location(?: data)?|place of the shot)", {"measure": "location", "exactly": "present",
         "denied": "none"}),
        (r"(?:borders?|frames?)\b", {"measure": "keyline_width", "denied": "0"}),
        (r"\b(?:in (?:full )?colou?r|(?:full[ -])?colou?r (?:photo(?:graph)?|picture|image|portrait|print))\b|(?:^|[,:;(])\s*(?:full )?colou?r(?: only)?(?=\s*(?:[,;.)]|$))", {"measure": "channels", "exactly": "colour"}),
        (r"(?:(?<!not )black[ -]and[ -]white|gr[ea]yscale)", {"measure": "channels", "exactly": "grey"}),
        (r"\bprogressive\b", {"measure": "progressive", "exactly": "progressive", "denied": "baseline"}),
        (r"\binterlaced\b", {"measure": "progressive", "exactly": "progressive", "denied": "baseline"}),
        (r"\bcaptions?\b(?=[^.;]*\bmetadata\b)", {"measure": "caption", "exactly": "present", "denied": "none"}),
        (r"\b(?:author|credit|photographer)\b(?=[^.;]*\bmetadata\b)", {"measure": "credit", "exactly": "present",
         "denied": "none"}),
        (r"\bcopyright\b(?=[^.;]*\bmetadata\b)", {"measure": "copyright", "exactly": "present", "denied": "none"}),
        (r"\bbaseline\b", {"measure": "progressive", "exactly": "baseline"}),
        (r"square (?:pictures?|images?|photos?|format|files?|artwork|jpe?gs?|pngs?|gifs?|tiffs?|webps?)(?: only)?|\b(?:are|is|be) square\b|(?:^|[,:;(])\s*square(?=\s*(?:[,;.)]|$))", {"measure": "orientation", "exactly": "square"}),
        (r"\ball metadata\b", {"measure": "metadata", "denied": "none"}),
        (r"(?<=\bno )(?:people|persons|faces)\b", {"measure": "people", "exactly": "0", "denied": "0"}),
        (r"one person|single person", {"measure": "people", "exactly": "1"}),
    ),
    asks=r"expression|(?:sun)?glasses|mouth|eyes open|background|watermarks?|own work|smil|shadows?|hat\b|headgear"
    r"|halos?\b|sharpen|noise|blurr|head covering|looking|copyright|signature|(?:no|any|without) logos?|logos? (?:or|in|on|are|is)\b|(?:or|and) logos?|text on|collage|underscores|file names? without|name your files|(?:white|grey|gray|light|dark|neutral) ground|pure white|full face|no scans?\b|on white\b|\bsharp\b|focus\b|\bprops?\b|red[ -]eye|filters?\b|retouch|well[ -]lit|lighting|shoulders",
    age=r"(?:not|no) older than ([\w]+) (days?|weeks?|months?|years?)|no(?:t)? more than ([\w]+)"
    r" (days?|weeks?|months?|years?) old|(?:within|in|during|from) the (?:last|past|previous) ([\w]+)"
    r" (days?|weeks?|months?|years?)|(?:less|younger|fewer) than ([\w]+) (days?|weeks?|months?|years?) (?:old|ago)"
    r"|(?:at most|max(?:imum)?\.?|up to) ([\w]+) (days?|weeks?|months?|years?) old",
    correction=r"correction|corrected|erratum|instead|from now on|supersedes?",
    no_rule=r"crowns?|€|\$|£|telephone|call|phone|fee|price|opens?|closes?|closing|deadline|o'clock|per cent more"
    r"|more than the year",
    pictures=r"pictures|images|photos|photographs|entries|screenshots|portraits|slides|views|shots|files|works",
    denies=r"not|never|n't|rejected|refused|forbidden|removed|no longer|cannot",
    also=r"too|as well|also|likewise|accepted|only (?:if|where|when)",
    shown=r"(?:scaled|reduced|resized|shrunk|cut down)(?: \w+){0,2} to|(?:appears?|shown|displayed|seen|rendered|viewed|previewed|visible)(?: \w+){0,3}(?: at| as| in)",
    every=r"all (?:of (?:these|them|the) )?(?:pictures|images|files|photos|photographs|artwork|formats|items)\b|everything\b|in all cases",
    hands_in=r"(?:hand in|submit|send|upload|supply|provide|enter|attach|bring|include)(?: (?:us|your|the|exactly|only))*",
    high_first=r"height (?:x|×|by) width|h (?:x|×) w|tall (?:x|×|by) wide",
    rejects=r"(?:do not|don't|cannot|can't|will not|won't|never|no longer) (?:accept|take|use|print|process|publish|send|submit|upload|supply)\b",
    together=r"together|in total|altogether|total",
    kinds=r"progressive|baseline|animated|interlaced",
    unwanted=r"(?:are|is|will be) (?:not (?:accepted|allowed|permitted|wanted)|rejected|refused|turned down|disqualified)"
    r"|(?:won't|cannot|can't|will not) be (?:accepted|used)",
    forbids=r"(?:please\s+)?(?:no|do not|don't|never)",
    refusal=r"disqualif\w+|scaled down|resized|shrunk|reduced|sent back|skipped|dropped|turned (?:away|down)|returned|thrown out|left out|deleted|bounced?|fail|(?:we |it )?(?:cannot|can't|are unable to) \w+|ignored|discarded|cut off|rejected|refused|declined|(?:cannot|can't|can't|will not|won't) be \w+|not (?:accepted|taken|allowed)",
    packed=r"compress(?:ion|ed)? ratio",
    optional=r"(?<!not )(?<!only )allowed|welcome|is fine|are fine|is allowed|are allowed|optional|if you like|is possible|may be used",
    as_format=r"as|for|in(?: the case of)?|if",
    otherwise=r"otherwise|or else|else|alternatively|failing that|if not,",
    told=r"(?:had|was|were|measured|came in at)(?: \w+)?",
    pictures_at_all=r"image|picture|photo|file|pixel|upload|print|format|artwork|portrait|scan|screen|poster|logo",
    over=r"preferred (?:over|to)|rather than|instead of|in preference to|better than",
    units={"px": r"px|pixels?", "bytes": r"bytes?|B", "characters": r"characters|letters", "bit": r"-?bits?", "colours": r"(?:different )?colou?rs", "rate": r"frames per second|frames a second|fps",
           "seconds": r"seconds?|secs?", "frames": r"frames"},
    small=r"from|within|under|below|over|above|limit(?:ed)? (?:to|of)|down to|up to",
    line=r"keylines?|borders?|outlines?|frame lines?",
    apart=r"lines?|letters?|lettering|strokes?|margins?|padding|bleed|gap|safe (?:zone|area)|from (?:the|every|each) edge|gutter",
    wanted=r"if (?:you |it )?(?:need|want|have|is)|where (?:needed|wanted)",
    numerals={"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9,
              "ten": 10, "twelve": 12},
)  # fmt: skip
