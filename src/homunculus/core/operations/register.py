"""The kinds of operations that there are: a new one is its data in :mod:`homunculus.core.job.operations` and its file here."""

from __future__ import annotations

from importlib import import_module
from pkgutil import iter_modules

import homunculus.core.operations as here
from homunculus.core.job.operations import Operation
from homunculus.core.operations.operation import OperationKind

for module in iter_modules(here.__path__):
    if module.name != "register":
        import_module(f"{here.__name__}.{module.name}")

KINDS: tuple[OperationKind, ...] = tuple(kind() for kind in OperationKind.__subclasses__())
_BY_DATA = {kind.data: kind for kind in KINDS}


def kind_of(op: Operation) -> OperationKind:
    """The kind of an operation ``op``; there is one for every kind of data (a test sees to it)."""
    return _BY_DATA[type(op)]
