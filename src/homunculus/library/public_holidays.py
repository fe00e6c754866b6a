"""Public holidays by country, from a kept calendar library: asked once, when a country is chosen, never at a start."""

from __future__ import annotations

from datetime import date

from homunculus.core.errors import UserError


def public_holidays(country: str, years: tuple[int, ...]) -> tuple[date, ...]:
    """List the public holidays of a country.

    Parameters
    ----------
    country
        ISO 3166 code of two letters, such as PT.
    years
        Which years.

    Raises
    ------
    UserError
        When no such country is known.
    """
    import holidays  # a calendar of the world: only where a country is chosen

    code = country.strip().upper()
    if code not in holidays.list_supported_countries():
        raise UserError(
            f"“{country}” is no country whose holidays are known", remedy="Type its two letters, such as PT or DE"
        )
    return tuple(sorted(holidays.country_holidays(code, years=list(years))))
