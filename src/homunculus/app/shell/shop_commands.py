"""What the shop decides, asked for in one line: its hours, days off, country with its holidays, and clocks."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from msgspec.structs import replace

from homunculus.app.desk import Desk
from homunculus.core.cells.shop import (
    first_day,
    hours_words,
    parse_days_off,
    parse_hours,
    show_days_off,
    show_hours,
    with_holidays,
    years_of,
)
from homunculus.core.job.job import Job
from homunculus.core.schedule.wall_clock import zone_of

if TYPE_CHECKING:
    from homunculus.app.shell.goto import Entry
    from homunculus.app.shell.notice import Notice


def shop_commands(desk: Desk, notice: Callable[[], Notice]) -> list[Entry]:
    """The go-to entries of the shop; each asks on the notice with what stands there already."""

    def changed(words: str, job: Job) -> None:
        desk.edit(words, job)
        desk.said.emit(f"The shop: {hours_words(desk.job.shop.hours)}.")

    def ask_hours() -> None:
        def take(words: str) -> None:
            shop = desk.job.shop
            changed("shop hours", replace(desk.job, shop=replace(shop, hours=parse_hours(words, shop.hours))))

        notice().ask("When is the shop open?", take, show_hours(desk.job.shop.hours))

    def ask_days_off() -> None:
        def take(words: str) -> None:
            shop, none = desk.job.shop, words.strip().casefold() == "none"
            days = () if none else parse_days_off(words, first_day(desk.job))
            changed("days off", replace(desk.job, shop=replace(shop, hours=replace(shop.hours, days_off=days))))

        notice().ask("Days off (none takes all away)", take, show_days_off(desk.job.shop.hours.days_off))

    def ask_country() -> None:
        def take(words: str) -> None:
            from homunculus.library.public_holidays import public_holidays  # a calendar: only where one is asked for

            years, before = years_of(desk.job), desk.job.shop.hours.country
            old = public_holidays(before, years) if before else ()
            country = "" if words.strip().casefold() == "none" else words.strip().upper()
            changed(
                "holidays", with_holidays(desk.job, country, public_holidays(country, years) if country else (), old)
            )

        notice().ask("Which country's public holidays? (two letters, or none)", take, desk.job.shop.hours.country)

    def ask_zone() -> None:
        def take(words: str) -> None:
            zone = "" if words.strip().casefold() == "none" else words.strip()
            zone_of(zone)
            shop = desk.job.shop
            changed("clocks", replace(desk.job, shop=replace(shop, air=replace(shop.air, zone=zone))))

        notice().ask(
            "By which zone are clocks put forward? (such as Europe/Lisbon, or none)", take, desk.job.shop.air.zone
        )

    return [
        ("Shop hours", "09:00 to 18:00, Mon to Fri", ask_hours),
        ("Days off", "dates", ask_days_off),
        ("Country and its public holidays", "two letters", ask_country),
        ("Summer time", "zone", ask_zone),
    ]
