"""What the lens of each shot must hold on the model, and the light that takes."""

from __future__ import annotations

import math

from homunculus.core import specs
from homunculus.core.camera import lens as optics
from homunculus.core.camera import light
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.plan_types import Headline, Sheet
from homunculus.core.shots import Lens, Shot
from homunculus.core.stages.scale import at_scale
from homunculus.core.stages.shot import scale_given


def plan_lens(sheet: Sheet) -> None:
    """Derive depth and light for every shot of the ``sheet``'s build that names a lens."""
    worst: Figure | None = None
    focal: Given | None = None
    for shot in sheet.context.shots:
        for name, lens in lenses_of(shot):
            stop = _plan_one(sheet, shot, lens, name)
            if worst is None or stop.number > worst.number:
                worst, focal = stop, Given(lens.focal_m, "length", "focal length", shot.name)
    if worst is None or focal is None:
        return
    note = ("needs ", worst) if math.isfinite(worst.number) else ("no stop holds it",)
    sheet.headlines.append(Headline("lens", focal, (*note, f", shot {worst.subject.shot}")))


def lenses_of(shot: Shot) -> tuple[tuple[str, Lens], ...]:
    """The lenses of all cameras of a ``shot`` with the camera's name; that of the first is empty."""
    first = (("", shot.lens),) if shot.lens else ()
    return (*first, *((camera.name, camera.lens) for camera in shot.cameras))


def _plan_one(sheet: Sheet, shot: Shot, lens: Lens, name: str) -> Figure:
    context, subject, scale = sheet.context, sheet.subject(shot=shot.id, part=name), scale_given(sheet)
    camera = context.cards.camera(context.shop.camera)
    width = Given(camera.sensor_width_m.value, "length", "sensor width", camera.name)
    delivery = Given(context.shop.delivery_px, "pixels", "delivered width", "shop")
    sharp = Given(context.shop.sharp_px, "pixels", "blur that passes as sharp", "shop")
    focal = Given(lens.focal_m, "length", "focal length", shot.name)
    near = sheet.add(derive(specs.NEAR, at_scale, subject, scale=scale,
                            real=Given(lens.near_real_m, "length", "near end, real", shot.name)))  # fmt: skip
    far = sheet.add(derive(specs.FAR, at_scale, subject, scale=scale,
                           real=Given(lens.far_real_m, "length", "far end, real", shot.name)))  # fmt: skip
    confusion = sheet.add(derive(specs.CONFUSION, optics.confusion_from_delivery, subject,
                                 sensor_width=width, delivery=delivery, sharp=sharp))  # fmt: skip
    focus = sheet.add(derive(specs.FOCUS, optics.focus_distance, subject, near=near, far=far))
    stop = sheet.add(derive(specs.STOP, optics.stop_to_hold, subject,
                            focal=focal, near=near, far=far, confusion=confusion))  # fmt: skip
    rate = sheet.find(specs.RATE, shot=shot.id)
    if rate and math.isfinite(stop.number):
        shutter = Given(lens.shutter_deg, "count", "shutter, degrees", shot.name)
        exposure = sheet.add(derive(specs.EXPOSURE, light.exposure_time, subject, shutter=shutter, rate=rate))
        effective = sheet.add(derive(specs.EFFECTIVE, light.effective_stop, subject,
                                     stop=stop, focal=focal, distance=focus))  # fmt: skip
        sheet.add(derive(specs.LIGHT, light.illuminance, subject, stop=effective, exposure=exposure,
                         iso=Given(lens.iso, "count", "ISO", shot.name)))  # fmt: skip
        sheet.add(derive(specs.FINEST, optics.finest_seen, subject, sensor_width=width, delivery=delivery,
                         focal=focal, distance=focus))  # fmt: skip
    return stop
