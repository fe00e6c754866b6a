"""What the shop decides, asked for in one line: its hours, days off, country with its holidays, and clocks."""

from __future__ import annotations

from msgspec.structs import replace

from homunculus.app.benches.spec import Command, WindowLike
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


def _changed(desk: Desk, words: str, job: Job) -> None:
    desk.edit(words, job)
    desk.said.emit(f"The shop: {hours_words(desk.job.shop.hours)}.")


def ask_hours(window: WindowLike) -> None:
    """Ask when the shop is open."""
    desk: Desk = window.desk

    def take(words: str) -> None:
        shop = desk.job.shop
        _changed(desk, "shop hours", replace(desk.job, shop=replace(shop, hours=parse_hours(words, shop.hours))))

    window.notice.ask("When is the shop open?", take, show_hours(desk.job.shop.hours))


def ask_days_off(window: WindowLike) -> None:
    """Ask on which days nobody comes."""
    desk: Desk = window.desk

    def take(words: str) -> None:
        shop, none = desk.job.shop, words.strip().casefold() == "none"
        days = () if none else parse_days_off(words, first_day(desk.job))
        _changed(desk, "days off", replace(desk.job, shop=replace(shop, hours=replace(shop.hours, days_off=days))))

    window.notice.ask("Days off (none takes all away)", take, show_days_off(desk.job.shop.hours.days_off))


def ask_country(window: WindowLike) -> None:
    """Ask which country's public holidays the shop keeps."""
    desk: Desk = window.desk

    def take(words: str) -> None:
        from homunculus.library.public_holidays import public_holidays  # a calendar: only where one is asked for

        years, before = years_of(desk.job), desk.job.shop.hours.country
        old = public_holidays(before, years) if before else ()
        country = "" if words.strip().casefold() == "none" else words.strip().upper()
        _changed(
            desk, "holidays", with_holidays(desk.job, country, public_holidays(country, years) if country else (), old)
        )

    window.notice.ask("Which country's public holidays? (two letters, or none)", take, desk.job.shop.hours.country)


def ask_zone(window: WindowLike) -> None:
    """Ask by which zone clocks change."""
    desk: Desk = window.desk

    def take(words: str) -> None:
        zone = "" if words.strip().casefold() == "none" else words.strip()
        zone_of(zone)
        shop = desk.job.shop
        _changed(desk, "clocks", replace(desk.job, shop=replace(shop, air=replace(shop.air, zone=zone))))

    window.notice.ask(
        "By which zone are clocks put forward? (such as Europe/Lisbon, or none)", take, desk.job.shop.air.zone
    )


SHOP_COMMANDS: tuple[Command, ...] = (
    Command("Shop hours", "09:00 to 18:00, Mon to Fri", ask_hours),
    Command("Days off", "dates", ask_days_off),
    Command("Country and its public holidays", "two letters", ask_country),
    Command("Summer time", "zone", ask_zone),
)
