"""What is called on the floor, as tables: cues with their times, the camera frame by frame, stands from their nails."""

from __future__ import annotations

from typing import NamedTuple

from homunculus.core import specs
from homunculus.core.errors import UserError
from homunculus.core.figures import Figure
from homunculus.core.floor.stands import from_nails
from homunculus.core.job.job import Job
from homunculus.core.job.shots import Shot
from homunculus.core.job.stage import CameraMove, Cues
from homunculus.core.moving.cueing import cue_times
from homunculus.core.moving.playing import frame_table
from homunculus.core.plan.job_plan import Plan
from homunculus.core.planners.moving import places_of


class Table(NamedTuple):
    """A table with its name and heads; cells are words or numbers in the heads' units."""

    name: str
    heads: tuple[str, ...]
    rows: tuple[tuple[str | float, ...], ...]


def cue_tables(plan: Plan, shot: Shot) -> tuple[Table, ...]:
    """The tables of what moves by time in a ``shot`` of a ``plan``: each chain of cues, each move of a camera.

    Raises
    ------
    UserError
        When a move has more frames than a list holds.
    """
    job: Job = plan.job
    rate = plan.sets[shot.id].find(specs.RATE)
    found: list[Table] = []
    for action in shot.actions:
        if isinstance(action, Cues):
            time = plan.build(action.build).find(specs.CUE_TIME, shot=shot.id, move=action.name)
            if time is not None and rate is not None:
                found.append(_cues(action, time, rate, job.shop.base_rate_fps))
        elif isinstance(action, CameraMove):
            rows = tuple(
                (i, *(round(v, 5) for v in values)) for i, *values in frame_table(action, shot, job.shop.base_rate_fps)
            )
            found.append(Table(action.name, ("frame", "across m", "along m", "up m", "pan °", "tilt °"), rows))
    return tuple(found)


def _cues(action: Cues, time: Figure, rate: Figure, base: float) -> Table:
    """Timing only: number, place on the model, time from the first cue and from the beginning of the take, frame of the camera."""
    places = places_of(action)
    start = action.starts_s * base / rate.number  # on set
    rows = tuple(
        (
            i + 1,
            round(place, 4),
            round(at * 1000, 2),
            round((start + at) * 1000, 2),
            round((start + at) * rate.number, 2),
        )
        for i, (place, at) in enumerate(zip(places, cue_times(places, time.number), strict=True))
    )
    return Table(action.name, ("cue", "at m", "after the first ms", "in the take ms", "camera frame"), rows)


def card_table(plan: Plan, shot: Shot) -> Table:
    """The stands of a ``shot`` of a ``plan`` from their nails, and what was found when they were measured again."""
    card = shot.card
    rows: list[tuple[str | float, ...]] = []
    found = plan.sets[shot.id]
    stage = plan.stage(shot.id, found.shot.cameras[0].name) if found.shot.cameras else None
    for stand in card.stands if card else ():
        last = next((r for r in reversed(card.readings) if r.stand == stand.name), None) if card else None
        off = stage.find(specs.STAND_OFF, use=stand.name) if stage else None
        x, y = _point(card.nails_m if card else 1.0, stand.from_a_m, stand.from_b_m, left=stand.side == "left")
        rows.append((stand.name, stand.from_a_m, stand.from_b_m, stand.side, x, y, last.from_a_m if last else "", last.from_b_m if last else "",
                     round(off.number * 1000, 1) if off else "", last.by if last else ""))  # fmt: skip
    return Table(
        "stands",
        (
            "stand",
            "from A m",
            "from B m",
            "side",
            "along AB m",
            "beside AB m",
            "found A m",
            "found B m",
            "off mm",
            "by",
        ),
        tuple(rows),
    )


def _point(nails: float, from_a: float, from_b: float, *, left: bool) -> tuple[float | str, float | str]:
    try:
        x, y = from_nails(nails, from_a, from_b, left=left)
    except UserError:
        return "", ""
    return round(x, 4), round(y, 4)
