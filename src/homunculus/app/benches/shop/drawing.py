"""The drawing of the shop: day and night, the week, people, things on their floor, the stage."""

from __future__ import annotations

from typing import Any, NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt

from homunculus.app.benches.base import Bench
from homunculus.app.benches.shop.room import LOUPE, PEOPLE_FLOOR, PEOPLE_H, WALL_M, WEEK_Y, Room, Standing
from homunculus.app.drawing.person import PERSON_M, person_path
from homunculus.app.theme.ink import Ink
from homunculus.core.cells.shop import DAYS
from homunculus.core.edits import shop as edits
from homunculus.core.job.shop import Shop
from homunculus.core.job.workshop import Oven
from homunculus.core.shelf.telling import fact_of
from homunculus.core.showing import show_clock

SHIFT: tuple[edits.Hour, ...] = ("opens", "closes")
WARM: tuple[edits.Hour, ...] = ("warm_from", "warm_to")


class Shown(NamedTuple):
    """What is drawn: how it is laid out, the shop, who or what is chosen, the first person in sight, what stands beneath the sheet."""

    room: Room
    shop: Shop
    chosen: tuple[str, Any] | None
    first: int
    doings: list[tuple[str, str]]


def draw_shop(ink: Ink, bench: Bench, shown: Shown) -> None:
    """Draw all of a ``bench`` that is ``shown``."""
    ink.text(18, 29, "Who and what is in the shop?", "bench_question")
    _day(ink, bench, shown)
    _week(ink, bench, shown)
    _people(ink, bench, shown)
    _things(ink, bench, shown)
    _column(ink, bench, shown)


def _spans(start: int, end: int) -> list[tuple[int, int]]:
    """From one minute of the day to another, over midnight in two; none where they are one."""
    return [(start, end)] if start <= end else [(start, 1440), (0, end)]


def _day(ink: Ink, bench: Bench, shown: Shown) -> None:
    shop, day = shown.shop, shown.room.day
    ink.painter.fillRect(day, ink.theme.colour("night"))
    for start, end in _spans(edits.minutes_of(shop.air.warm_from), edits.minutes_of(shop.air.warm_to)):
        ink.painter.fillRect(
            QRectF(
                shown.room.hour_x(start), day.top(), shown.room.hour_x(end) - shown.room.hour_x(start), day.height()
            ),
            ink.theme.colour("sheet"),
        )
    ink.box(day.left(), day.top(), day.width(), day.height(), edge="line")
    for hour in range(0, 25, 3):
        x = shown.room.hour_x(hour * 60)
        ink.rule(x, day.bottom(), x, day.bottom() + (5 if hour % 6 else 8), "line", 1)
        free = all(abs(x - shown.room.hour_x(edits.minutes_of(edits.hour_of(shop, which)))) > 16 for which in WARM)
        if hour % 6 == 0 and 0 < hour < 24 and free:
            ink.text(x, day.top() - 5, f"{hour:02d}", "tick", "ink2", "centre")
    for start, end in _spans(edits.minutes_of(shop.hours.opens), edits.minutes_of(shop.hours.closes)):
        ink.box(
            shown.room.hour_x(start), day.top() + 12, shown.room.hour_x(end) - shown.room.hour_x(start), 11, fill="ink"
        )
    for which in SHIFT:
        clock = edits.hour_of(shop, which)
        x = shown.room.hour_x(edits.minutes_of(clock))
        ink.lozenge(x, day.top() + 17.5, 12)
        plate = ink.width(show_clock(clock), "tick", 600)
        at = x + 10 if which == "opens" else x - plate - 10
        ink.text(at, day.top() + 22, show_clock(clock), "tick", "sheet", weight=600)
    for which in WARM:
        x = shown.room.hour_x(edits.minutes_of(edits.hour_of(shop, which)))
        ink.rule(x, day.top() - 6, x, day.bottom(), "decide", 1.2, "limit")
        ink.lozenge(x, day.top() - 6, 9)
    for name in ("day", "night"):
        area = shown.room.air_area(name, shown.shop)
        decision = bench.desk.decision(f"shop.{name}_c")
        ink.decided(
            area.left() + 6,
            area.top() + 18,
            bench.desk.given(decision.value, decision.kind),
            "lane_value",
            begun=decision.begun,
        )
        ink.text(area.left() + 50, area.top() + 18, f"by {name}", "note", "ink2")


