"""The shots of the demo job: eighteen on nine days, what they need, and what covers it. Everything is invented.

One need is covered by nothing on purpose, and one piece of the ferry is in no shot.
"""

from __future__ import annotations

from datetime import date, datetime

from homunculus.core.job.shots import (
    ByBuild,
    ByDecision,
    ByPeople,
    ByStock,
    Camera,
    Check,
    Deadline,
    FixedRate,
    FrameByFrame,
    FrameRule,
    Gravity,
    Lens,
    Need,
    Plate,
    ScreenTime,
    Setup,
    Shot,
)

FRONT, ROUND = ("front", "left"), ("front", "left", "right")
TOWER = ("tower", "gallery", "breakwater")
RAIL = Need("iron rail, full size", ByStock("iron rail from the yard, 2 m"))
CUT_OUTS = Need("headland and cut-outs behind", ByDecision("painted here or printed outside?", date(2026, 2, 27)))


def seen(what: str, build: str, *pieces: str, **how: object) -> Need:
    """A need that a build covers, or some of its pieces."""
    return Need(what, ByBuild(build, pieces, **how))  # type: ignore[arg-type]


def tower(**how: object) -> Need:
    """The lighthouse with its breakwater."""
    return seen("lighthouse on the breakwater", "lighthouse", *TOWER, sides=FRONT, **how)


def ferry(**how: object) -> Need:
    """The ferry from outside."""
    return seen("paddle ferry", "ferry", "hull", **how)


def _shot(number: str, name: str, seconds: float, day: int, unit: str, needs: tuple[Need, ...], rule: FrameRule,
          lens: Lens | None = None, **more: object) -> Shot:  # fmt: skip
    return Shot(number, name, seconds, date(2026, 3, day), needs, rule, lens, unit=unit, **more)  # type: ignore[arg-type]


def shots() -> tuple[Shot, ...]:
    """All shots, in the order of the script."""
    wide, film = Lens(0.035, 24.0, 84.0), FixedRate(24.0)

    def still(focal: float, near: float, far: float) -> Lens:
        return Lens(focal, near, far, exposure_s=0.5)

    keeper = seen("barnacle cheek", "keeper", wear="soiling", sides=("left",))
    keeper_played = Need("performer, Keeper", ByPeople("performer"))
    wife_played = Need("performer, Tidewife, with dresser", ByPeople("performer and seamstress"))
    return (
        _shot("1", "headland at dusk", 5.0, 17, "miniatures", (tower(at_real_m=90.0), CUT_OUTS), Gravity(),
              Lens(0.032, 40.0, 130.0), order=1, cut=1, ends_as="lamp dark, as the plate ends on the cliff path",
              plate=Plate("spherical, 4096 wide", 0.0254, 0.024, 2.4, 3.5, 90.0, 24.0, 180.0, 5.6, 800.0),
              deadlines=(Deadline("cut-outs back from outside", -4, "printer"), Deadline("plate and model to compositing", 2))),
        _shot("2", "storm wide", 6.0, 17, "miniatures", (tower(), ferry(sides=FRONT)), Gravity(), wide, order=2, cut=2),
        _shot("3", "wave takes the gallery", 4.0, 18, "miniatures", (
                  seen("lighthouse, wet", "lighthouse", "tower", "breakwater", sides=FRONT),
                  seen("gallery breaks away", "lighthouse", "gallery", wear="destructive", sides=FRONT, chance=0.35)),
              Gravity(1.2), Lens(0.050, 30.0, 60.0), order=2, cut=8, cameras=(Camera("B", Lens(0.060, 30.0, 60.0)),),
              checks=(Check("dump tank full and pinned"), Check("catch net under the gallery"))),
        _shot("4", "lantern seen through the rail", 3.5, 18, "miniatures", (
                  seen("lantern gallery, close", "lighthouse", "gallery", "tower", sides=ROUND), RAIL), Gravity(),
              Lens(0.040, 22.0, 70.0), order=1, cut=5,
              setup=Setup("stand A on the floor cross, 1.10 m; stand B 2.40 m left of it", "two soft from the left, one hard low right",
                          "40 mm, focused at 2.8 m", "gallery 1, salt on the glass", "", datetime(2026, 2, 23, 16, 40), "camera")),
        _shot("5", "ferry rounds the point", 7.0, 19, "miniatures", (ferry(sides=ROUND), tower()), Gravity(),
              Lens(0.035, 30.0, 110.0), cut=3),
        _shot("6", "ferry lists", 4.5, 19, "miniatures", (ferry(wear="soiling", sides=FRONT),), Gravity(), Lens(0.050, 26.0, 62.0),
              cut=9),
        _shot("7", "Keeper at the glass", 8.0, 17, "main unit", (keeper, keeper_played), film, cut=4),
        _shot("8", "Keeper climbs", 6.0, 18, "main unit", (keeper, keeper_played), film, cut=6),
        _shot("9", "Tidewife on the slip", 9.0, 20, "creatures", (
                  seen("Tidewife, walking suit", "tidewife", wear="soiling", sides=FRONT), wife_played), film, cut=10),
        _shot("10", "Tidewife under water", 11.0, 23, "creatures", (
                  seen("Tidewife, swimming suit", "tidewife", wear="soiling", sides=("front", "back")), wife_played,
                  Need("safety diver", ByPeople("licensed diver"))), FixedRate(48.0), cut=11),
        _shot("11", "gulls on the wall", 5.0, 24, "creatures", (seen("thirty gulls", "gulls", sides=("front", "left", "right")),),
              film, cut=7),
        _shot("12", "gulls go up", 3.0, 24, "creatures", (seen("six gulls on rods", "gulls", wear="soiling"),), FixedRate(48.0),
              cut=12),
        _shot("13", "Old Claw wakes", 12.0, 25, "puppets", (seen("crab, close", "oldclaw", "crab", "stalks", sides=ROUND),),
              FrameByFrame(2), still(0.028, 2.2, 3.4), order=2, cut=13, deadlines=(Deadline("rig clean-up delivered", 14),)),
        _shot("14", "claw takes the rope", 9.0, 25, "puppets", (
                  seen("claw, close", "oldclaw", "claw", wear="soiling", sides=("front", "top")),
                  seen("crab behind", "oldclaw", "crab", wear="soiling", sides=("front",)),
                  Need("tarred rope at the claw's size")), FrameByFrame(1), still(0.035, 2.6, 3.2), order=1, cut=14),
        _shot("15", "Old Claw walks off", 17.0, 26, "puppets", (
                  seen("crab, walking", "oldclaw", "crab", "stalks", wear="soiling", sides=("front", "back")),), FrameByFrame(2),
              still(0.025, 2.4, 4.0), order=1, cut=15, deadlines=(Deadline("rig clean-up delivered", 14),)),
        _shot("16", "salt grows", 8.0, 26, "puppets", (
                  seen("bust, salt grows on it", "saltbust", wear="destructive", sides=("front",), chance=0.7),
                  Need("brine, chosen of four", ByStock("brine 3, 20 L made up"))), ScreenTime(5 * 3600.0), order=2, cut=16),
        _shot("17", "the lamp goes out", 4.0, 27, "miniatures", (tower(),), Gravity(), Lens(0.040, 28.0, 90.0), order=1, cut=17,
              ends_as="gallery whole, lamp dark, no salt: the plate of shot 1"),
        _shot("18", "full-size rail, empty sea", 6.0, 27, "main unit", (RAIL,), film, order=2, cut=18),
    )  # fmt: skip
