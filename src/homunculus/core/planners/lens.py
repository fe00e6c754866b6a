"""What each camera of a set must hold, how sharp it comes out, and the light that takes."""

from __future__ import annotations

import math
from typing import Literal, NamedTuple

from homunculus.core import specs
from homunculus.core.camera import blur, frame_rate, light
from homunculus.core.camera import lens as optics
from homunculus.core.camera.stand import farthest_sharp, nearest_sharp
from homunculus.core.figures import Figure, Given, Subject, derive
from homunculus.core.job.cameras import LensCard
from homunculus.core.job.sets import Camera
from homunculus.core.job.shots import FrameByFrame
from homunculus.core.plan.build_plan import BuildSheet, Headline
from homunculus.core.plan.set_plan import SetContext, SetPlan, SetSheet, base_scale, moving_with
from homunculus.core.showing import significant

Verdict = Literal["holds", "strained", "cannot"]


class Optics(NamedTuple):
    """What a camera's lens is, from its card or as the shot says."""

    focal: Given
    widest: Given
    smallest: Given
    pupil: dict[str, Given]
    """The magnification of its pupils as an input, where a card says it."""
    card: LensCard | None


def optics_of(context: SetContext, camera: Camera) -> Optics:
    """The lens of a ``camera`` in the set of a ``context``: by its card where it has one, else by its own values."""
    card, whose = context.lens(camera), context.shot.name
    if card is None:
        return Optics(Given(camera.focal_m, "focal_length", "focal length", whose, decided=True),
                      Given(camera.widest_stop, "stop", "the lens opens to", whose),
                      Given(camera.smallest_stop, "stop", "the lens closes to", whose), {}, None)  # fmt: skip

    def of(sourced: object, kind: Literal["focal_length", "stop", "factor"], label: str) -> Given:
        return Given(sourced.value, kind, label, f"{card.name}: {sourced.source}")  # type: ignore[attr-defined]

    pupil = {"pupil": of(card.pupil, "factor", "pupil magnification")} if card.pupil else {}
    return Optics(of(card.focal_m, "focal_length", "focal length"), of(card.widest, "stop", "the lens opens to"),
                  of(card.narrowest, "stop", "the lens closes to"), pupil, card)  # fmt: skip


class Taken(NamedTuple):
    """What a camera of a set is taken at: its stop and its focus, decided or reckoned."""

    stop: Figure | Given
    focus: Figure | Given


def taken_at(found: SetPlan, camera: Camera) -> Taken | None:
    """Stop and focus at which a ``camera`` of the ``found`` set takes; none where it sees nothing sharp."""
    stop, focus = found.find(specs.STOP, camera=camera.name), found.find(specs.FOCUS, camera=camera.name)
    if stop is None:
        return None
    at = _focus_taken(camera, focus, found.shot.name)
    return Taken(_stop_taken(camera, optics_of(found.context, camera), stop, found.shot.name), at) if at else None


def _focus_taken(camera: Camera, reckoned: Figure | None, whose: str) -> Figure | Given | None:
    """The focus that somebody decided, else the one that was reckoned."""
    return reckoned if camera.focus_m is None else Given(camera.focus_m, "length", "focus", whose, decided=True)


def _stop_taken(camera: Camera, optics: Optics, reckoned: Figure, whose: str) -> Figure | Given:
    """The stop that somebody decided, within what the lens has, else the one that was reckoned."""
    if camera.stop is None:
        return reckoned
    stop = min(max(camera.stop, optics.widest.number), optics.smallest.number)
    return Given(stop, "stop", "stop", whose, decided=True)


