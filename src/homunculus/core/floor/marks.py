"""The stage plan as a drawing at full size: outlines from above, marks on the floor, the camera and its cone, stands and nails. Imports numpy.

Points are metres: x to the right of the axis, y away from the eye of the first camera, as on a plan that is laid on the floor.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from homunculus.core import specs
from homunculus.core.camera.picture import FacetsOf, body_of, surfaces_of
from homunculus.core.errors import UserError
from homunculus.core.floor.stands import from_nails
from homunculus.core.job.job import Job
from homunculus.core.plan.stage_plan import StagePlan
from homunculus.core.showing import show, show_scale, trimmed

Point = tuple[float, float]
FAR_M = 1e6
MARK_M = 0.1
LAYERS = ("outline", "mark", "camera", "stage", "text")


class Line(NamedTuple):
    """A line on a layer, closed or not."""

    layer: str
    points: tuple[Point, ...]
    closed: bool = False


class Words(NamedTuple):
    """Words at a point, of a height in metres."""

    at: Point
    words: str
    height: float = 0.06


class Drawing(NamedTuple):
    """A plan, and what it is called."""

    title: str
    lines: tuple[Line, ...]
    words: tuple[Words, ...]

    def bounds(self) -> tuple[Point, Point]:
        """Least and greatest corner of all that is drawn."""
        xs = [p[0] for line in self.lines for p in line.points] + [w.at[0] for w in self.words]
        ys = [p[1] for line in self.lines for p in line.points] + [w.at[1] for w in self.words]
        return (min(xs, default=0.0), min(ys, default=0.0)), (max(xs, default=1.0), max(ys, default=1.0))


def floor_marks(job: Job, stage: StagePlan, facets_of: FacetsOf) -> Drawing:
    """Draw the plan of a ``stage`` of a ``job``; ``facets_of`` gives the triangles of a form, none while they are still made."""
    found, camera = stage.found, stage.camera
    lines: list[Line] = []
    words: list[Words] = []
    for plane in found.planes:
        foot = stage.find(specs.PLANE_FOOT, use=plane.name)
        body = body_of(plane, surfaces_of(job, found, plane, facets_of), foot.number if foot else 0.0)
        at = (plane.place.across_m, plane.at.number)
        for facets in body.placed():
            middle = facets.points.mean(axis=0)
            loops = [] if body.person else facets.outline((float(middle[0]), float(middle[1]), FAR_M)).lines()
            lines += [
                Line("outline", tuple((float(x), float(y)) for x, y in loop[:-1, :2]), closed=True) for loop in loops
            ]
            if not loops:  # a board, or somebody: a line from its one end to the other
                ends = facets.points[np.argsort(facets.points[:, 0], kind="stable")][[0, -1], :2].tolist()
                lines.append(Line("outline", tuple((float(x), float(y)) for x, y in ends)))
        lines += _cross(at)
        said = f"{plane.name}  {show_scale(plane.scale.number)}  {_said(at[1])}"
        if at[0]:
            said += f", {_said(abs(at[0]))} {'left' if at[0] < 0 else 'right'}"
        said += f", foot {_said(foot.number)}" if foot else ""
        words.append(Words((at[0] + MARK_M, at[1] + MARK_M / 4), said))
    far = max((plane.at.number for plane in found.planes), default=2.0)
    lines += _camera(stage, far)
    words.append(Words((camera.across_m + MARK_M, -camera.back_m - MARK_M), f"camera {camera.name or 'A'}, eye"))
    lines += _stage(job, far)
    _stands(stage, lines, words)
    title = f"{job.name}, shot {found.shot.id}: {found.shot.name}"
    return Drawing(_printable(title), tuple(lines), tuple(one._replace(words=_printable(one.words)) for one in words))


def _printable(words: str) -> str:
    """Words as a drawing may hold them: no drawing format has room for control characters."""
    return "".join(character for character in " ".join(words.split()) if character.isprintable())


def _said(metres: float) -> str:
    return str(trimmed(show(metres, "length", digits=4))).replace("\N{NO-BREAK SPACE}", " ")


def _cross(at: Point) -> list[Line]:
    x, y = at
    return [Line("mark", ((x - MARK_M, y), (x + MARK_M, y))), Line("mark", ((x, y - MARK_M), (x, y + MARK_M)))]


def _camera(stage: StagePlan, far: float) -> list[Line]:
    camera = stage.camera
    eye = (camera.across_m, -camera.back_m)
    lines = [*_cross(eye)]
    angle = stage.find(specs.ANGLE, camera=camera.name)
    turns = [0.0] if angle is None else [-angle.number / 2, 0.0, angle.number / 2]
    for turn in turns:
        way = math.radians(camera.pan_deg) + turn
        if abs(way) < 1.5:
            lines.append(Line("camera", (eye, (eye[0] + math.tan(way) * far * 1.1, eye[1] + far * 1.1))))
    return lines


def _stage(job: Job, far: float) -> list[Line]:
    """The walls of the stage, laid about the set: its longer side along the axis, common practice."""
    from homunculus.core.camera.stand import BEHIND_M

    stage = job.shop.stage
    if far + BEHIND_M > stage.long_m:
        return []
    half = stage.short_m / 2
    return [
        Line(
            "stage",
            ((-half, -BEHIND_M), (half, -BEHIND_M), (half, stage.long_m - BEHIND_M), (-half, stage.long_m - BEHIND_M)),
            closed=True,
        )
    ]


def _stands(stage: StagePlan, lines: list[Line], words: list[Words]) -> None:
    """The stands of the measuring card, beside the set: nail A lies where nobody has said where it is, to the left of the camera."""
    card = stage.found.shot.card
    if card is None:
        return
    origin = (-card.nails_m / 2, -0.5)
    for name, x in (("nail A", 0.0), ("nail B", card.nails_m)):
        at = (origin[0] + x, origin[1])
        lines += _cross(at)
        words.append(Words((at[0] + MARK_M, at[1] - MARK_M), name))
    for stand in card.stands:
        try:
            x, y = from_nails(card.nails_m, stand.from_a_m, stand.from_b_m, left=stand.side == "left")
        except UserError:
            continue  # its mind says why
        at = (origin[0] + x, origin[1] + y)
        lines += _cross(at)
        words.append(
            Words((at[0] + MARK_M, at[1]), f"{stand.name}: A {_said(stand.from_a_m)}, B {_said(stand.from_b_m)}")
        )
