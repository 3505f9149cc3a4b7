"""The ways of looking at what lies on the bench, by name."""

from aptandum.ui.strings import t

SUPPLIED, FITTED, SIDES, DOTS = "supplied", "fitted", "sides", "dots"
"""The sheet's own: the photo, the picture that is made of it, both side by side, and the dots of one."""

PLACE, LOSS = "place", "loss"
"""Views beside the sheet's own: where the file is seen, and what encoding does."""

EXAMPLES = "examples"
"""The body's examples beside one's own picture."""


def view_words() -> tuple[tuple[str, str, str], ...]:
    """Each view with what its button says and what its tip."""
    return (
        (SUPPLIED, t("As supplied"), t("The photo as it is (A); hold Space on the sheet for a look")),
        (FITTED, t("Fitted"), t("The photo with its frame (D)")),
        (SIDES, t("Side by side"), t("As supplied and fitted, parted by a line that can be moved (V)")),
        (PLACE, t("In place"), t("The finished bytes as they will be seen where they go (Q)")),
        (EXAMPLES, t("Examples"), t("The body’s own examples beside this picture (Shift+E)")),
        (DOTS, t("Dots"), t("The dots at several sizes, beside the grey they come of (O)")),
        (LOSS, t("Encoding"), t("Before and after encoding, pixel for pixel (Z)")),
    )  # fmt: skip
