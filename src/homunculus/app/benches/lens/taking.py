"""What is done to the set that the lens bench draws: its handles pulled, stepped, typed and let be; each an edit of the job."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from msgspec.structs import replace

from homunculus.app.desk import Desk
from homunculus.core import specs
from homunculus.core.cells.places import CAMERA_EXAMPLE, parse_camera, parse_place, place_typed, show_place, within
from homunculus.core.edits.sets import (
    Hold,
    camera_of,
    depth_ends,
    eye_height,
    held_plane,
    next_lens,
    pulled,
    put_camera,
    put_place,
    put_shot,
    stepped,
    stood_at,
    turned,
    with_card,
    with_end,
    with_focal,
)
from homunculus.core.errors import UserError
from homunculus.core.figures import Figure, Phrase
from homunculus.core.job.cameras import LensCard
from homunculus.core.job.job import Job
from homunculus.core.job.sets import Camera, Depth, Place
from homunculus.core.job.shots import Shot
from homunculus.core.plan.memory import Last
from homunculus.core.plan.set_plan import Plane, SetPlan
from homunculus.core.plan.ways_out import WayOut, ways_out
from homunculus.core.planners.lens import optics_of, taken_at
from homunculus.core.quantities import parse, parse_number
from homunculus.core.showing import Shown, show_number
from homunculus.core.why import phrase as in_words

FOCAL_PX, STOP_PX = 4.0, 10.0
"""Pixels a millimetre of focal length, and a third of a stop, while they are pulled."""


class Taking:
    """The set that is drawn, and what can be done to it."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self._from: SetPlan | None = None
        self._ways: Last[tuple[WayOut, ...]] = Last()
        self._sought: tuple[WayOut, ...] = ()

    # ----------------------------------------------------------------------------------- reading
    @property
    def name(self) -> str:
        """Of the camera that is drawn: the same on every view of a set."""
        return self.desk.breakdown.camera_name

    @name.setter
    def name(self, name: str) -> None:
        self.desk.breakdown.camera_name = name

    @property
    def shot(self) -> Shot | None:
        """The shot."""
        return self.desk.breakdown.shot

    def found(self) -> SetPlan | None:
        """Its set."""
        return self.desk.plan.sets.get(self.shot.id) if self.shot else None

    def camera(self) -> Camera | None:
        """The camera that is drawn: the one of the name, else the first."""
        found = camera_of(self.shot, self.name) if self.shot else None
        self.name = found.name if found else ""
        return found

    def drawn(self) -> tuple[SetPlan, Camera, Shot] | None:
        """The set that is drawn, its camera and its shot; none where there is no shot, or no camera yet."""
        found, camera = self.found(), self.camera()
        return (found, camera, found.shot) if found and camera else None

    def ways(self) -> tuple[WayOut, ...]:
        """What would free it; kept for the set, and not sought while something is pulled."""
        found = self.found()
        if self.desk.gesture is not None:
            return self._sought
        # each way is this very job, changed: an older one would undo what came after
        job, system = self.desk.job, self.desk.system
        self._sought = self._ways.get((found, self.name, system, job), lambda: (
            ways_out(job, found, self.name, self.cards(), system) if found and self.camera() else ()
        ))  # fmt: skip
        return self._sought

    def cards(self) -> tuple[LensCard, ...]:
        """The lenses that there are: those of the job, and of the shelf."""
        mine = self.desk.job.cards.lenses
        here = {card.id for card in mine}
        return (*mine, *(card for card in self.desk.shelf.to_take.lenses if card.id not in here))

    def phrase(self, words: Phrase) -> str:
        """A sentence with its numbers, in the units in use."""
        return in_words(words, self.desk.system, self.desk.job.shop.currency)

    def _plane(self, hold: Hold) -> Plane | None:
        found = self.found()
        return held_plane(found, hold) if found else None

    def called(self, hold: Hold) -> str:
        """What is held, in words."""
        plane = self._plane(hold)
        if plane:
            return f"where {plane.name} stands"
        return {"filters": "filters take", "lit": "lit area", "focal": "lens", "stop": "stop", "focus": "focus", "camera": "eye over the floor",
                "end:near": "near end", "end:far": "far end"}.get(hold, hold)  # fmt: skip

    # ------------------------------------------------------------------------------------- acts
    def edit(self, name: str, job: Job) -> bool:
        """Make the change; what is refused is said."""
        return self.desk.edit(name, job, self.desk.gesture)

    def put(self, what: str, shot: Shot) -> bool:
        """Change the shot."""
        return self.edit(f"{what}, shot {shot.id}", put_shot(self.desk.job, shot))

    def put_camera(self, what: str, camera: Camera) -> bool:
        """Change the camera of the shot."""
        return self.put(what, put_camera(self.shot, camera)) if self.shot else False

    def begin(self) -> None:
        """Give the shot its first camera, which holds what stands there, or the depth that everything begins with."""
        shot = self.shot
        if shot is None:
            return
        placed = any(need.place for need in shot.needs)
        camera = Camera(depth=None if placed else Depth(3.0, 6.0, looks=False))
        self.put("a camera", replace(shot, cameras=(camera,)))
        self.desk.said.emit(f"A camera is there. {CAMERA_EXAMPLE}.")

    def take(self, way: WayOut) -> None:
        """Take a way out."""
        if way.job is None:
            self.desk.said.emit(
                f"{way.words[:1].upper()}{way.words[1:]}: {way.note}. That is done on the set, and nothing here keeps it."
            )
        elif self.desk.edit(way.words, way.job):
            self.desk.said.emit(f"Taken: {way.words}. U goes back.")

    def grasp(self, hold: Hold) -> None:
        """Take hold of something; nothing is decided yet."""
        del hold
        self._from = self.found()
        self.desk.grasp()

    def pull(self, hold: Hold, along: float, up: float, up_px: float) -> None:
        """Pull it so far from where the hand took hold, along the floor and up [m], and up in pixels for what is no length."""
        if self._from:
            notches = round(up_px / (FOCAL_PX if hold == "focal" else STOP_PX))
            self._put_or_leave(f"{self.called(hold)} pulled", pulled(self._from, self.name, hold, along, up, notches))

    def step(self, hold: Hold, steps: int) -> None:
        """Step it: distances by a hundredth, stops by a third, lenses to the next that there is."""
        if (drawn := self.drawn()) is None:
            return
        found, camera, _ = drawn
        if hold != "focal":
            self._put_or_leave(self.called(hold), stepped(found, self.name, hold, steps))
            return
        card = next_lens(self.cards(), optics_of(found.context, camera).focal.number, steps)
        if card is None:
            self.desk.said.emit(
                f"There is no {'longer' if steps > 0 else 'shorter'} lens on the shelf. Type one: 27 mm."
            )
        else:
            self.take_card(card)

    def _put_or_leave(self, what: str, shot: Shot | None) -> None:
        if shot:
            self.put(what, shot)

    def take_card(self, card: LensCard) -> None:
        """Put a lens of the shelf on the camera."""
        camera = self.camera()
        if camera and self.put_camera(card.name, with_card(camera, card)):
            self.desk.said.emit(f"{card.name} is on the camera.")

    def bodies(self) -> list[tuple[str, Callable[[], object]]]:
        """The bodies and modes that there are, each with what puts it there."""
        mine = self.desk.job.cards.cameras
        here = {card.id for card in mine}
        cards = (*mine, *(card for card in self.desk.shelf.to_take.cameras if card.id not in here))
        return [
            (f"{card.name}, {mode.name}", partial(self._take_body, card.id, mode.name))
            for card in cards for mode in card.modes
        ]  # fmt: skip

    def _take_body(self, body: str, mode: str) -> None:
        camera = self.camera()
        if camera:
            self.put_camera("body", replace(camera, body=body, mode=mode))

    def next_body(self) -> None:
        """Put the next body, or the next mode of it, on the stand."""
        drawn, bodies = self.drawn(), self.bodies()
        if drawn is None or not bodies:
            return
        found, camera, _ = drawn
        body, mode = found.context.body(camera), found.context.mode(camera)
        names = [words for words, _ in bodies]
        now = f"{body.name}, {mode.name}" if body and mode else ""
        at = (names.index(now) + 1) % len(names) if now in names else 0
        bodies[at][1]()
        self.desk.said.emit(f"On the stand: {names[at]}.")

    def soften(self, hold: Hold) -> None:
        """Let a thing be soft, or have it sharp again."""

        def softened(place: Place) -> tuple[str, Place]:
            return "must be sharp" if place.soft else "may be soft", replace(place, soft=not place.soft)

        self._change(hold, lambda plane: softened(plane.place))

    def _change(self, hold: Hold, how: Callable[[Plane], tuple[str, Place | None]]) -> None:
        """Give a thing another place, and say what that is; nothing where nothing is held."""
        plane, shot = self._plane(hold), self.shot
        if plane and shot:
            said, place = how(plane)
            self.put(f"{plane.name} {said}", put_place(shot, plane.need, place))

    def alone(self, hold: Hold) -> None:
        """Take a thing in a pass of its own, or with the others again."""

        def parted(place: Place) -> tuple[str, Place]:
            return "with the others" if place.alone else "in a pass of its own", replace(place, alone=not place.alone)

        self._change(hold, lambda plane: parted(plane.place))

    def turn(self, hold: Hold) -> None:
        """Let a thing go by how far it looks instead of by the floor, or the other way: it stays where it is."""

        def other(plane: Plane) -> tuple[str, Place]:
            place = turned(plane)
            return "by looks" if place.looks else "by the floor", place

        self._change(hold, other)

    def settle(self) -> None:
        """Say that the set of the shot is right as it is, where an older job had a camera for each build."""
        shot = self.shot
        if shot and shot.disagreed:
            self.put("its set is right", replace(shot, disagreed=""))
        else:
            self.desk.said.emit("Nothing is open about the set of this shot.")

    def let_be(self, hold: Hold) -> None:
        """Take back what was decided: focus and stop are left to the program, a thing stands nowhere, the depth is what stands there."""
        if (drawn := self.drawn()) is None:
            return
        _, camera, shot = drawn
        if hold == "stop":
            self.put_camera("stop left to the program", replace(camera, stop=None))
        elif hold == "filters":
            self.put_camera("no filters", replace(camera, filters=0.0))
        elif hold == "lit":
            self.put("lit area left to the program", replace(shot, lit_m2=None))
        elif hold == "focus":
            self.put_camera("focus left to the program", replace(camera, focus_m=None))
        elif hold.startswith("end:"):
            self.put_camera("only what stands there is held", replace(camera, depth=None))
        else:
            self._change(hold, lambda _: ("stands nowhere", None))

    def put_down(self, need: int, words: str) -> bool:
        """Put what stands nowhere yet, by its number among the needs, where the words say."""
        shot = self.shot
        if shot is None:
            return False
        place = parse_place([part.strip() for part in words.split(",")], self.desk.system)
        return self.put(f"{shot.needs[need].what} stands", put_place(shot, need, place))

    # ------------------------------------------------------------------------------------ typing
    def words(self, hold: Hold) -> str:
        """What a handle holds, as it is typed."""
        if (drawn := self.drawn()) is None:
            return ""
        found, camera, shot = drawn
        taken, plane, system = taken_at(found, camera), self._plane(hold), self.desk.system
        if plane:
            return show_place(plane.place, system)
        if hold == "focal":
            return camera.lens or str(self.desk.given(camera.focal_m, "focal_length"))
        if hold == "stop" and taken:
            return f"f/{show_number(round(taken.stop.number, 2))}"
        if hold == "focus" and taken:
            return str(self.desk.given(taken.focus.number, "length"))
        if hold == "filters":
            return f"{show_number(camera.filters)} stops"
        if hold == "lit":
            return "" if shot.lit_m2 is None else str(self.desk.given(shot.lit_m2, "area"))
        if hold == "camera":
            return str(self.desk.given(eye_height(found, camera), "length"))
        ends = depth_ends(found, camera)
        return str(self.desk.given(ends[0 if hold == "end:near" else 1], "length")) if ends else ""

    def shown(self, hold: Hold) -> Shown | None:
        """Filters, or the area that is lit, as decided; none where nobody has."""
        camera = self.camera()
        if hold == "filters" and camera:
            return self.desk.given(camera.filters, "stops")
        return self.desk.given(self.shot.lit_m2, "area") if self.shot and self.shot.lit_m2 is not None else None

    def left_to_program(self, hold: Hold) -> Figure | None:
        """What the program takes for what nobody has decided."""
        found = self.found()
        return found.find(specs.LIT_AREA) if hold == "lit" and found else None

    def type(self, hold: Hold, words: str) -> bool:
        """Take what was typed; what cannot be read is said."""
        if (drawn := self.drawn()) is None:
            return False
        found, camera, shot = drawn
        plane, system = self._plane(hold), self.desk.system
        if plane:
            parts = [part.strip() for part in words.split(",")]
            if parts[0][:1].isdigit():
                return self.put(
                    f"{plane.name} stands",
                    put_place(shot, plane.need, stood_at(plane, parse(parts[0], "length", system))),
                )
            place = place_typed(words, plane.place, system)
            return self.put(f"{plane.name} stands", put_place(shot, plane.need, place))
        match hold:
            case "focal":
                typed = parse_camera(words, system)
                lens = with_focal(camera, typed.focal_m) if not typed.lens else self._carded(camera, typed.lens)
                return self.put_camera("lens", lens)
            case "stop":
                if not words.strip():
                    self.let_be(hold)
                    return True
                stop = within(parse_number(words.strip().removeprefix("f/")), Camera, "stop", words)
                return self.put_camera("stop", replace(camera, stop=stop))
            case "focus":
                if not words.strip():
                    self.let_be(hold)
                    return True
                focus = within(parse(words, "length", system), Camera, "focus_m", words)
                return self.put_camera("focus", replace(camera, focus_m=focus))
            case "filters":
                filters = within(parse(words or "0", "stops"), Camera, "filters", words)
                return self.put_camera("filters", replace(camera, filters=filters))
            case "lit":
                area = within(parse(words, "area", system), Shot, "lit_m2", words) if words.strip() else None
                return self.put("lit area", replace(shot, lit_m2=area))
            case "camera":
                height = within(parse(words, "length", system), Camera, "height_m", words)
                return self.put_camera("eye over the floor", replace(camera, height_m=height))
            case _:
                at = within(parse(words, "length", system), Depth, "near_m", words)
                return self.put_camera(self.called(hold), with_end(found, camera, hold.removeprefix("end:"), at))

    def _carded(self, camera: Camera, lens: str) -> Camera:
        """The camera with the lens of that id.

        Raises
        ------
        UserError
            When there is no such card; the message lists those there are.
        """
        card = next((card for card in self.cards() if card.id == lens), None)
        if card is None:
            raise UserError(
                f"There is no lens “{lens}”", remedy="There are: " + ", ".join(card.id for card in self.cards())
            )
        return with_card(camera, card)
