"""What the types of a job cannot say: ids that are there once, cards that are there, values of cards that can be."""

from __future__ import annotations

from msgspec.structs import replace

from homunculus.core.job.build import Build, Piece, materials_of
from homunculus.core.job.cameras import odd_optics
from homunculus.core.job.cards import odd_value
from homunculus.core.job.job import Job
from homunculus.core.job.moulds import Mix
from homunculus.core.job.operations import Cast, Layer, LayUp
from homunculus.core.job.sets import Camera
from homunculus.core.job.shots import Shot


def doubt_about(job: Job, known: Job | None = None) -> str:
    """Say in a sentence why a ``job`` cannot be; empty when it can.

    Two things have one id, something has no name, a card is named that the job does not carry, or has a value that cannot be.
    ``known`` is a job that can be: its builds and its shots are not looked at again, where the cards that they name are still there.
    """
    builds, cards = job.builds, job.cards
    if known is not None:
        seen, here = {id(build) for build in known.builds}, {card.id for card in cards.materials}
        if here >= {card.id for card in known.cards.materials}:
            builds = tuple(build for build in builds if id(build) not in seen)
    odd = "" if known is not None and cards is known.cards else _odd_card(job)
    shots = job.shots if known is None or job.shots is not known.shots else ()
    same = known is not None and (cards.cameras, cards.lenses) == (known.cards.cameras, known.cards.lenses)
    return _named_twice(job, builds, shots) or _missing_card(job, builds, shots if same else job.shots) or odd


def _named_twice(job: Job, builds: tuple[Build, ...], shots: tuple[Shot, ...]) -> str:
    cards = job.cards
    named = [("builds", [b.id for b in job.builds]), ("shots", [s.id for s in job.shots]),
             ("materials", [c.id for c in cards.materials]), ("cameras", [c.id for c in cards.cameras]),
             ("lenses", [c.id for c in cards.lenses]), ("hazards", [c.id for c in cards.hazards])]  # fmt: skip
    for build in builds:
        named.append((f"pieces of {build.name}", [p.id for p in build.pieces]))
        for piece in build.pieces:
            named.append((f"variants of {piece.name}", [v.name for v in piece.variants]))
            named += [(f"mixes of {whose}", [m.name for m in mixes]) for whose, mixes in _mixtures(piece)]
            named.append((f"operations of {piece.name}", [op.id for op in piece.route]))
        named.append((f"operations of {build.name}", [op.id for op in build.assembly]))
    for shot in shots:
        named.append((f"cameras of shot {shot.id}", [c.name for c in shot.cameras]))
    for build in builds:
        for piece in build.pieces:
            if any(not v.name for v in piece.variants):
                return f"A variant of {piece.name} has no name"
            for whose, mixes in _mixtures(piece):
                if len(mixes) > 1 and any(not m.name for m in mixes):
                    return f"One of the mixes of {whose} has no name"
    for what, ids in named:
        twice = next((i for i in ids if ids.count(i) > 1), None) if len(set(ids)) < len(ids) else None
        if twice is not None:
            return f"Two {what} are called “{twice}”"
    return ""


def _missing_card(job: Job, builds: tuple[Build, ...], shots: tuple[Shot, ...]) -> str:
    materials = {card.id for card in job.cards.materials}
    if job.builds and job.shop.camera not in {card.id for card in job.cards.cameras}:
        return f"There is no camera “{job.shop.camera}” in this job"
    camera = next((card for card in job.cards.cameras if card.id == job.shop.camera), None)
    if camera and job.shop.mode and job.shop.mode not in {mode.name for mode in camera.modes}:
        return f"{camera.name} has no mode “{job.shop.mode}”"
    for shot in shots:
        for one in shot.cameras:
            wrong = _odd_camera(job, one)
            if wrong:
                return f"Shot {shot.id}: {wrong}"
    for build in builds:
        missing = next((name for name in materials_of(build) if name not in materials), "")
        if missing:
            return f"There is no material “{missing}” in this job, and {_who_uses(build, missing)} is made with it"
    return ""


def _odd_camera(job: Job, camera: Camera) -> str:
    """What a camera of a set names and the job does not have; empty where all is there."""
    if camera.body and camera.body not in {card.id for card in job.cards.cameras}:
        return f"there is no camera “{camera.body}” in this job"
    if camera.lens and camera.lens not in {card.id for card in job.cards.lenses}:
        return f"there is no lens “{camera.lens}” in this job"
    return ""


def _mixtures(piece: Piece) -> list[tuple[str, tuple[Mix, ...]]]:
    """The mixes of each pour of a piece, with what they are called."""
    found = [(piece.name, piece.mould.mixes)] if piece.mould else []
    return found + [
        (f"{piece.name}, {op.called}", op.mixes) for op in piece.route if isinstance(op, Cast | LayUp | Layer)
    ]


def _who_uses(build: Build, name: str) -> str:
    alone = (piece for piece in build.pieces if name in materials_of(replace(build, pieces=(piece,), assembly=())))
    piece = next(alone, None)
    return f"{piece.name} of {build.name}" if piece else build.name


def _odd_card(job: Job) -> str:
    cards = job.cards
    found = [*map(odd_value, cards.materials), *map(odd_optics, cards.cameras), *map(odd_optics, cards.lenses)]
    odd = next(filter(None, found), "")
    return f"A card has a value that cannot be: {odd}" if odd else ""
