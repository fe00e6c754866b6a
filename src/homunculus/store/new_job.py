"""A new job: nothing in it but its name, the shop's country, clocks and rate, a camera and the cautions; materials come as they are used."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from msgspec.structs import replace

from homunculus import library
from homunculus.core.cells.shop import with_holidays
from homunculus.core.edits.begun import with_shop_begun
from homunculus.core.edits.decisions import bounds
from homunculus.core.edits.edit import Add, apply
from homunculus.core.edits.lines import do, said
from homunculus.core.errors import UserError
from homunculus.core.job.job import Job
from homunculus.core.job.shop import Shop
from homunculus.core.schedule.wall_clock import zone_of
from homunculus.store.folder import create


def new_job(
    folder: Path, name: str, now: datetime, *, country: str = "", zone: str = "", base_rate_fps: float = 24.0
) -> Path:
    """Make a job with nothing in it but a camera and the cautions.

    Parameters
    ----------
    folder
        New or empty.
    name
        Of the job.
    now
        For which years public holidays are written.
    country
        Whose public holidays the shop keeps, by its two letters; none where empty.
    zone
        By which its clocks are put forward; not at all where empty.
    base_rate_fps
        Frame rate of the show.

    Returns
    -------
    Path
        The folder.

    Raises
    ------
    UserError
        When the folder is not empty or cannot be written, or a value cannot be.
    """
    name = " ".join(name.split())
    if not name:
        raise UserError("The new job has no name", remedy="Write one")
    low, high = bounds(Shop, "base_rate_fps")
    if not low <= base_rate_fps <= high:
        raise UserError(f"{base_rate_fps:g} frames a second is no rate", remedy="Write one such as 24 or 25")
    if zone:
        zone_of(zone)
    camera = tuple(card for card in library.cameras() if card.id in library.new_job_lines())
    cards = (("cameras", camera), ("hazards", library.hazards()))
    job = Job("a job", Shop(), ())
    for shelf, offered in cards:
        for card in offered:
            job = apply(job, Add(("cards", shelf), len(getattr(job.cards, shelf)), card))
    for _, line in said(library.new_job_lines().replace("@name", name)):
        job = do(job, line)[1]
    job = replace(job, shop=replace(job.shop, base_rate_fps=float(base_rate_fps), air=replace(job.shop.air, zone=zone)))
    if country.strip():
        from homunculus.library.public_holidays import public_holidays  # a calendar: only where one is asked for

        code, years = country.strip().upper(), (now.year, now.year + 1)
        job = with_holidays(job, code, public_holidays(code, years), ())
    create(folder, with_shop_begun(job, frozenset({"shop.base_rate_fps"})))
    return folder