def _week(ink: Ink, bench: Bench, shown: Shown) -> None:
    hours, x0 = shown.shop.hours, shown.room.day.left()
    for day, name in enumerate(DAYS):
        works, x = day in hours.weekdays, x0 + day * 42
        ink.box(x, WEEK_Y + 2, 38, 26, fill="ink" if works else "", edge="ink" if works else "line")
        ink.text(x + 19, WEEK_Y + 20, name, "label", "sheet" if works else "ink2", "centre")
        if not works:
            ink.rule(x + 6, WEEK_Y + 15, x + 32, WEEK_Y + 15, "line", 1)
    off = len(hours.days_off)
    zone = shown.shop.air.zone
    for name, words in (
        ("off", f"{off} day{'' if off == 1 else 's'} off"),
        ("country", hours.country or "no country"),
        ("zone", zone.rpartition("/")[2].replace("_", " ") or "no clock change"),
    ):
        spot = bench.spots.find(name)
        if spot:
            width = ink.text(spot.x(), spot.y() + 20, ink.squeezed(spot.width() - 6, words, "label"), "label", "decide")
            ink.rule(spot.x(), spot.y() + 25, spot.x() + width, spot.y() + 25, "decide", 1)
    spot = bench.spots.find("decide:shop.humidity")
    if spot:
        decision = bench.desk.decision("shop.humidity")
        ink.decided(
            spot.x() + 6,
            spot.y() + 18,
            bench.desk.given(decision.value, decision.kind),
            "lane_value",
            begun=decision.begun,
        )
        ink.text(spot.x() + 54, spot.y() + 18, "humid", "note", "ink2")


def _people(ink: Ink, bench: Bench, shown: Shown) -> None:
    shop, floor = shown.shop, PEOPLE_FLOOR
    ink.rule(shown.room.day.left(), floor, shown.room.day.right(), floor, "ink", 1.5)
    chosen = shown.chosen
    for place, person in enumerate(shop.people[shown.first : shown.first + shown.room.fit]):
        area = shown.room.person_area(place)
        here = chosen is not None and chosen[1] is person
        _person(
            ink,
            area.center().x(),
            floor,
            "ink" if here else "line",
            2.0 if here else 1.2,
            fill="pencil" if here else "",
        )
        _caption(ink, area, floor, person.name, ", ".join(person.skills) or "no skill said", here)
        if person.weekdays != shop.hours.weekdays:
            for day in range(7):
                x = area.center().x() - 21 + day * 6
                ink.box(x, floor + 36, 4, 4, fill="ink2" if day in person.weekdays else "", edge="ink2", width=0.75)
    spot = bench.spots.find("new:people")
    if spot:
        x = spot.geometry().center().x()
        _person(ink, x, floor, "decide", 1.2, dash="hidden")
        ink.text(x, floor + 17, "+ who else?" if shop.people else "+ who works here?", "label", "decide", "centre")
    left = len(shop.people) - shown.first - shown.room.fit
    if left > 0:
        ink.text(shown.room.day.right(), floor - PEOPLE_H - 2, f"{left} more: brackets walk", "note", "ink2", "right")


def _person(ink: Ink, x: float, floor: float, colour: str, width: float, *, dash: str = "", fill: str = "") -> None:
    ink.painter.save()
    ink.painter.translate(x, floor)
    path = person_path(PEOPLE_H)
    if fill:
        ink.painter.fillPath(path, ink.theme.colour(fill))
    ink.painter.setPen(ink.pen(colour, width, dash))
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    ink.painter.drawPath(path)
    ink.painter.restore()


def _caption(ink: Ink, area: QRectF, floor: float, name: str, words: str, here: bool) -> None:
    x = area.center().x()
    ink.text(
        x,
        floor + 16,
        ink.squeezed(area.width(), name, "label", 600 if here else 0),
        "label",
        "ink",
        "centre",
        600 if here else 0,
    )
    ink.text(x, floor + 31, ink.squeezed(area.width() + 2, words, "note"), "note", "ink2", "centre")


