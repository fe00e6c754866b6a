"""What was reckoned before: the same objects in, the same result out."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from operator import is_
from typing import Any, TypeVar

Result = TypeVar("Result")


class Memory:
    """The last result of each thing that was asked for, with the objects that it came from.

    Jobs are frozen and share what did not change, so to compare which objects went in is enough, and cheap.

    Parameters
    ----------
    behind
        Asked for what this one has not made itself.
    """

    def __init__(self, behind: Memory | None = None) -> None:
        self._kept: dict[Hashable, tuple[tuple[object, ...], Any]] = {}
        self._behind = behind

    def has(self, of: Hashable, inputs: tuple[object, ...]) -> bool:
        """Whether what is asked for (``of``) was made of these very ``inputs``."""
        known = self._kept.get(of) or (self._behind._kept.get(of) if self._behind else None)
        return known is not None and len(known[0]) == len(inputs) and all(map(is_, known[0], inputs))

    def get(self, of: Hashable, inputs: tuple[object, ...], make: Callable[[], Result]) -> Result:
        """Hand back what was made of these very ``inputs``, or ``make`` it.

        Parameters
        ----------
        of
            What is asked for: one result is kept for each.
        inputs
            All that the result depends on.
        make
            Makes it.
        """
        known = self._kept.get(of) or (self._behind._kept.get(of) if self._behind else None)
        if known is None or len(known[0]) != len(inputs) or not all(map(is_, known[0], inputs)):
            known = (inputs, make())
        self._kept[of] = known
        result: Result = known[1]
        return result
