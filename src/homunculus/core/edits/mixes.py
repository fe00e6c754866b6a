"""The mixes that fill a mould: what is stirred in, and pours split into coats and colours."""

from __future__ import annotations

import re
from typing import Any

from msgspec.structs import replace

from homunculus.core.errors import UserError
from homunculus.core.job.build import Piece, mixes_at
from homunculus.core.job.moulds import Additive, Mix
from homunculus.core.job.operations import Pour
from homunculus.core.quantities import without_noise


def put(items: tuple[Any, ...], index: int, item: Any) -> tuple[Any, ...]:
    """Return the ``items`` with ``item`` in the place ``index``."""
    return (*items[:index], item, *items[index + 1 :])


def with_mixes(piece: Piece, op: str, mixes: tuple[Mix, ...]) -> Piece:
    """Return the ``piece`` with other ``mixes`` of its pour ``op``."""
    if any(o.id == op and hasattr(o, "mixes") for o in piece.route):
        return replace(piece, route=tuple(replace(o, mixes=mixes) if o.id == op else o for o in piece.route))
    own = next((o for o in piece.route if o.id == op), None)
    if piece.mould is None or (op and not isinstance(own, Pour)):
        raise UserError(
            f"The route of {piece.name} has no such pour", remedy="Put it into the route first, then stir in"
        )
    return replace(piece, mould=replace(piece.mould, mixes=mixes))


def with_mix(piece: Piece, op: str, index: int, mix: Mix) -> Piece:
    """Return the ``piece`` with ``mix`` in the place ``index`` of the mixes of its pour ``op``."""
    return with_mixes(piece, op, put(mixes_at(piece, op), index, mix))


_NAMED_SHARE = re.compile(r"\s*([^\d%][^%]*?)\s+(\d{1,2}(?:[.,]\d+)?)\s*%\s*")


def _named_share(text: str, example: str) -> tuple[str, float]:
    match = _NAMED_SHARE.fullmatch(text)
    if not match or not float(match[2].replace(",", ".")):
        raise UserError(f"“{text}” has no name and share", remedy=f"Type both, as in “{example}”")
    return match[1], float(match[2].replace(",", ".")) / 100


def stir_in(piece: Piece, op: str, index: int, text: str) -> Piece:
    """Add to the mix ``index`` of the pour ``op`` of a ``piece`` what ``text`` says, as “pigment 2 %”.

    Raises
    ------
    UserError
        When the text cannot be read, is over 50 %, or names what is in already.
    """
    name, share = _named_share(text, "pigment 2 %")
    mix = mixes_at(piece, op)[index]
    if share > 0.5:
        raise UserError(f"{name} cannot be {share:.0%} of a mix", remedy="50 % is the most")
    if name in {a.name for a in mix.additives}:
        raise UserError(f"{name} is in already", remedy="Take hold of its share")
    return with_mix(piece, op, index, replace(mix, additives=(*mix.additives, Additive(name, share))))


def leave_out(piece: Piece, op: str, index: int, which: int) -> Piece:
    """Take the additive ``which`` out of the mix ``index`` of the pour ``op`` of a ``piece``."""
    mix = mixes_at(piece, op)[index]
    return with_mix(piece, op, index, replace(mix, additives=(*mix.additives[:which], *mix.additives[which + 1 :])))


def split_off(piece: Piece, op: str, text: str) -> Piece:
    """Split the pour ``op`` of a ``piece`` once more: ``text`` names a mix and its share, as “print coat 20 %”.

    The others keep their proportions in what is left.

    Raises
    ------
    UserError
        When the text cannot be read or a mix of that name is there.
    """
    name, share = _named_share(text, "print coat 20 %")
    mixes = tuple(replace(m, name=m.name or "fill") for m in mixes_at(piece, op))
    if name in {m.name for m in mixes}:
        raise UserError(f"There is a mix called {name}", remedy="Give it another name, or take hold of its share")
    total = sum(m.share for m in mixes)
    rest = tuple(replace(m, share=without_noise(m.share / total * (1 - share))) for m in mixes)
    return with_mixes(piece, op, (Mix(name, share), *rest))


def join_mix(piece: Piece, op: str, index: int) -> Piece:
    """Give up the mix ``index`` of the pour ``op`` of a ``piece``; the others take its share. The last one stays, without a name."""
    mixes = mixes_at(piece, op)
    mixes = (*mixes[:index], *mixes[index + 1 :])
    if not mixes:
        return piece
    if len(mixes) == 1:
        mixes = (replace(mixes[0], name="", share=1.0),)
    return with_mixes(piece, op, mixes)
