"""The marks of the one head that measures of a person go by, where those that are needed can be trusted."""

from aptandum.core.judge.measure import CannotMeasure
from aptandum.core.judge.reading import Reading
from aptandum.core.photo.marks import Marks, NoMarks
from aptandum.core.words import say, sentences

_CUT = {
    "crown": say("The top of the head lies beyond the photo's edge, or too near it to be sure."),
    "chin": say("The chin lies beyond the photo's edge, or too near it to be sure."),
    "side": say("A side of the head lies beyond the photo's edge, or too near it to be sure."),
}


def marks_of(reading: Reading, *needed: str) -> Marks:
    """The marks of the one head in the picture's pixels, where those that are needed are all there.

    Args:
        needed: of ``crown``, ``chin``, ``side`` and ``eyes``.

    Raises:
        CannotMeasure: there are none, or the photo's edge cuts one off, or it is doubtful where the eyes are.
    """
    try:
        marks = reading.marks()
    except NoMarks as error:
        raise CannotMeasure(str(error)) from None
    if "crown" in needed and "skull" in marks.doubted:
        raise CannotMeasure(
            say("Where the skull ends under the hair is not known. Set its top by hand.")
        )
    for end in needed:
        if end in marks.cut:
            by_hand = say("It can be marked by hand.") if end != "side" else ""
            raise CannotMeasure(sentences([_CUT[end], by_hand]))
    if "eyes" in needed and "eyes" in marks.doubted:
        raise CannotMeasure(
            say(
                "It is doubtful where the eyes are: two ways of finding them differ. Set them by hand."
            )
        )
    return marks
