"""The ways of looking at what lies on the bench, by name."""

SUPPLIED, FITTED, SIDES, DOTS = "supplied", "fitted", "sides", "dots"
"""The sheet's own: the photo, the picture that is made of it, both side by side, and the dots of one."""

PLACE, LOSS = "place", "loss"
"""Views beside the sheet's own: where the file is seen, and what encoding does."""
