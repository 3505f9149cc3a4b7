"""How much of the frame the subject takes."""

from aptandum.core.figures import show_share
from aptandum.core.judge.measure import NEEDS_MASK, CannotMeasure, Measure, Mend, Miss
from aptandum.core.judge.reading import Reading
from aptandum.core.quantity import SHARE
from aptandum.core.words import say


def _take(reading: Reading) -> float:
    box = reading.look().box
    if box is None:
        raise CannotMeasure(say("No person or thing is seen in this picture."))
    wide, high = reading.facts.size
    across, up = box[2], box[3]
    share = across if wide > high else up if high > wide else max(across, up)
    return round(share, 4)


def _mend(miss: Miss) -> Mend | None:
    """The frame drawn closer about the subject, or wider, where the photo leaves room."""
    reading, photo = miss.reading, miss.reading.source
    box = reading.look().box
    if photo is None or box is None or reading.origin == "supplied":
        return Mend(say("Frame the subject closer or wider"))
    wanted = float(miss.limit.nearest(miss.value))
    wanted = min(1.0, wanted * (1.02 if miss.value < wanted else 0.98))
    left, top, wide, high = reading.frame_box
    k = miss.value / wanted
    new_w, new_h = wide * k, high * k
    if new_w > photo[0] + 0.5 or new_h > photo[1] + 0.5:
        return Mend(say("The photo holds no frame in which the subject takes so little"))
    cx = left + (box[0] + box[2] / 2) * wide
    cy = top + (box[1] + box[3] / 2) * high
    x = min(max(0.0, cx - new_w / 2), max(0.0, photo[0] - new_w))
    y = min(max(0.0, cy - new_h / 2), max(0.0, photo[1] - new_h))
    window = ", ".join(f"{v:.4f}" for v in (x, y, min(new_w, photo[0]), min(new_h, photo[1])))
    words = say("Frame the subject to fill {share}", share=show_share(wanted))
    return Mend(words, {"frame.window": window})


MEASURE = Measure(
    "subject_fill",
    say("Subject fills"),
    "picture",
    SHARE,
    say(
        "Share of the longest side of the frame that the box round the person or thing takes; of a "
        "square the larger of the two."
    ),
    _take,
    mend=_mend,
    station="frame",
    needs=NEEDS_MASK,
    seen=("grid",),
)