def plan_camera(sheet: SetSheet, camera: Camera, *, first: bool) -> None:
    """Derive depth, focus, blur and light of one ``camera`` on the ``sheet`` of its set; the ``first`` is the one from whose eye distances are taken."""
    context, shot, subject = sheet.set, sheet.set.shot, sheet.subject(camera=camera.name)
    mode, glass = context.mode(camera), optics_of(context, camera)
    if mode is None:
        return
    if camera.mode and mode.name != camera.mode:
        sheet.mind("mind", "lens", (f"Shot {shot.id}: its camera has no mode “{camera.mode}”",),
                   (f"“{mode.name}” is reckoned with. Choose a mode that it has.",), 3.0, camera=camera.name)  # fmt: skip
    ends = _ends(sheet, camera, subject, first=first)
    if ends is None:
        return
    near, far = ends
    body = context.body(camera)
    width = Given(mode.sensor_width_m.value, "length", "sensor width", body.name if body else "")
    delivery = Given(context.shop.delivery_px, "pixels", "delivered width", "shop")
    sharp = Given(context.shop.sharp_px, "pixels", "blur that passes as sharp", "shop")
    confusion = sheet.add(derive(specs.CONFUSION, optics.confusion_from_delivery, subject,
                                 sensor_width=width, delivery=delivery, sharp=sharp))  # fmt: skip
    own = {"focal": glass.focal} | glass.pupil if glass.pupil else {}
    reckoned = None
    if camera.focus_m is None:
        reckoned = sheet.add(derive(specs.FOCUS, optics.focus_distance, subject, near=near, far=far, **own))
    focus = _focus_taken(camera, reckoned, shot.name)
    if focus is None:
        return
    eye = blur.Glass(glass.focal.number, glass.pupil["pupil"].value if glass.pupil else 1.0).entrance_m
    for end, what in ((near.number, "near end"), (focus.number, "focus")):
        if end - eye <= glass.focal.number * 1.0001:
            _cannot(sheet, camera, (f"Shot {shot.id}: the {what} cannot be focused",),
                    ("It lies ", Given(end, "length", what), " before a lens of ", glass.focal,
                     ". A shorter lens, further back, or a larger model."))  # fmt: skip
            return
    image = sheet.add(
        derive(specs.IMAGE, optics.image_distance, subject, focal=glass.focal, distance=focus, **glass.pupil)
    )
    lens = {"focal": glass.focal, **glass.pupil, "focus": focus}
    limits = {"widest": glass.widest, "smallest": glass.smallest}
    asked = sheet.add(
        derive(specs.STOP, blur.stop_to_take, subject, near=near, far=far, confusion=confusion, **lens, **limits)
    )
    best = sheet.add(derive(specs.BEST_STOP, blur.stop_of_least_blur, subject, near=near, far=far, **lens, **limits))
    stop = _stop_taken(camera, glass, asked, shot.name)
    if camera.stop is not None and stop.number != camera.stop:
        sheet.mind("danger", "lens", (f"Shot {shot.id}: its lens has no ", Given(camera.stop, "stop", "stop")),
                   ("It has ", glass.widest, " to ", glass.smallest, "; ", stop, " is reckoned with."), 5.0, camera=camera.name)  # fmt: skip
    screen = {"sensor_width": width, "delivery": delivery}
    worst = sheet.add(derive(specs.BLUR, blur.worst_blur, subject, near=near, far=far, stop=stop, **lens, **screen))
    least = sheet.add(
        derive(specs.LEAST_BLUR, blur.worst_blur, subject, near=near, far=far, stop=best, **lens, **screen)
    )
    for spec, law in ((specs.AIR_FROM, blur.sharp_from), (specs.AIR_TO, blur.sharp_to)):
        sheet.add(derive(spec, law, subject, stop=stop, confusion=confusion, **lens))
    high = Given(mode.sensor_height_m.value, "length", "sensor height", body.name if body else "")
    for spec, side in ((specs.ANGLE, width), (specs.ANGLE_HIGH, high)):
        sheet.add(derive(spec, optics.angle_of_view, subject, sensor=side, image=image))
    if least.number > context.shop.sharp_px * TOLERANCE:
        _cannot(sheet, camera, (f"Shot {shot.id}: no stop of this lens holds the depth",),
                ("At best, ", best, ", a point spreads over ", least, "; ", sharp, " pass as sharp. A shorter lens, further back, "
                 "or a larger model."))  # fmt: skip
    elif worst.number > context.shop.sharp_px * TOLERANCE:
        sheet.mind("mind", "lens", (f"Shot {shot.id}: ", stop, " does not hold the depth"),
                   ("A point spreads over ", worst, "; ", sharp, " pass as sharp. At ", asked, " it holds."), 4.0,
                   camera=camera.name)  # fmt: skip
    _mind_the_barrel(sheet, camera, glass, focus, near, subject)
    for plane in sheet.planes:
        at, to = (behind(end, camera, first=first) for end in (plane.at, plane.to or plane.at))
        if plane.place.alone and at.number - eye <= glass.focal.number * 1.0001:
            _cannot(sheet, camera, (f"Shot {shot.id}: {plane.name} cannot be focused",),
                    ("In its own pass it lies ", at, " before a lens of ", glass.focal, ". A shorter lens, or further back."))  # fmt: skip
            continue
        sheet.add(derive(specs.PLANE_BLUR, blur.worst_blur, sheet.subject(use=plane.name, camera=camera.name), near=at, far=to,
                         stop=stop, **(lens | {"focus": at} if plane.place.alone else lens), **screen))  # fmt: skip
    sheet.add(derive(specs.FINEST, optics.finest_seen, subject, distance=focus, image=image, **screen))
    exposure = _exposure(sheet, camera, subject)
    if exposure:
        effective = sheet.add(derive(specs.EFFECTIVE, light.effective_stop, subject,
                                     stop=stop, focal=glass.focal, distance=focus, **glass.pupil, **_loss(glass)))  # fmt: skip
        filters = (
            {"filters": Given(camera.filters, "stops", "filters take", shot.name, decided=True)}
            if camera.filters
            else {}
        )
        sheet.add(derive(specs.LIGHT, light.illuminance, subject, stop=effective, exposure=exposure,
                         iso=Given(camera.iso, "count", "ISO", shot.name, decided=True), **filters))  # fmt: skip


