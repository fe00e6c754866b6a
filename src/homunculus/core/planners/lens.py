"""What the lens of each shot must hold on the model, and the light that takes."""

from __future__ import annotations

import math
from typing import NamedTuple

from homunculus.core import specs
from homunculus.core.camera import blur, frame_rate, light
from homunculus.core.camera import lens as optics
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job.shots import FrameByFrame, Lens, Shot
from homunculus.core.plan.build_plan import Context, Headline, Mind, Sheet
from homunculus.core.planners.scale import at_scale
from homunculus.core.planners.shots import scale_of_view
from homunculus.core.showing import significant


class View(NamedTuple):
    """One lens on one thing of the build: shot, camera (empty for the first), and the insert, empty for the build itself."""

    shot: Shot
    camera: str
    lens: Lens
    insert: str


def lenses_of(shot: Shot) -> tuple[tuple[str, Lens], ...]:
    """The lenses of all cameras of a ``shot`` with the camera's name; that of the first is empty."""
    first = (("", shot.lens),) if shot.lens else ()
    return (*first, *((camera.name, camera.lens) for camera in shot.cameras))


def seen_in(context: Context, shot: Shot) -> tuple[str, ...]:
    """What of the ``context``'s build a ``shot`` sees at a scale of its own: inserts by their piece, the build as empty.

    What is enlarged is seen, lit and focused at its own scale, so each insert that the shot names is a view of its own.
    """
    build = context.build
    inserts = {piece.id for piece in build.pieces if piece.enlarged != 1}
    found: dict[str, None] = {}
    for use in shot.uses:
        if use.build == build.id:
            named = [piece for piece in use.pieces if piece in inserts]
            if len(named) < len(use.pieces) or not use.pieces:
                found[""] = None
            found.update(dict.fromkeys(named))
    return tuple(sorted(found))


def views_of(context: Context) -> tuple[View, ...]:
    """Every lens on every thing of the ``context``'s build that a shot sees."""
    return tuple(
        View(shot, camera, lens, insert)
        for shot in context.shots
        for camera, lens in lenses_of(shot)
        for insert in seen_in(context, shot)
    )


def plan_lens(sheet: Sheet) -> None:
    """Derive depth and light for every shot of the ``sheet``'s build that names a lens."""
    worst: Figure | None = None
    focal: Given | None = None
    held = True
    for view in views_of(sheet.context):
        stop, holds = _plan_one(sheet, view)
        held = held and holds
        if stop and (worst is None or stop.number > worst.number):
            worst, focal = stop, Given(view.lens.focal_m, "length", "focal length", view.shot.name)
    if worst is not None and focal is not None:
        note = ("needs ", worst) if held else ("no stop holds it, ", worst)
        sheet.headlines.append(Headline("lens", focal, (*note, f", shot {worst.subject.shot}")))