def _things(ink: Ink, bench: Bench, shown: Shown) -> None:
    floor = shown.room.floor
    ink.rule(shown.room.day.left(), floor, shown.room.day.right(), floor, "ink", 1.5)
    _hoist(ink, bench, shown)
    chosen = shown.chosen
    for standing in shown.room.standing:
        here = chosen is not None and chosen[1] is standing.thing
        _thing(ink, shown, standing, here)
    named = next((s for s in shown.room.standing if chosen is not None and chosen[1] is s.thing), None)
    if named:
        x = max(shown.room.day.left() + 150, min(named.area.center().x(), shown.room.day.right() - 60))
        ink.text(x, floor + 17, named.thing.name, "label", "ink", "centre", 600)
        ink.text(x, floor + 33, fact_of(named.thing, bench.desk.system), "note", "ink2", "centre")
    loupe = [s for s in shown.room.standing if s.loupe > 1]
    if loupe:
        first, last = min(s.area.left() for s in loupe), max(s.area.right() for s in loupe)
        top = min(s.area.top() for s in loupe) - 8
        ink.rule(first, top, last, top, "line", 1)
        ink.text((first + last) / 2, top - 5, f"× {LOUPE:g}", "tick", "ink2", "centre")
    if not shown.room.standing:
        x = shown.room.day.left() + 1.6 * shown.room.px
        ink.painter.setPen(ink.pen("line", 1.2, "hidden"))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawRect(QRectF(x, floor - 1.2 * shown.room.px, 1.1 * shown.room.px, 1.2 * shown.room.px))
        ink.text(
            x + 1.3 * shown.room.px,
            floor - 0.7 * shown.room.px,
            "No oven, no vessel, no machine yet: add one below, or take them from the shelf (K).",
            "note",
            "ink2",
        )
    for name in ("ovens", "machines", "scales", "vessels"):
        spot = bench.spots.find(f"new:{name}")
        if spot:
            words = {"ovens": "+ an oven", "machines": "+ a machine", "scales": "+ a scale", "vessels": "+ a vessel"}[
                name
            ]
            width = ink.text(spot.x() + 6, spot.y() + 22, words, "label", "decide")
            ink.rule(spot.x() + 6, spot.y() + 27, spot.x() + 6 + width, spot.y() + 27, "decide", 1)


def _hoist(ink: Ink, bench: Bench, shown: Shown) -> None:
    """A beam with its hook, and two who carry: what each bears is decided on it."""
    x, top = shown.room.day.left() + 44.0, PEOPLE_FLOOR + 50.0
    ink.rule(shown.room.day.left(), top, shown.room.day.left() + 92, top, "ink", 3)
    ink.rule(x, top, x, top + 14, "ink", 1.5)
    for key, words in (("shop.hoist_kg", "the hoist bears"), ("shop.carry_kg", "two can carry")):
        _decided(ink, bench, key, words)
    for shift in (14.0, 62.0):
        ink.painter.save()
        ink.painter.translate(shown.room.day.left() + shift, shown.room.floor)
        ink.painter.setPen(ink.pen("line", 1.1))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawPath(person_path(PERSON_M * shown.room.px))
        ink.painter.restore()
    ink.box(shown.room.day.left() + 26, shown.room.floor - 0.95 * shown.room.px, 24, 12, fill="pencil", edge="ink")


def _thing(ink: Ink, shown: Shown, standing: Standing, here: bool) -> None:
    area, thing = standing.area, standing.thing
    colour, width = ("ink", 2.0) if here else ("line", 1.2)
    if standing.sort == "vessels":
        _vessel(ink, area, colour, width, used=edits.is_mixed_in(shown.shop, thing))
        return
    if standing.sort == "scales":
        ink.box(
            area.left(),
            area.top() + area.height() * 0.4,
            area.width(),
            area.height() * 0.6,
            fill="pencil",
            edge=colour,
            width=width,
        )
        ink.rule(area.left() + 2, area.top(), area.right() - 2, area.top(), colour, width)
        ink.rule(area.center().x(), area.top(), area.center().x(), area.top() + area.height() * 0.4, colour, width)
        return
    ink.box(area.left(), area.top(), area.width(), area.height(), fill="pencil", edge=colour, width=width)
    wall = WALL_M * shown.room.px * standing.loupe
    inside = area.adjusted(wall, wall, -wall, -wall)
    ink.painter.fillRect(inside, ink.theme.colour("sheet"))
    if isinstance(thing, Oven):
        ink.hatched(inside, "oven", "line")
        for shelf in range(1, thing.shelves):
            y = inside.top() + inside.height() * shelf / thing.shelves
            ink.rule(inside.left(), y, inside.right(), y, colour, 1.2)
    ink.box(inside.left(), inside.top(), inside.width(), inside.height(), edge=colour, width=1)


def _vessel(ink: Ink, area: QRectF, colour: str, width: float, *, used: bool) -> None:
    if used:
        ink.painter.fillRect(
            QRectF(area.left(), area.top() + area.height() * 0.35, area.width(), area.height() * 0.65),
            ink.theme.colour("rubber"),
        )
        ink.hatched(
            QRectF(area.left(), area.top() + area.height() * 0.35, area.width(), area.height() * 0.65), "wet", "reckon"
        )
    ink.rules([(area.left(), area.top(), area.left(), area.bottom()), (area.left(), area.bottom(), area.right(), area.bottom()),
               (area.right(), area.bottom(), area.right(), area.top())], colour, width)  # fmt: skip