def _loss(glass: Optics) -> dict[str, Given]:
    """What the glass itself takes of the light, where the card has a T-stop."""
    card = glass.card
    if card is None or card.t_widest is None:
        return {}
    said = f"{card.name}: {card.t_widest.source}"
    return {"loss": Given(card.t_widest.value / card.widest.value, "factor", "T-stop over f-number", said)}


TOLERANCE = 1.0 + 1e-9


def verdict_of(found: SetPlan, camera: str) -> Verdict | None:
    """Whether the focus of the ``found`` set holds in a ``camera``: as set, at another stop (strained), or at none; none without figures."""
    worst, least = found.find(specs.BLUR, camera=camera), found.find(specs.LEAST_BLUR, camera=camera)
    if worst is None or least is None:
        return None
    allowed = found.context.shop.sharp_px * TOLERANCE
    return "holds" if worst.number <= allowed else "strained" if least.number <= allowed else "cannot"


def behind(at: Figure | Given, camera: Camera, *, first: bool) -> Figure | Given:
    """A distance ``at`` from the first camera's eye as another ``camera`` has it; the ``first`` has it as it is."""
    if first or not camera.back_m:
        return at
    return Given(
        max(at.number + camera.back_m, 1e-6), "length", f"from camera {camera.name}", "its eye stands elsewhere"
    )


def sharp_ends(sheet: SetSheet, camera: Camera) -> dict[str, Figure | Given]:
    """All that must be sharp in a ``camera`` of the ``sheet``'s set, as distances from the first camera's eye, by what it is."""
    found: dict[str, Figure | Given] = {}
    for plane in sheet.planes:
        if plane.place.held:
            found[plane.name] = plane.at
            if plane.to:
                found[f"{plane.name}, far side"] = plane.to
    depth = camera.depth
    if depth:
        scale = base_scale(sheet.set).value if depth.looks else 1.0
        said = ", as it looks" if depth.looks else ""
        found["the near end"] = Given(
            depth.near_m / scale, "length", f"near end{said}", sheet.set.shot.name, decided=True
        )
        found["the far end"] = Given(depth.far / scale, "length", f"far end{said}", sheet.set.shot.name, decided=True)
    return found


def ends_at(found: SetPlan, camera: Camera, build: str, times: float) -> tuple[float, float]:
    """Near and far end [m] of what a ``camera`` of the ``found`` set must hold when the scale number of a ``build`` is so many ``times`` what it is, a bare number.

    What stands where it looks right comes nearer as it is built smaller; what stands on the floor stays.
    """
    moved: list[float] = []
    moving = moving_with(found.context, build)
    for plane in found.planes:
        if plane.place.held:
            by = times if plane.build in moving and plane.place.looks else 1.0
            moved += [end.number / by for end in (plane.at, plane.to) if end]
    if camera.depth:
        by = base_scale(found.context).value * (times if found.base in moving else 1.0) if camera.depth.looks else 1.0
        moved += [camera.depth.near_m / by, camera.depth.far / by]
    back = 0.0 if camera is found.shot.cameras[0] else camera.back_m
    return max(min(moved) + back, 1e-9), max(moved) + back


def _ends(sheet: SetSheet, camera: Camera, subject: Subject, *, first: bool) -> tuple[Figure, Figure] | None:
    """Derive what a camera must hold; none where nothing stands before it, or something behind it."""
    found = sharp_ends(sheet, camera)
    if not found:
        return None
    back = Given(
        0.0 if first else camera.back_m, "length", "its eye is behind the first", sheet.set.shot.name, decided=True
    )
    near = sheet.add(derive(specs.NEAR, nearest_sharp, subject, back=back, **found))
    far = sheet.add(derive(specs.FAR, farthest_sharp, subject, back=back, **found))
    depth = camera.depth
    if depth and depth.near_m > depth.far:
        _cannot(sheet, camera, (f"Shot {sheet.set.shot.id}: the near end lies behind the far end",),
                ("Put them the other way round.",))  # fmt: skip
        return None
    if near.number <= 0:
        _cannot(sheet, camera, (f"Shot {sheet.set.shot.id}: something lies behind camera {camera.name}",),
                ("Its eye stands ", back, " behind the first. Put it further back.",))  # fmt: skip
        return None
    return near, far


