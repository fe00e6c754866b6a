"""Ways of making that a piece cannot come to be by: what locks, what no oven suits, what stops a cure.

The person decides all the same: a word is drawn across the way, and the reason is said where it is chosen.
"""

from __future__ import annotations

from itertools import pairwise
from typing import NamedTuple

from homunculus.core.constructions.register import construction_of
from homunculus.core.job.build import Piece
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.forms import Cylinder, Displaced, Form, Mesh, Sections, Sphere, WeighedClay
from homunculus.core.job.ways import WayCard
from homunculus.core.making.contacts import contact
from homunculus.core.plan.facts import Facts

LOCKS_FROM = 0.02
"""Share of a view that may lock before a mould is said to: what a grid cannot tell, and what a file takes off. Common practice, no source."""
BENDS = "flexible"
"""The trait of what is pulled out of a hard mould past an undercut."""
CARVED = "carved"
NOT_PRINTED = frozenset({BENDS, "mineral", "timber", "modelled", "fibre"})
"""Traits of what no printer lays down. Facts of the trade, no source."""


class Cannot(NamedTuple):
    """Why not: in a word for the drawing, and in a sentence."""

    word: str
    why: str


def cannot(piece: Piece, way: WayCard, cards: tuple[MaterialCard, ...], facts: Facts) -> Cannot | None:
    """Why a piece cannot come to be a certain way; none where it can, or where too little is known.

    Parameters
    ----------
    piece
        Its form and its material.
    way
        The way.
    cards
        Materials, by which what it is made of and what the mould is made of are told.
    facts
        Mesh studies by content; of a mesh that was not studied nobody knows whether it locks.
    """
    card = next((card for card in cards if card.id == piece.material), None)
    traits = frozenset(card.traits) if card else frozenset()
    hard = way.mould is not None and construction_of(way.mould).hard
    undercut, overhang = locking_of(piece.form, facts)
    if hard and undercut > LOCKS_FROM and BENDS not in traits:
        return Cannot(
            "locks",
            f"{undercut:.0%} of the side view is undercut: hard in hard does not come apart. Soft rubber does, or more parts.",
        )
    if way.sign == "sheet" and overhang > LOCKS_FROM:
        return Cannot(
            "locks",
            f"{overhang:.0%} of it overhangs, seen from above: the sheet does not come off. In two parts it does.",
        )
    if way.mould and card and not hard:
        if card.clock == "baked":
            return Cannot("oven", f"{card.name} is baked in its mould, and a rubber mould does not stand the oven.")
        rubber = next((card for card in cards if card.id == way.mould.poured), None)
        met = contact(card, rubber, "") if rubber else None
        if met and met.level == "danger":
            return Cannot("no cure", f"{met.headline}. {met.why}")
    if card and way.sign == "block" and BENDS in traits and CARVED not in traits:
        return Cannot("too soft", f"{card.name} is poured, not carved.")
    if card and way.sign == "layers" and traits & NOT_PRINTED:
        return Cannot("no print", f"{card.name} is nothing that a printer lays down.")
    return None


def locking_of(form: Form, facts: Facts) -> tuple[float, float]:
    """Shares of the side view and of the view from above in which something rigid around a ``form`` would lock.

    Of a mesh its study among the ``facts`` tells; while there is none, nothing is said to lock.
    """
    match form:
        case Mesh(content=content):
            fact = facts.get(content)
            return (fact.undercut, fact.overhang) if fact else (0.0, 0.0)
        case Sphere() | WeighedClay() | Displaced():
            return 0.0, 1.0
        case Cylinder(diameter_m=foot, top_diameter_m=float(top)) if top > foot:
            return 0.0, 1 - (foot / top) ** 2
        case Sections(sections=cuts):
            wider = any(b.width_m > a.width_m or b.depth_m > a.depth_m for a, b in pairwise(cuts))
            areas = [s.width_m * s.depth_m for s in cuts]
            share = 1 - areas[0] / max(*areas, 1e-12)
            return 0.0, share if wider else 0.0
    return 0.0, 0.0