def _column(ink: Ink, bench: Bench, shown: Shown) -> None:
    x, shop = shown.room.right, shown.shop
    ink.rule(x - 12, 44, x - 12, bench.height() - 10, "line", 1)
    _stage(ink, shop, QRectF(x, 44, bench.width() - x - 18, 84))
    for key, words in (
        ("width_m", "wide"),
        ("depth_m", "deep"),
        ("height_m", "high"),
        ("lamps_m", "for lamps"),
        ("door_width_m", "door"),
        ("door_height_m", "door, high"),
    ):
        _decided(ink, bench, f"shop.{key}", words)
    for key, words in (("vessel_m3", "vacuum vessel"), ("bucket_m3", "bucket"), ("hands", "mix at once")):
        _decided(ink, bench, f"shop.{key}", words)
    spot = bench.spots.find("door")
    if spot:
        width = ink.text(spot.x() + 6, spot.y() + 20, "+ its door", "label", "decide")
        ink.rule(spot.x() + 6, spot.y() + 25, spot.x() + 6 + width, spot.y() + 25, "decide", 1, "hidden")
    spot = bench.spots.find("money")
    if spot:
        width = ink.text(spot.x() + 6, spot.y() + 20, f"prices in {shop.currency}", "label", "decide")
        ink.rule(spot.x() + 6, spot.y() + 25, spot.x() + 6 + width, spot.y() + 25, "decide", 1)
    _decided(ink, bench, "shop.tax", "tax, left out")
    chosen = shown.chosen
    if chosen is None:
        ink.paragraph(
            x,
            352,
            bench.width() - x - 20,
            "Nobody and nothing yet. Press the dashed figure and say who works here.",
            "note",
            "ink2",
        )
        return
    ink.text(x, 344, ink.squeezed(bench.width() - x - 20, chosen[1].name, "heading"), "heading")
    ink.rule(x, 350, bench.width() - 16, 350, "ink", 1.2)
    for name, words in shown.doings:
        spot = bench.spots.find(name)
        if spot:
            width = ink.text(spot.x() + 4, spot.y() + 22, words, "label")
            ink.rule(spot.x() + 4, spot.y() + 27, spot.x() + 4 + width, spot.y() + 27, "ink", 1)


def _decided(ink: Ink, bench: Bench, key: str, words: str) -> None:
    spot = bench.spots.find(f"decide:{key}")
    if spot is None:
        return
    decision = bench.desk.decision(key)
    ink.decided(
        spot.x() + 6, spot.y() + 18, bench.desk.given(decision.value, decision.kind), "lane_value", begun=decision.begun
    )
    ink.text(spot.x() + 6, spot.y() + 42, ink.squeezed(spot.width() - 6.0, words, "note"), "note", "ink2")


def _stage(ink: Ink, shop: Shop, area: QRectF) -> None:
    """The stage in elevation, true to its own scale, with a person, the lamps' height and the door."""
    stage = shop.stage
    px = min(area.width() / stage.width_m, area.height() / stage.height_m)
    wide, high = stage.width_m * px, stage.height_m * px
    left, foot = area.left() + (area.width() - wide) / 2, area.bottom()
    ink.painter.fillRect(QRectF(left, foot - high, wide, high), ink.theme.colour("film"))
    lamps = min(high, stage.lamps_m * px)
    ink.rule(left, foot - high + lamps, left + wide, foot - high + lamps, "line", 1, "limit")
    for i in range(1, 6):
        x = left + wide * i / 6
        ink.rule(x, foot - high, x, foot - high + lamps * 0.5, "line", 1)
        ink.dot(x, foot - high + lamps * 0.6, 2.2, fill="ink2", edge="ink2")
    if stage.door_width_m and stage.door_height_m:
        ink.box(left + wide - min(wide, stage.door_width_m * px) - 4, foot - min(high, stage.door_height_m * px), min(wide, stage.door_width_m * px),
                min(high, stage.door_height_m * px), fill="sheet", edge="ink", width=1.2)  # fmt: skip
    ink.box(left, foot - high, wide, high, edge="ink", width=2)
    ink.painter.save()
    ink.painter.translate(QPointF(left + min(wide * 0.25, 30), foot))
    ink.painter.setPen(ink.pen("line", 1.0))
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    ink.painter.drawPath(person_path(PERSON_M * px))
    ink.painter.restore()
    words = ink.squeezed(area.width(), stage.name or "name the stage", "note")
    width = ink.text(area.left(), area.top() - 6, words, "note", "decide")
    ink.rule(
        area.left(), area.top() - 2, area.left() + width, area.top() - 2, "decide", 1, "" if stage.name else "hidden"
    )
