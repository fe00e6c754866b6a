"""What fills the frame of each shot, and what matches its live plate."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.camera import framing
from homunculus.core.camera.lens import focus_distance
from homunculus.core.cards import CameraCard
from homunculus.core.figures import Given, derive
from homunculus.core.plan_types import Sheet
from homunculus.core.shots import Lens, Plate, Shot
from homunculus.core.stages.lens import lenses_of
from homunculus.core.stages.scale import at_scale, real_extent
from homunculus.core.stages.shot import scale_given


def distance_of(shot: Shot, build_id: str, lens: Lens) -> tuple[float, str]:
    """How far from the lens a build stands in a ``shot`` [real m], and where that is from.

    Where the use of ``build_id`` says no distance it is where the ``lens`` is focused for its near and far end.
    """
    for use in shot.uses:
        if use.build == build_id and use.at_real_m:
            return use.at_real_m, "said in the shot"
    sharp = focus_distance(near=lens.near_real_m, far=lens.far_real_m)
    return sharp, "where near and far end are equally sharp"


def plan_framing(sheet: Sheet) -> None:
    """Derive share of the frame and plate match for every shot of the ``sheet``'s build."""
    context = sheet.context
    camera = context.cards.camera(context.shop.camera)
    reach = real_extent(sheet)
    for shot in context.shots:
        for name, lens in lenses_of(shot) if reach else ():
            assert reach is not None
            low, high = reach[1]
            away, source = distance_of(shot, context.build.id, lens)
            sheet.add(derive(specs.FRAME_SHARE, framing.share_of_frame, sheet.subject(shot=shot.id, part=name),
                height=Given(high - low, "length", "whole build, real", context.build.name),
                distance=Given(away, "length", "from the lens, real", source),
                focal=Given(lens.focal_m, "length", "focal length", shot.name),
                sensor=Given(camera.sensor_height_m.value, "length", "sensor height", camera.name)))  # fmt: skip
        if shot.plate:
            _match_plate(sheet, shot, shot.plate, camera)


def _match_plate(sheet: Sheet, shot: Shot, plate: Plate, camera: CameraCard) -> None:
    """Derive lens, height and distance that match a plate, from what its camera sheet says."""
    subject, scale = sheet.subject(shot=shot.id), scale_given(sheet)
    if plate.focal_m and plate.sensor_width_m:
        sheet.add(derive(specs.PLATE_FOCAL, framing.matching_focal, subject,
            focal=Given(plate.focal_m, "length", "focal length of the plate", shot.name),
            plate_sensor=Given(plate.sensor_width_m, "length", "sensor of the plate", plate.format or shot.name),
            sensor=Given(camera.sensor_width_m.value, "length", "sensor width", camera.name)))  # fmt: skip
    if shot.lens and None not in (plate.height_m, plate.distance_m, plate.tilt_deg):
        sheet.add(derive(specs.FOOT, framing.foot_in_frame, subject,
            height=Given(plate.height_m, "length", "height of the plate's lens", shot.name),
            distance=Given(plate.distance_m, "length", "distance of the plate's lens", shot.name),
            tilt=Given(plate.tilt_deg, "count", "tilt of the plate, degrees", shot.name),
            focal=Given(shot.lens.focal_m, "length", "focal length", shot.name),
            sensor=Given(camera.sensor_height_m.value, "length", "sensor height", camera.name)))  # fmt: skip
    for spec, value, label in ((specs.PLATE_HEIGHT, plate.height_m, "height of the plate's lens"),
                               (specs.PLATE_DISTANCE, plate.distance_m, "distance of the plate's lens")):  # fmt: skip
        if value is not None:
            real = Given(value, "length", f"{label}, real", shot.name)
            sheet.add(derive(spec, at_scale, subject, real=real, scale=scale))
