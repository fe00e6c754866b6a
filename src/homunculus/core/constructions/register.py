"""The constructions that there are: a new one is its data in :mod:`homunculus.core.job.moulds` and its file here."""

from __future__ import annotations

from importlib import import_module
from pkgutil import iter_modules

import homunculus.core.constructions as here
from homunculus.core.constructions.construction import Construction
from homunculus.core.job.moulds import Mould

for module in iter_modules(here.__path__):
    if module.name != "register":
        import_module(f"{here.__name__}.{module.name}")

CONSTRUCTIONS: tuple[Construction, ...] = tuple(kind() for kind in Construction.__subclasses__())
_BY_DATA = {construction.mould: construction for construction in CONSTRUCTIONS}


def construction_of(mould: Mould) -> Construction:
    """The construction of a ``mould``; there is one for every kind of data (a test sees to it)."""
    return _BY_DATA[type(mould)]
