"""Frozen dataclasses of which a program may have hundreds and still start at once.

The standard decorator writes, compiles and runs six functions for each class, which is a third of a start's time
where there are a hundred and fifty. What every such class does alike is written once here: the same equality, hash
and words, over the same fields.
"""

from __future__ import annotations

import operator
from collections.abc import Callable
from dataclasses import dataclass, field, fields
from typing import Any, TypeVar, dataclass_transform

T = TypeVar("T")


def _values(cls: Any, name: str) -> Callable[[Any], Any]:
    """What gives the values that an object of a class is compared by, as one thing that can be compared."""
    found = cls.__dict__.get(name)
    if found is None:
        compared = [one.name for one in fields(cls) if one.compare]
        found = operator.attrgetter(*compared) if compared else lambda _one: ()
        setattr(cls, name, staticmethod(found))
    return getattr(cls, name)  # type: ignore[no-any-return]


def _eq(self: Any, other: object) -> Any:
    if self is other:
        return True
    if other.__class__ is not self.__class__:
        return NotImplemented
    values = _values(self.__class__, "_compared_by")
    return values(self) == values(other)


def _hash(self: Any) -> int:
    return hash((self.__class__, _values(self.__class__, "_compared_by")(self)))


def _repr(self: Any) -> str:
    said = (f"{one.name}={getattr(self, one.name)!r}" for one in fields(self) if one.repr)
    return f"{self.__class__.__qualname__}({', '.join(said)})"


@dataclass_transform(frozen_default=True, field_specifiers=(field,))
def frozen(cls: type[T]) -> type[T]:
    """Make a class a frozen dataclass, compared, hashed and written by its fields.

    The same as ``dataclass(frozen=True)`` in all that a program sees, :func:`dataclasses.replace` and
    :func:`dataclasses.fields` included.
    """
    for name, does in (("__eq__", _eq), ("__hash__", _hash), ("__repr__", _repr)):
        if name not in cls.__dict__:
            setattr(cls, name, does)
    return dataclass(frozen=True, eq=False, repr=False)(cls)
