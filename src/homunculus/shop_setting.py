"""The shop's hours, days off, country and clocks from the command line."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from msgspec.structs import replace

from homunculus.core.cells.shop import first_day, hours_words, parse_days_off, parse_hours, with_holidays, years_of
from homunculus.core.schedule.wall_clock import zone_of
from homunculus.store.folder import JobFolder


def set_shop(folder: Path, options: dict[str, str], now: datetime) -> list[str]:
    """Set what the options say, and say how the shop stands.

    Parameters
    ----------
    folder
        The job folder; it must not be open elsewhere.
    options
        ``--hours``, ``--days-off``, ``--country``, ``--zone`` with their words; what is left out stays.
    now
        For the dated copy of the job.

    Raises
    ------
    UserError
        When something cannot be read; nothing is changed then.
    """
    opened = JobFolder(folder, now)
    try:
        job = opened.job
        if "--hours" in options:
            job = replace(job, shop=replace(job.shop, hours=parse_hours(options["--hours"], job.shop.hours)))
        if "--days-off" in options:
            days = parse_days_off(options["--days-off"], first_day(job))
            job = replace(job, shop=replace(job.shop, hours=replace(job.shop.hours, days_off=days)))
        if "--country" in options:
            from homunculus.library.public_holidays import public_holidays  # a calendar: only where one is asked for

            before, years = job.shop.hours.country, years_of(job)
            old = public_holidays(before, years) if before else ()
            country = options["--country"].strip().upper()
            job = with_holidays(job, country, public_holidays(country, years) if country else (), old)
        if "--zone" in options:
            zone_of(options["--zone"])
            job = replace(job, shop=replace(job.shop, air=replace(job.shop.air, zone=options["--zone"])))
        if job != opened.job:
            opened.save(job, opened.pins)
    finally:
        opened.close()
    zone = job.shop.air.zone
    return [hours_words(job.shop.hours), f"clocks change by {zone}" if zone else "clocks do not change"]
