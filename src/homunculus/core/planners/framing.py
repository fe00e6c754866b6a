"""What fills the frame of each shot, and what matches its live plate."""

from __future__ import annotations

import math

from homunculus.core import specs
from homunculus.core.camera import framing
from homunculus.core.camera.lens import focus_distance
from homunculus.core.figures import Given, derive
from homunculus.core.job.build import piece_of
from homunculus.core.job.cameras import CameraCard
from homunculus.core.job.shots import Lens, Plate, Shot
from homunculus.core.plan.build_plan import Sheet
from homunculus.core.planners.lens import views_of
from homunculus.core.planners.scale import at_scale, form_of, real_extent
from homunculus.core.planners.shots import scale_given


def distance_of(shot: Shot, build_id: str, lens: Lens) -> tuple[float, str]:
    """How far from the lens a build stands in a ``shot`` [real m], and where that is from.

    Where the use of ``build_id`` says no distance it is where the ``lens`` is focused for its near and far end.
    """
    for use in shot.uses:
        if use.build == build_id and use.at_real_m:
            return use.at_real_m, "said in the shot"
    sharp = focus_distance(near=lens.near_real_m, far=lens.far)
    return sharp, "where near and far end are equally sharp"


def plan_framing(sheet: Sheet) -> None:
    """Derive share of the frame and plate match for every shot of the ``sheet``'s build."""
    context = sheet.context
    camera, mode = context.cards.camera(context.shop.camera), context.mode
    for view in views_of(context):
        subject = sheet.subject(view.insert, view.shot.id, camera=view.camera)
        image, height = sheet.find_of(specs.IMAGE, subject), _real_height(sheet, view.insert)
        if image is None or height is None:
            continue
        away, source = distance_of(view.shot, context.build.id, view.lens)
        sheet.add(derive(specs.FRAME_SHARE, framing.share_of_frame, subject, height=height, image=image,
            distance=Given(away, "length", "from the lens, real", source),
            sensor=Given(mode.sensor_height_m.value, "length", "sensor height", camera.name)))  # fmt: skip
    for shot in context.shots:
        if shot.plate:
            _match_plate(sheet, shot, shot.plate, camera)


def _real_height(sheet: Sheet, insert: str) -> Given | None:
    """Real height of the whole build, or of what one insert shows of it; none while a mesh has not been studied."""
    build = sheet.context.build
    if insert:
        piece = piece_of(build, insert)
        form = form_of(sheet, piece)
        return Given(form.size[2] / piece.enlarged, "length", "insert, real", piece.name) if form else None
    reach = real_extent(sheet)
    return Given(reach[1][1] - reach[1][0], "length", "whole build, real", build.name) if reach else None


def _match_plate(sheet: Sheet, shot: Shot, plate: Plate, camera: CameraCard) -> None:
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
            focal=Given(plate.focal_m, "length", "focal length of the plate", shot.name),
            plate_sensor=Given(plate.sensor_width_m, "length", "sensor of the plate", plate.format or shot.name),
            sensor=Given(mode.sensor_width_m.value, "length", "sensor width", camera.name),
            distance=sheet.find(specs.PLATE_DISTANCE, shot=shot.id) or unknown))  # fmt: skip
    image = sheet.find(specs.IMAGE, shot=shot.id)
    if image and not (plate.height_m is None or plate.distance_m is None or plate.tilt_deg is None):
        sheet.add(derive(specs.FOOT, framing.foot_in_frame, subject, image=image,
            height=Given(plate.height_m, "length", "height of the plate's lens", shot.name),
            distance=Given(plate.distance_m, "length", "distance of the plate's lens", shot.name),
            tilt=Given(math.radians(plate.tilt_deg), "angle", "tilt of the plate", shot.name),
            sensor=Given(mode.sensor_height_m.value, "length", "sensor height", camera.name)))  # fmt: skip