def _plan_one(sheet: Sheet, view: View) -> tuple[Figure | None, bool]:
    """Derive the figures of one view: its stop, none with a caution where its depth cannot be one, and whether it holds it."""
    shot, name, lens, insert = view
    context, subject = sheet.context, sheet.subject(insert, shot.id, camera=name)
    camera = context.cards.camera(context.shop.camera)
    mode = context.mode
    scale = scale_of_view(context, insert)
    width = Given(mode.sensor_width_m.value, "length", "sensor width", camera.name)
    delivery = Given(context.shop.delivery_px, "pixels", "delivered width", "shop")
    sharp = Given(context.shop.sharp_px, "pixels", "blur that passes as sharp", "shop")
    focal = Given(lens.focal_m, "length", "focal length", shot.name)
    near = sheet.add(derive(specs.NEAR, at_scale, subject, scale=scale,
                            real=Given(lens.near_real_m, "length", "near end, real", shot.name)))  # fmt: skip
    far = sheet.add(derive(specs.FAR, at_scale, subject, scale=scale,
                           real=Given(lens.far, "length", "far end, real", shot.name)))  # fmt: skip
    confusion = sheet.add(derive(specs.CONFUSION, optics.confusion_from_delivery, subject,
                                 sensor_width=width, delivery=delivery, sharp=sharp))  # fmt: skip
    if near.number > far.number:
        _cannot(sheet, view, (f"Shot {shot.id}: the near end lies behind the far end",),
                ("Near is ", near, ", far ", far, ". Put them the other way round."))  # fmt: skip
        return None, False
    if near.number <= lens.focal_m:
        _cannot(sheet, view, (f"Shot {shot.id}: the near end cannot be focused",),
                ("It lies ", near, " before a lens of ", focal, ". A shorter lens, further back, or a larger model."))  # fmt: skip
        return None, False
    focus = sheet.add(derive(specs.FOCUS, optics.focus_distance, subject, near=near, far=far))
    sheet.add(derive(specs.IMAGE, optics.image_distance, subject, focal=focal, distance=focus))
    widest = Given(lens.widest_stop, "stop", "the lens opens to", shot.name)
    smallest = Given(lens.smallest_stop, "stop", "the lens closes to", shot.name)
    stop = sheet.add(derive(specs.STOP, optics.stop_to_hold, subject, focal=focal, near=near, far=far, confusion=confusion,
                            widest=widest, smallest=smallest))  # fmt: skip
    sheet.add(derive(specs.BEST_STOP, blur.stop_of_least_blur, subject, focal=focal, near=near, far=far, focus=focus,
                     widest=widest, smallest=smallest))  # fmt: skip
    sheet.add(derive(specs.BLUR, blur.worst_blur, subject, focal=focal, near=near, far=far, focus=focus, stop=stop,
                     sensor_width=width, delivery=delivery))  # fmt: skip
    asked = optics.stop_asked(focal=lens.focal_m, near=near.number, far=far.number, confusion=confusion.number)
    if asked > lens.smallest_stop:
        _cannot(sheet, view, (f"Shot {shot.id}: no stop of this lens holds the depth",),
                ("The depth asks ", Given(asked, "stop", "asked"), "; the lens closes to ", stop,
                 ". A shorter lens, further back, or a larger model."))  # fmt: skip
    sheet.add(derive(specs.FINEST, optics.finest_seen, subject, sensor_width=width, delivery=delivery,
                     focal=focal, distance=focus))  # fmt: skip
    exposure = _exposure(sheet, view)
    if exposure:
        effective = sheet.add(derive(specs.EFFECTIVE, light.effective_stop, subject,
                                     stop=stop, focal=focal, distance=focus))  # fmt: skip
        sheet.add(derive(specs.LIGHT, light.illuminance, subject, stop=effective, exposure=exposure,
                         iso=Given(lens.iso, "count", "ISO", shot.name)))  # fmt: skip
    return stop, asked <= lens.smallest_stop


def _exposure(sheet: Sheet, view: View) -> Figure | Given | None:
    """How long a frame is exposed: decided by hand, or by the shutter; none, with a caution, where nobody has said."""
    shot, name, lens, insert = view
    rate = sheet.find(specs.RATE, shot=shot.id)
    if lens.exposure_s is not None:
        if rate and not frame_rate.by_single_frames(rate.number) and lens.exposure_s > 1 / rate.number * 1.0001:
            _cannot(sheet, view, (f"Shot {shot.id}: the exposure is longer than a frame",),
                    (Given(lens.exposure_s, "screen_time", "exposure"), " at ", rate,
                     f" cannot be: a frame lasts {significant(1 / rate.number)} s."))  # fmt: skip
            return None
        return Given(lens.exposure_s, "screen_time", "exposure time", shot.name, decided=True)
    if isinstance(shot.rule, FrameByFrame) or (rate and frame_rate.by_single_frames(rate.number)):
        if not insert:
            sheet.minds.append(Mind("mind", "lens", sheet.subject(shot=shot.id, camera=name),
                (f"Shot {shot.id}: how long is one frame exposed?",),
                ("Frame by frame there is no shutter angle. Say the exposure time with its lens, as in “1/2 s”; "
                 "until then no light is reckoned.",), 2.0))  # fmt: skip
        return None
    if rate is None:
        return None
    shutter = Given(math.radians(lens.shutter_deg), "angle", "shutter", shot.name)
    return sheet.add(derive(specs.EXPOSURE, light.exposure_time, sheet.subject(insert, shot.id, camera=name),
                            shutter=shutter, rate=rate))  # fmt: skip


def _cannot(sheet: Sheet, view: View, headline: tuple[str, ...], why: tuple[str | Figure | Given, ...]) -> None:
    subject = sheet.subject(view.insert, view.shot.id, camera=view.camera)
    sheet.minds.append(Mind("danger", "lens", subject, headline, why, 6.0))
