"""When the photo was taken, and how long ago that is."""

import datetime
import re
from calendar import monthrange
from typing import Any

from aptandum.core.brief.limit import Limit
from aptandum.core.judge.measure import CannotMeasure, ForAPerson, Measure, Need
from aptandum.core.judge.reading import Reading
from aptandum.core.numbers import QuantityError, Side
from aptandum.core.quantity import Kind
from aptandum.core.words import say, say_n

_INSIDE = frozenset({Need.INSIDE})


class Age(float):
    """A stretch of time in days, which remembers whole months: six months back from 30 November
    is 30 May, however many days that is.

    Attributes:
        months: where it was written in months or years; else 0.
    """

    months: int

    def __new__(cls, days: float, months: int = 0) -> "Age":
        made = super().__new__(cls, days)
        made.months = months
        return made

    def __reduce__(self) -> tuple[Any, ...]:
        return (Age, (float(self), self.months))

    def before(self, day: datetime.date) -> datetime.date:
        """The day that lies so long before another."""
        if not self.months:
            return day - datetime.timedelta(days=int(self))
        back = day.year * 12 + day.month - 1 - self.months
        year, month = divmod(back, 12)
        return datetime.date(year, month + 1, min(day.day, monthrange(year, month + 1)[1]))


_UNITS = {"day": (1, 0), "week": (7, 0), "month": (30.4375, 1), "year": (365.25, 12)}


def parse_age(value: object, side: Side = "exact") -> Age:
    """Read ``6 months``, ``180 days``, ``1 year``."""
    if isinstance(value, str):
        hit = re.fullmatch(r"\s*(\d{1,4})\s*(day|week|month|year)s?\s*", value.lower())
        if hit and int(hit.group(1)) and int(hit.group(1)) * _UNITS[hit.group(2)][0] < 200 * 366:
            days, months = _UNITS[hit.group(2)]
            return Age(int(hit.group(1)) * days, int(hit.group(1)) * months)
    raise QuantityError(say('a stretch of time such as "6 months" or "30 days"'))


def show_age(value: float) -> str:
    """As it was written; a measured one in days, or in months where there are many."""
    if isinstance(value, Age) and value.months:
        if value.months % 12 == 0:
            return say_n("{n} year", "{n} years", value.months // 12)
        return say_n("{n} month", "{n} months", value.months)
    if value > 92:
        return say_n("{n} month", "{n} months", int(value / 30.4375))
    return say_n("{n} day", "{n} days", int(value))


def parse_day(value: object, side: Side = "exact") -> datetime.date:
    """Read a day: ``2026-11-02``, as a date or as text."""
    if isinstance(value, datetime.date) and not isinstance(value, datetime.datetime):
        return value
    if isinstance(value, str):
        try:
            return datetime.date.fromisoformat(value.strip())
        except ValueError:
            pass
    raise QuantityError(say("a date such as 2026-11-02"))


AGE = Kind("age", parse_age, show_age, example="6 months")
DAY = Kind("day", parse_day, lambda day: str(day.isoformat()), example="2026-11-02")


def _taken(reading: Reading) -> datetime.date:
    told = reading.inside().told.date or _of_photo(reading)
    if not told:
        raise ForAPerson(say("The photo does not tell when it was taken: only a person can say."))
    try:
        return datetime.date.fromisoformat(told[:10].replace(":", "-"))
    except ValueError:
        raise CannotMeasure(say("The photo tells a day that does not exist.")) from None


def _of_photo(reading: Reading) -> str:
    """A file whose date was left out is of the day that its photo tells."""
    before = reading.supplied_inside()
    return before.told.date if before is not None else ""


def _age(reading: Reading) -> Age:
    days = (reading.today - _taken(reading)).days
    if days < 0:
        raise CannotMeasure(say("By its own date the photo has not been taken yet."))
    made = Age(days)
    made.today = reading.today  # type: ignore[attr-defined]
    return made


def _allows_age(limit: Limit, value: Any) -> bool:
    today = value.today
    taken = today - datetime.timedelta(days=int(value))
    if limit.at_most is not None and taken < limit.at_most.before(today):
        return False
    return limit.at_least is None or taken <= limit.at_least.before(today)


def _off_age(limit: Limit, value: Any, kind: Kind) -> str:
    if limit.at_most is not None and not _allows_age(limit, value):
        return say("too old")
    return ""


MEASURES = (
    Measure(
        "shot_age",
        say("Age of the photo"),
        "file",
        AGE,
        say(
            "How long ago the photo was taken, by the date in its metadata. Where they tell none, a "
            "person is asked."
        ),
        _age,
        _allows_age,
        station="file",
        outside=_off_age,
        needs=_INSIDE,
    ),
    Measure(
        "shot_date",
        say("Day of the shot"),
        "file",
        DAY,
        say("The day on which the photo was taken, by its metadata; else a person is asked."),
        _taken,
        station="file",
        outside=lambda limit, value, kind: "",
        needs=_INSIDE,
    ),
)
