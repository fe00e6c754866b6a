"""What was reckoned before: the same objects in, the same result out."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from datetime import date
from operator import is_, is_not
from typing import Any, Generic, TypeVar

Result = TypeVar("Result")
Item = TypeVar("Item")


class Memory:
    """The last result of each thing that was asked for and the one before it, with the objects that they came from.

    The one before is what going back on a change asks for, and going to and fro between two. Jobs are frozen and share what did not change, so to compare which objects went in is enough, and cheap.

    Parameters
    ----------
    behind
        Asked for what this one has not made itself.
    """

    def __init__(self, behind: Memory | None = None) -> None:
        self._kept: dict[Hashable, tuple[tuple[object, ...], Any]] = {}
        self._before: dict[Hashable, tuple[tuple[object, ...], Any]] = {}
        self._behind = behind

    def has(self, of: Hashable, inputs: tuple[object, ...]) -> bool:
        """Whether what is asked for (``of``) was made of these very ``inputs``."""
        known = self._kept.get(of) or (self._behind._kept.get(of) if self._behind else None)
        return known is not None and _made_of(known[0], inputs)

    def get(self, of: Hashable, inputs: tuple[object, ...], make: Callable[[], Result]) -> Result:
        """Hand back what was made of these very ``inputs``, or ``make`` it.

        Parameters
        ----------
        of
            What is asked for.
        inputs
            All that the result depends on.
        make
            Makes it.
        """
        known = self._kept.get(of) or (self._behind._kept.get(of) if self._behind else None)
        if known is None or not _made_of(known[0], inputs):
            other = self._before.get(of)
            if known is not None:
                self._before[of] = known
            known = other if other is not None and _made_of(other[0], inputs) else (inputs, make())
        self._kept[of] = known
        result: Result = known[1]
        return result

    def each(self, of: Hashable, items: Sequence[Item], make: Callable[[Item], Result]) -> tuple[Result, ...]:
        """Hand back what was made of each of many items: where one of two hundred is another object, one is made.

        Parameters
        ----------
        of
            What is asked for.
        items
            Each by itself all that its result depends on.
        make
            Makes the result of one of them.
        """
        items = tuple(items)
        known = self._kept.get(of) or (self._behind._kept.get(of) if self._behind else None)
        if known is not None and len(known[0]) == len(items):
            before, made = known
            moved = [i for i, other in enumerate(map(is_not, before, items)) if other]
            if moved:
                made = list(made)
                for i in moved:
                    made[i] = make(items[i])
                made = tuple(made)
        else:
            had = dict(zip(map(id, known[0]), known[1], strict=True)) if known else {}
            made = tuple(had[id(item)] if id(item) in had else make(item) for item in items)
        self._kept[of] = (items, made)
        result: tuple[Result, ...] = made
        return result


class Last(Generic[Result]):
    """One result as it was last made, and what it was made of: of the same again it is not made again."""

    def __init__(self) -> None:
        self._of: tuple[object, ...] | None = None
        self._made: Result

    def get(self, of: tuple[object, ...], make: Callable[[], Result]) -> Result:
        """Hand back what was last made, where it was made of the same.

        Parameters
        ----------
        of
            All that the result depends on: texts, numbers and days are the same when they are equal, all else when it is the very object.
        make
            Makes it.
        """
        if self._of is None or len(self._of) != len(of) or not all(map(_same, self._of, of)):
            self._made = make()
            self._of = of
        return self._made


def _made_of(known: tuple[object, ...], inputs: tuple[object, ...]) -> bool:
    return len(known) == len(inputs) and all(map(is_, known, inputs))


def _same(a: object, b: object) -> bool:
    return a is b or (isinstance(a, str | int | float | date) and a == b)
