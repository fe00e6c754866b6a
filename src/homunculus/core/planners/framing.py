"""What fills the frame of each shot, and what matches its live plate."""

from __future__ import annotations

import math
from typing import NamedTuple

from homunculus.core import specs
from homunculus.core.camera import framing
from homunculus.core.camera.stand import at_scale
from homunculus.core.figures import Given, derive
from homunculus.core.job.build import piece_of
from homunculus.core.job.cameras import CameraCard
from homunculus.core.job.sets import Camera
from homunculus.core.job.shots import ByBuild, Plate, Shot
from homunculus.core.plan.build_plan import BuildSheet, Context
from homunculus.core.plan.set_plan import SetPlan
from homunculus.core.planners.lens import taken_at
from homunculus.core.planners.scale import form_of, real_extent
from homunculus.core.planners.shots import scale_given, scale_of_view


class View(NamedTuple):
    """One camera on one thing of the build: its set, the insert, empty for the build itself, and the need that shows it."""

    found: SetPlan
    camera: Camera
    insert: str
    need: int

    @property
    def first(self) -> bool:
        """Whether it is the camera from whose eye distances are taken."""
        return self.camera is self.found.shot.cameras[0]


def views_of(context: Context) -> tuple[View, ...]:
    """Every camera on every thing of the ``context``'s build that a shot sees.

    What is enlarged is framed at its own scale, so each insert that a shot names is a view of its own.
    """
    build = context.build
    inserts = {piece.id for piece in build.pieces if piece.enlarged != 1}
    views = []
    for found in context.sets:
        seen: dict[str, int] = {}
        for index, need in enumerate(found.shot.needs):
            use = need.cover
            if isinstance(use, ByBuild) and use.build == build.id:
                named = [piece for piece in use.pieces if piece in inserts]
                if len(named) < len(use.pieces) or not use.pieces:
                    seen.setdefault("", index)
                for piece in named:
                    seen.setdefault(piece, index)
        views += [View(found, camera, *it) for camera in found.shot.cameras for it in sorted(seen.items())]
    return tuple(views)


def distance_of(view: View) -> tuple[float, str] | None:
    """How far from its camera's eye the thing of a ``view`` stands [m on the floor], and where that is from.

    Where nobody has said it, where the camera is focused; none where that is not known either.
    """
    plane = next((plane for plane in view.found.planes if plane.need == view.need), None)
    back = 0.0 if view.first else view.camera.back_m
    if plane:
        at = plane.at.number if plane.to is None else 2 / (1 / plane.at.number + 1 / plane.to.number)
        return max(at + back, 1e-6), "said in the shot"
    taken = taken_at(view.found, view.camera)
    if taken is None:
        return None
    said = "where near and far end are equally sharp" if view.camera.focus_m is None else "where the camera is focused"
    return taken.focus.number, said


def plan_framing(sheet: BuildSheet) -> None:
    """Derive share of the frame and plate match for every shot of the ``sheet``'s build."""
    context = sheet.context
    camera = context.cards.camera(context.shop.camera)
    for view in views_of(context):
        subject = sheet.subject(view.insert, view.found.shot.id, camera=view.camera.name)
        image, height = view.found.find(specs.IMAGE, camera=view.camera.name), _real_height(sheet, view.insert)
        away, body = distance_of(view), view.found.context.body(view.camera)
        mode = view.found.context.mode(view.camera)
        if image is None or height is None or away is None or mode is None or body is None:
            continue
        scale = scale_of_view(context, view.insert)
        sheet.add(derive(specs.FRAME_SHARE, framing.share_of_frame, subject, height=height, image=image, scale=scale,
            distance=Given(away[0], "length", "from the lens", away[1]),
            sensor=Given(mode.sensor_height_m.value, "length", "sensor height", body.name)))  # fmt: skip
    for found in context.sets:
        if found.shot.plate:
            _match_plate(sheet, found.shot, found.shot.plate, camera)


def _real_height(sheet: BuildSheet, insert: str) -> Given | None:
    """Real height of the whole build, or of what one insert shows of it; none while a mesh has not been studied."""
    build = sheet.context.build
    if insert:
        piece = piece_of(build, insert)
        form = form_of(sheet, piece)
        return Given(form.size[2] / piece.enlarged, "length", "insert, real", piece.name) if form else None
    reach = real_extent(sheet)
    return Given(reach[1][1] - reach[1][0], "length", "whole build, real", build.name) if reach else None


def _match_plate(sheet: BuildSheet, shot: Shot, plate: Plate, camera: CameraCard) -> None:
    """Derive lens, height and distance that match a plate, from what its camera sheet says."""
    subject, scale, mode = sheet.subject(shot=shot.id), scale_given(sheet), sheet.context.mode
    for spec, value, label in ((specs.PLATE_HEIGHT, plate.height_m, "height of the plate's lens"),
                               (specs.PLATE_DISTANCE, plate.distance_m, "distance of the plate's lens")):  # fmt: skip
        if value is not None:
            real = Given(value, "length", f"{label}, real", shot.name)
            sheet.add(derive(spec, at_scale, subject, real=real, scale=scale))
    unknown = Given(None, "thing", "the plate's distance is not known", shot.name)
    if plate.focal_m and plate.sensor_width_m and (plate.distance_m is None or plate.distance_m > plate.focal_m):
        away = (
            Given(plate.distance_m, "length", "distance of the plate's lens", shot.name)
            if plate.distance_m
            else unknown
        )
        sheet.add(derive(specs.PLATE_FOCAL, framing.matching_focal, subject, plate_distance=away,
            focal=Given(plate.focal_m, "focal_length", "focal length of the plate", shot.name),
            plate_sensor=Given(plate.sensor_width_m, "length", "sensor of the plate", plate.format or shot.name),
            sensor=Given(mode.sensor_width_m.value, "length", "sensor width", camera.name),
            distance=sheet.find(specs.PLATE_DISTANCE, shot=shot.id) or unknown))  # fmt: skip
    image = sheet.find(specs.IMAGE, shot=shot.id, camera=shot.cameras[0].name) if shot.cameras else None
    if image and not (plate.height_m is None or plate.distance_m is None or plate.tilt_deg is None):
        sheet.add(derive(specs.FOOT, framing.foot_in_frame, subject, image=image,
            height=Given(plate.height_m, "length", "height of the plate's lens", shot.name),
            distance=Given(plate.distance_m, "length", "distance of the plate's lens", shot.name),
            tilt=Given(math.radians(plate.tilt_deg), "angle", "tilt of the plate", shot.name),
            sensor=Given(mode.sensor_height_m.value, "length", "sensor height", camera.name)))  # fmt: skip
