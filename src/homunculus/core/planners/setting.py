"""How what was poured sets, left alone at a moment: in the shop's air or in its oven, as figures, or why it never does."""

from __future__ import annotations

import math
from datetime import datetime

from homunculus.core import specs
from homunculus.core.cure.clock import in_its_air
from homunculus.core.cure.kinetics import cure_time
from homunculus.core.figures import Given, Phrase, Station, derive, rule
from homunculus.core.plan.build_plan import BuildSheet, PlannedPour, Setting, card_given
from homunculus.core.schedule.graph import CannotBe


class Stopped(CannotBe):
    """Something that cannot be done as things stand, in words."""

    def __init__(self, station: Station, piece: str, headline: str, why: Phrase) -> None:
        super().__init__(headline)
        self.station, self.piece, self.headline, self.why = station, piece, headline, why


@rule("when the hands leave it", "forward plan")
def at_the_end(*, done: datetime) -> datetime:
    """The moment at which the hands are off it: ``done``."""
    return done


def set_figure(sheet: BuildSheet, pour: PlannedPour, setting: Setting, start: datetime) -> float:
    """Derive when a pour is in and how long it sets: reckoned once, where it is placed; of castings the first turn.

    Parameters
    ----------
    sheet
        With the shop's air.
    pour
        What it is.
    setting
        Its material, clock and lag.
    start
        When the hands left it.

    Returns
    -------
    float
        Seconds; of what is baked there is no figure but when it went in.

    Raises
    ------
    Stopped
        When it never sets here.
    """
    card, subject = setting.card, sheet.subject(pour.piece, op=pour.op)
    assert card.demould_s is not None
    air = sheet.context.shop.air
    poured = derive(specs.POURED, at_the_end, subject, done=Given(start, "moment", "hands are off it", "forward plan"))
    if card.clock == "baked":
        seconds = seconds_to_set(sheet, pour, setting, start)
        sheet.add(poured)
        return seconds
    cure = derive(specs.CURE, cure_time, subject, start=poured,
        book=card_given(card, card.demould_s, "duration", "demould, book"),
        clock=Given(setting.clock, "thing", f"{setting.clock.kinetics.law} from its card", card.name),
        programme=Given(sheet.context.programme, "thing", f"shop {air.day_c:g} °C by day, {air.night_c:g} °C by night", "shop"),
        lag=Given(setting.lag_s, "duration", "mould's lag", pour.name, decided=pour.of == "mould"))  # fmt: skip
    if not math.isfinite(cure.number):
        raise _never(sheet, pour, setting, start)
    sheet.add(poured)
    return sheet.add(cure).number


def seconds_to_set(sheet: BuildSheet, pour: PlannedPour, setting: Setting, start: datetime) -> float:
    """Seconds that a pour takes to set, left alone at ``start``.

    Parameters
    ----------
    sheet
        With the shop's air.
    pour
        What it is.
    setting
        Its material, clock and lag.
    start
        When the hands left it.

    Raises
    ------
    Stopped
        When it never sets here.
    """
    card = setting.card
    assert card.demould_s is not None
    programme, room = in_its_air(card, sheet.context.programme, start)
    seconds = setting.clock.time(
        book=card.demould_s.value, programme=programme, start=start, lag=setting.lag_s, start_c=room
    )
    if not math.isfinite(seconds):
        raise _never(sheet, pour, setting, start)
    return seconds


def _never(sheet: BuildSheet, pour: PlannedPour, setting: Setting, start: datetime) -> Stopped:
    words = _why_not(sheet, setting, sheet.context.programme.at(start))
    return Stopped("cure", pour.piece, f"{pour.name.partition(':')[0]}: will not cure here", words)


def _why_not(sheet: BuildSheet, setting: Setting, room: float) -> Phrase:
    """What is in the way of a setting, and what would help."""
    here, card = Given(room, "temperature", "here"), setting.card
    if card.clock == "gelled":
        return (f"{card.name} stays liquid at ", here, ". Cool the bench.")
    if card.clock in ("dried", "moisture") and not card.least_c:
        return (
            f"{card.name} does not dry in air of ",
            Given(sheet.context.shop.air.humidity, "share", "humidity"),
            " humidity.",
        )
    least = f", below {card.least_c.value:g} °C it stands still" if card.least_c else ""
    return (f"{card.name} needs more than 60 days at ", here, f"{least}. Warm the room.")
