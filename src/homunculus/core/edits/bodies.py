"""A body from its measurements becomes pieces of a build: limb by limb, reduced for what stretches on, or built over."""

from __future__ import annotations

import re
from typing import NamedTuple

from msgspec.structs import replace

from homunculus.core.edits.decisions import bounds, replace_build
from homunculus.core.edits.pieces import checked, new_id
from homunculus.core.errors import UserError
from homunculus.core.form.bodies import parts_of, scaled_to
from homunculus.core.job.bodies import BodyCard
from homunculus.core.job.build import Piece
from homunculus.core.job.forms import Section, Sections
from homunculus.core.job.job import Job
from homunculus.core.quantities import System, parse

FINE = 4
"""Digits behind the point of a metre: a tape tells no tenth of a millimetre."""
EXAMPLE = "Write the body, and what is otherwise: man, 1.71 m, 66 kg, reduced 8 %, over 12 mm"


class BodyWish(NamedTuple):
    """How a body is taken: as another stature and weight, reduced, built over."""

    card: str
    stature_m: float | None = None
    mass_kg: float | None = None
    reduced: float = 0.0
    over_m: float = 0.0


def read_body(text: str, system: System = "metric") -> BodyWish:
    """Read a ``text`` such as “man, 1.71 m, 66 kg, reduced 8 %, over 12 mm”, in a ``system`` of units; all but the first may be left out.

    Raises
    ------
    UserError
        When a phrase cannot be read.
    """
    first, *rest = [" ".join(part.split()) for part in re.split(r"(?<!\d),|,(?!\d)", text) if part.strip()] or [""]
    if not first:
        raise UserError("No body is named", remedy=EXAMPLE)
    wish = BodyWish(first)
    for words in rest:
        if match := re.fullmatch(r"reduced (?:by )?(.+)", words):
            wish = wish._replace(reduced=round(parse(match[1], "share", system), 12))
        elif match := re.fullmatch(r"(?:built )?over (.+)", words):
            wish = wish._replace(over_m=parse(match[1], "length", system))
        elif re.search(r"(kg|g|lb|lbs|oz)\b", words):
            wish = wish._replace(mass_kg=parse(words, "mass", system))
        else:
            wish = wish._replace(stature_m=parse(words, "length", system))
    if not 0 <= wish.reduced < 0.9 or not 0 <= wish.over_m <= 1:
        raise UserError("A body is reduced by less than 90 %, and built over by a metre at most", remedy=EXAMPLE)
    low, high = bounds(Section, "at_m")
    if wish.stature_m is not None and not max(0.1, low) <= wish.stature_m <= min(high, 100):
        raise UserError("A stature is between 10 cm and 100 m", remedy=EXAMPLE)
    return wish


def with_body(job: Job, build_id: str, wish: BodyWish, bodies: tuple[BodyCard, ...]) -> Job:
    """The ``job`` in which a build has a body's limbs as pieces more.

    Parameters
    ----------
    job, build_id
        Whose pieces they become.
    wish
        Which body, and how it is taken.
    bodies
        Those that there are.

    Raises
    ------
    UserError
        When there is no such build or body, or it cannot be taken so.
    """
    asked = wish.card.casefold()
    body = next((b for b in bodies if asked in (b.id.casefold(), b.name.casefold())), None)
    if body is None:
        raise UserError(
            f"There is no body “{wish.card}” on the shelf",
            remedy=f"There are {', '.join(b.id for b in bodies) or 'none yet'}",
        )
    if wish.stature_m is not None or wish.mass_kg is not None:
        tall = wish.stature_m if wish.stature_m is not None else body.stature_m.value if body.stature_m else 0.0
        body = scaled_to(body, tall, wish.mass_kg)
    build = job.build(build_id)
    pieces = list(build.pieces)
    for part in parts_of(body, reduced=wish.reduced, over_m=wish.over_m):
        cuts = tuple(
            Section(round(c.at_m, FINE), round(c.width_m, FINE), round(c.depth_m, FINE)) for c in part.form.sections
        )
        at = (round(part.along_m, FINE), round(part.up_m, FINE))
        made = Piece(new_id(part.name, (p.id for p in pieces)), part.name, Sections(cuts), at_m=at)
        pieces.append(made)
    return checked(replace_build(job, replace(build, pieces=tuple(pieces))), job)
