"""Cards of ways of making: with what a construction begins, and the usual route. A job keeps what they filled."""

from __future__ import annotations

from msgspec import Struct

from homunculus.core.job.moulds import Mould
from homunculus.core.job.operations import AnyOperation


class WayCard(Struct, frozen=True, forbid_unknown_fields=True):
    """One way of making a piece, as it usually begins. No later change of a card moves a job."""

    id: str
    name: str
    source: str
    mould: Mould | None
    """None where nothing is moulded."""
    route: tuple[AnyOperation, ...]
