"""The constructions that there are: a new one is its file, its data in :mod:`homunculus.core.job.moulds`, and a line here."""

from __future__ import annotations

from homunculus.core.constructions.block import Block
from homunculus.core.constructions.construction import Construction
from homunculus.core.constructions.jacketed import Jacketed
from homunculus.core.constructions.rigid import Rigid
from homunculus.core.job.moulds import Mould

CONSTRUCTIONS: tuple[Construction, ...] = (Jacketed(), Block(), Rigid())
_BY_DATA = {construction.mould: construction for construction in CONSTRUCTIONS}


def construction_of(mould: Mould) -> Construction:
    """The construction of a ``mould``; there is one for every kind of data (a test sees to it)."""
    return _BY_DATA[type(mould)]