def _mind_the_barrel(sheet: SetSheet, camera: Camera, glass: Optics, focus: Figure | Given, near: Figure,
                     subject: Subject) -> None:  # fmt: skip
    """Derive what the barrel says of the focus, and how far the lens's front is from what is nearest, and mind both."""
    card = glass.card
    if math.isinf(focus.number):
        return
    barrel = sheet.add(
        derive(specs.BARREL, optics.on_the_barrel, subject, focal=glass.focal, focus=focus, **glass.pupil)
    )
    if card is None:
        return
    begins = Given(card.nearest_m.value, "length", "nearest on the barrel", f"{card.name}: {card.nearest_m.source}")
    if card.nearest_from == "front":  # of a probe the eye is at its tip, and lengths say nothing of where it is
        if near.number < begins.number:
            _cannot(sheet, camera, (f"Shot {sheet.set.shot.id}: {card.name} does not focus so near",),
                    ("Its front is ", near, " from the nearest thing; it begins at ", begins, "."))  # fmt: skip
        return
    nearest = sheet.add(
        derive(specs.NEAREST, optics.nearest_from_eye, subject, nearest=begins, focal=glass.focal, **glass.pupil)
    )
    if focus.number < nearest.number * (1 - 1e-9):
        _cannot(sheet, camera, (f"Shot {sheet.set.shot.id}: {card.name} does not focus so near",),
                ("Its barrel would have to say ", barrel, "; it begins at ", begins, "."))  # fmt: skip
    body = sheet.set.body(camera)
    if card.length_m and body and body.flange_m:
        clear = sheet.add(derive(specs.CLEARANCE, optics.front_clearance, subject, near=near, focal=glass.focal, focus=focus,
            length=Given(card.length_m.value, "length", "length from the mount", f"{card.name}: {card.length_m.source}"),
            flange=Given(body.flange_m.value, "length", "mount to image plane", f"{body.name}: {body.flange_m.source}"),
            **glass.pupil))  # fmt: skip
        if clear.number <= 0:
            _cannot(sheet, camera, (f"Shot {sheet.set.shot.id}: the lens stands in what it looks at",),
                    ("Its front would be ", clear, " from the nearest thing. A shorter lens, or further back."))  # fmt: skip


def _exposure(sheet: SetSheet, camera: Camera, subject: Subject) -> Figure | Given | None:
    """How long a frame is exposed: decided by hand, or by the shutter; none, with a caution, where nobody has said."""
    shot, rate = sheet.set.shot, sheet.find(specs.RATE)
    if camera.exposure_s is not None:
        if rate and not frame_rate.by_single_frames(rate.number) and camera.exposure_s > 1 / rate.number * 1.0001:
            _cannot(sheet, camera, (f"Shot {shot.id}: the exposure is longer than a frame",),
                    (Given(camera.exposure_s, "screen_time", "exposure"), " at ", rate,
                     f" cannot be: a frame lasts {significant(1 / rate.number)} s."))  # fmt: skip
            return None
        return Given(camera.exposure_s, "screen_time", "exposure time", shot.name, decided=True)
    if isinstance(shot.rule, FrameByFrame) or (rate and frame_rate.by_single_frames(rate.number)):
        sheet.mind("mind", "lens", (f"Shot {shot.id}: how long is one frame exposed?",),
            ("Frame by frame there is no shutter angle. Say the exposure time with its lens, as in “1/2 s”; "
             "until then no light is reckoned.",), 2.0, camera=camera.name)  # fmt: skip
        return None
    if rate is None:
        return None
    shutter = Given(math.radians(camera.shutter_deg), "angle", "shutter", shot.name, decided=True)
    return sheet.add(derive(specs.EXPOSURE, light.exposure_time, subject, shutter=shutter, rate=rate))


def _cannot(sheet: SetSheet, camera: Camera, headline: tuple[str | Figure | Given, ...],
            why: tuple[str | Figure | Given, ...]) -> None:  # fmt: skip
    sheet.mind("danger", "lens", headline, why, 6.0, camera=camera.name)


# ---------------------------------------------------------------------------------------- a build's
def plan_lens(sheet: BuildSheet) -> None:
    """Say at the lens's station of the ``sheet``'s build which of its shots asks most, and hand on what its sets have to mind."""
    worst: tuple[bool, float] = (False, -1.0)
    said: Headline | None = None
    for found in sheet.context.sets:
        if found.base == sheet.context.build.id:
            sheet.minds += found.minds
        for camera in found.shot.cameras:
            verdict, stop = verdict_of(found, camera.name), found.find(specs.STOP, camera=camera.name)
            if stop is None:
                continue
            rank = (verdict == "cannot", stop.number)
            if rank > worst:
                worst = rank
                note = ("no stop holds it, ", stop) if verdict == "cannot" else ("needs ", stop)
                said = Headline("lens", optics_of(found.context, camera).focal, (*note, f", shot {found.shot.id}"))
    if said:
        sheet.headlines.append(said)
