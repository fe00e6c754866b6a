"""What light a set takes, and what makes it: stops against a known set-up, lamps, circuits, heat; lamps and screens in a model."""

from __future__ import annotations

import math

from homunculus.core import specs
from homunculus.core.camera import light
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job.sets import Camera
from homunculus.core.plan.build_plan import BuildSheet
from homunculus.core.plan.set_plan import SetPlan, SetSheet


def most_light(found: SetSheet | SetPlan, cameras: tuple[Camera, ...]) -> tuple[Figure, Camera] | None:
    """The light of the one of the ``cameras`` of the ``found`` set that needs most, and which that is; none where no light is reckoned."""
    needs = [(figure, camera) for camera in cameras if (figure := found.find(specs.LIGHT, camera=camera.name))]
    return max(needs, key=lambda it: it[0].number) if needs else None


def plan_set_light(sheet: SetSheet) -> None:
    """Derive what the light of the ``sheet``'s set takes: that of the camera that needs most."""
    context, shot = sheet.set, sheet.set.shot
    shop = context.shop.lighting
    needed = most_light(sheet, shot.cameras)
    if needed is None:
        return
    most, camera = needed
    subject = sheet.subject()
    known = sheet.add(derive(specs.KNOWN_LIGHT, light.illuminance, subject,
        stop=Given(shop.known_stop, "stop", "its stop", "shop", decided=True),
        exposure=Given(shop.known_shutter_rad / (2 * math.pi) / shop.known_fps, "screen_time", "its exposure", "shop", decided=True),
        iso=Given(shop.known_iso, "count", "its ISO", "shop", decided=True)))  # fmt: skip
    sheet.add(derive(specs.LIGHT_MORE, light.stops_more, subject, light=most, known=known))
    area = _area(sheet, camera.name)
    if area is None:
        return
    power = sheet.add(derive(specs.LAMP_POWER, light.lamp_power, subject, light=most, area=area,
        efficacy=Given(shop.lm_w, "efficacy", "a lamp gives", "an estimate of the shop", decided=True),
        used=Given(shop.used, "share", "of it reaches the set", "an estimate of the shop", decided=True)))  # fmt: skip
    drawn = sheet.add(derive(specs.AMPERES, light.current, subject, power=power,
                             volts=Given(shop.volts, "voltage", "the mains have", "shop", decided=True)))  # fmt: skip
    count = sheet.add(derive(specs.CIRCUITS, light.circuits_needed, subject, current=drawn,
        breaker=Given(shop.breaker_a, "current", "a breaker holds", "shop", decided=True),
        load=Given(shop.load, "share", "of it for hours", "shop", decided=True)))  # fmt: skip
    stage = context.shop.stage
    volume = Given(stage.width_m * stage.depth_m * stage.height_m, "volume", "air of the stage", "shop")
    sheet.add(derive(specs.WARMS, light.warms_by_a_degree_in, subject, power=power, volume=volume))
    if count.number > shop.circuits:
        sheet.mind("danger", "lens", (f"Shot {shot.id}: the lamps take ", count, " circuits"),
            ("The stage has ", Given(shop.circuits, "count", "circuits", decided=True), "; ", power, " draw ", drawn,
             ". More circuits are laid by whoever is licensed; a wider stop, a slower rate or a smaller lit area needs less."), 4.5)  # fmt: skip


def _area(sheet: SetSheet, camera: str) -> Figure | Given | None:
    """What is lit: as decided, else as far as the camera sees."""
    shot = sheet.set.shot
    if shot.lit_m2 is not None:
        return Given(shot.lit_m2, "area", "area that is lit", shot.name, decided=True)
    image, near, far = (sheet.find(spec, camera=camera) for spec in (specs.IMAGE, specs.NEAR, specs.FAR))
    one = next(c for c in shot.cameras if c.name == camera)
    mode, body = sheet.set.mode(one), sheet.set.body(one)
    if image is None or near is None or far is None or mode is None or body is None:
        return None
    return sheet.add(derive(specs.LIT_AREA, light.lit_area, sheet.subject(), near=near, far=far, image=image,
                            sensor_width=Given(mode.sensor_width_m.value, "length", "sensor width", body.name)))  # fmt: skip


def plan_model_light(sheet: BuildSheet) -> None:
    """Derive what lamps on the ``sheet``'s build draw and warm, and how bright screens within it must be in its shots."""
    build = sheet.context.build
    for lamps in build.lamps:
        subject, whose = sheet.subject(part=lamps.name), f"{build.name}, {lamps.name}"
        drawn = sheet.add(derive(specs.MODEL_CURRENT, light.lamps_current, subject,
            count=Given(lamps.count, "count", "lamps", whose, decided=True),
            amps=Given(lamps.amps, "current", "each draws", whose, decided=True)))  # fmt: skip
        volts = Given(lamps.volts, "voltage", "their voltage", whose, decided=True)
        sheet.add(derive(specs.MODEL_POWER, light.lamps_power, subject, current=drawn, volts=volts))
        sheet.add(derive(specs.WIRE, light.wire_section, subject, current=drawn, volts=volts,
                         length=Given(lamps.wire_m, "length", "to the supply", whose, decided=True)))  # fmt: skip
    for screen in build.screens:
        whose = f"{build.name}, {screen.name}"
        for found in sheet.context.sets:
            needed = most_light(found, found.shot.cameras)
            if needed is None:
                continue
            subject = sheet.subject(part=screen.name, shot=found.shot.id)
            bright = sheet.add(derive(specs.SCREEN, light.screen_luminance, subject, light=needed[0],
                reflects=Given(screen.reflects, "share", "the white reflects", whose, decided=True)))  # fmt: skip
            sheet.add(derive(specs.SCREEN_FLUX, light.screen_flux, subject, luminance=bright,
                width=Given(screen.width_m, "length", "its width", whose, decided=True),
                height=Given(screen.height_m, "length", "its height", whose, decided=True),
                gain=Given(screen.gain, "factor", "its gain", whose, decided=True)))  # fmt: skip
