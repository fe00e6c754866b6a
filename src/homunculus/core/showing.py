"""Values shown as people say them: rounded, in the chosen system of units, number and unit apart."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from datetime import date, datetime, time
from functools import lru_cache
from typing import NamedTuple

from homunculus.core.quantities import GALLON, INCH, NBSP, POUND, Kind, System, Value


class Shown(NamedTuple):
    """A value as it is shown: the number and, set smaller, its unit."""

    number: str
    unit: str

    def __str__(self) -> str:
        return f"{self.number}{NBSP}{self.unit}" if self.unit else self.number


@lru_cache(8192)  # one figure stands on several screens, and most stay as they were while one value is pulled
def significant(value: float, digits: int = 3) -> str:
    """Write a number to so many significant figures, without an exponent.

    Parameters
    ----------
    value
        Any finite number.
    digits
        Significant figures; whole numbers beyond them are still written whole.

    Returns
    -------
    str
        With a true minus sign where it is negative.
    """
    if value == 0 or not math.isfinite(value):
        return "0" if value == 0 else ("∞" if value > 0 else "−∞")
    places = digits - 1 - math.floor(math.log10(abs(value)))
    rounded = round(value, places)
    if rounded and digits - 1 - math.floor(math.log10(abs(rounded))) < places:
        places -= 1
    return plain(f"{rounded:.{max(places, 0)}f}".replace("-", "−"))


def plain(number: str) -> str:
    """Write a ``number`` with three places so that nobody reads thousands: ``1.234`` could be either, ``1.2340`` cannot."""
    thousands = number[-4:-3] == "." and re.fullmatch(r"−?[1-9]\d{0,2}\.\d{3}", number)
    return number + "0" if thousands else number


def show_inches(inches: float) -> str:
    """Write inches to the nearest 1/32, as ``10 1/2`` or ``3/8``; under 1/64 to the thousandth.

    Parameters
    ----------
    inches
        Length in inches, not negative.

    Returns
    -------
    str
        Without the unit.
    """
    thirty_seconds = round(inches * 32)
    if thirty_seconds == 0:
        return f"{inches:.3f}" if inches else "0"
    whole, rest = divmod(thirty_seconds, 32)
    if rest == 0:
        return str(whole)
    common = math.gcd(rest, 32)
    fraction = f"{rest // common}/{32 // common}"
    return f"{whole} {fraction}" if whole else fraction


_INCH_STEPS = (12.0, 1.0, 1 / 2, 1 / 4, 1 / 8, 1 / 16)
"""To what lengths are rounded in feet and inches where a thirty-second would say more than is known: half of the last metric digit, or finer."""


def _show_length(value: float, system: System, digits: int) -> Shown:
    size = abs(value)
    if math.isinf(size):
        return Shown("∞", "")
    if system == "imperial":
        sign = "−" if value < 0 else ""
        inches = size / INCH
        step = next((one for one in _INCH_STEPS if one <= 4 * inches * 10.0**-digits), 0.0)
        inches = round(inches / step) * step if step else inches
        if round(inches * 32) >= 36 * 32:
            feet, rest = divmod(round(inches * 32), 12 * 32)
            tail = f" {show_inches(rest / 32)}″" if rest else ""
            return Shown(f"{sign}{feet}′{tail}".replace("′", "'").replace("″", '"'), "")
        return Shown(sign + show_inches(inches), "in")
    if size >= 1000:
        return Shown(significant(value / 1000, digits), "km")
    if size >= 0.9995:
        return Shown(significant(value, digits), "m")
    return Shown(significant(value * 1000, digits), "mm")


def _show_mass(value: float, system: System, digits: int) -> Shown:
    if system == "imperial":
        ounces = abs(value) / (POUND / 16)
        if ounces >= 16:
            pounds, rest = divmod(round(ounces), 16)
            if pounds >= 20:
                return Shown(significant(value / POUND, digits), "lb")
            return Shown(f"{pounds} lb {rest}" if rest else str(pounds), "oz" if rest else "lb")
        return Shown(significant(ounces, digits), "oz")
    if abs(value) >= 0.9995:
        return Shown(significant(value, digits), "kg")
    return Shown(significant(value * 1000, digits), "g")


def _show_volume(value: float, system: System, digits: int) -> Shown:
    if system == "imperial":
        if abs(value) >= GALLON:
            return Shown(significant(value / GALLON, digits), "gal")
        return Shown(significant(value / (GALLON / 128), digits), "fl oz")
    if abs(value) >= 0.9995:
        return Shown(significant(value, digits), "m³")
    if abs(value) >= 0.9995e-3:
        return Shown(significant(value * 1e3, digits), "L")
    return Shown(significant(value * 1e6, digits), "mL")


def _show_duration(value: float, digits: int) -> Shown:
    if math.isinf(value):
        return Shown("∞", "")
    if 0 < abs(value) < 0.09995:
        return Shown(significant(value * 1000, digits), "ms")
    if abs(value) < 59.5:
        return Shown(significant(value, digits), "s")
    if abs(value) < 3570:
        return Shown(significant(value / 60, digits), "min")
    if abs(value) < 240 * 3600:
        return Shown(significant(value / 3600, digits), "h")
    return Shown(significant(value / 86400, digits), "d")


@lru_cache(1024)
def show_scale(denominator: float) -> str:
    """Write a scale as people say it: 1:12, 1:6.6, 5:8, 2.5:1.

    Parameters
    ----------
    denominator
        S, real length over model length.

    Returns
    -------
    str
        Exact where the number is a common ratio, else to three significant figures.
    """
    if denominator >= 1:
        for model in range(1, 10):
            real = denominator * model
            if abs(real - round(real)) < 1e-9 and (model == 1 or (real < 9 and model < 6)) and denominator < 1000:
                return f"{model}:{round(real)}"
        return f"1:{significant(denominator, 3).rstrip('0').rstrip('.') if denominator < 100 else round(denominator)}"
    return f"{significant(1 / denominator, 3).rstrip('0').rstrip('.') if 1 / denominator < 100 else round(1 / denominator)}:1"


def show_run(low: float, high: float) -> str:
    """Write a run of scales, its ends rounded inward: ``1:6.6 to 1:16``.

    Parameters
    ----------
    low, high
        Denominators.
    """
    if low >= 1:
        low, high = math.ceil(low * 10 - 1e-6) / 10, math.floor(high * 10 + 1e-6) / 10
    return f"{show_scale(low)} to {show_scale(high)}"


_DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
_MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


def show_day(day: date) -> str:
    """Write a date as ``Tue 17 Mar``.

    Parameters
    ----------
    day
        A date or datetime.

    Returns
    -------
    str
        In English, whatever the locale: files and screens must agree.
    """
    return f"{_DAYS[day.weekday()]} {day.day} {_MONTHS[day.month - 1]}"


_LONG_DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
_LONG_MONTHS = ("January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November",
                "December")  # fmt: skip


def show_long_day(day: date) -> str:
    """Write a ``day`` as ``Tuesday 17 March``, in English whatever the machine's language."""
    return f"{_LONG_DAYS[day.weekday()]} {day.day} {_LONG_MONTHS[day.month - 1]}"


def so_many(count: int, thing: str) -> str:
    """A ``count`` of a ``thing`` whose plural ends in s: “1 row”, “3 rows”."""
    return f"{count} {thing}{'' if count == 1 else 's'}"


def show_number(value: float) -> str:
    """Write a ``value`` as exactly as people need it, so that it reads back as one number: for cells and lines that are typed."""
    words = f"{value:.10g}"
    return plain(
        f"{value:.16f}".rstrip("0").rstrip(".") if "e-" in words else f"{value:.0f}" if "e" in words else words
    )


def show_times(factor: float) -> str:
    """Write how many times larger something is drawn, by its ``factor``: ``×0.69``, ``×8``, ``×530``."""
    return f"×{significant(factor, 2).removesuffix('.0')}"


def show_moment(moment: datetime) -> str:
    """Write a moment as ``Wed 25 Feb 13:04``.

    Parameters
    ----------
    moment
        A naive local time.

    Returns
    -------
    str
        Day and 24-hour clock.
    """
    return f"{show_day(moment)} {show_clock(moment)}"


def show_clock(moment: datetime | time) -> str:
    """Write the hour of a ``moment`` as ``13:04``; seconds are left out."""
    return f"{moment.hour:02}:{moment.minute:02}"


def trimmed(shown: Shown) -> Shown:
    """Leave out noughts after the point that carry nothing: what a person gave is shown as it was given.

    Parameters
    ----------
    shown
        Number and unit.
    """
    number = shown.number
    if "." in number and number.replace(".", "").replace("−", "").isdigit():
        number = plain(number.rstrip("0").rstrip("."))
    return Shown(number, shown.unit)


def show_given(value: Value, kind: Kind, system: System = "metric", currency: str = "€") -> Shown:
    """Show a ``value`` of a ``kind`` that somebody gave, in a ``system`` of units and a ``currency``: finer than a reckoned one, without empty noughts."""
    return trimmed(show(value, kind, system, 4, currency))


def show(value: Value, kind: Kind, system: System = "metric", digits: int = 3, currency: str = "€") -> Shown:
    """Show a value of a kind in the chosen system of units.

    Parameters
    ----------
    value
        In the base unit of its kind.
    kind
        Which kind of quantity it is.
    system
        ``metric`` or ``imperial``.
    digits
        Significant figures where the kind has no exact form.
    currency
        Sign for money.

    Returns
    -------
    Shown
        Number and unit apart, so that the unit can be set smaller.
    """
    if isinstance(value, datetime):
        return Shown(show_moment(value), "")
    if isinstance(value, date):
        return Shown(show_day(value), "")
    if isinstance(value, str):
        return Shown(value, "")
    match kind:
        case "length":
            return _show_length(value, system, digits)
        case "focal_length":
            return Shown(significant(value * 1000, digits), "mm")
        case "mass":
            return _show_mass(value, system, digits)
        case "volume":
            return _show_volume(value, system, digits)
        case "duration":
            return _show_duration(value, digits)
        case "scale":
            return Shown(show_scale(value), "")
        case "count":
            return Shown(str(round(value)).replace("-", "−"), "")
        case "share":
            return Shown(significant(value * 100, digits), "%")
        case "temperature":
            if system == "imperial":
                return Shown(f"{value * 1.8 + 32:.0f}".replace("-", "−"), "°F")
            return Shown(f"{value:.1f}".removesuffix(".0").replace("-", "−"), "°C")
        case "money":
            return Shown(f"{currency}{NBSP}{value:.2f}" if abs(value) < 100 else f"{currency}{NBSP}{value:.0f}", "")
        case "rate":
            return trimmed(Shown(significant(value, digits), "fps"))
        case "stop":
            return Shown(f"f/{significant(value, 2)}", "")
        case "shop_days":
            return Shown(f"{value:+.1f}".replace("-", "−").replace("+0.0", "0.0").replace("−0.0", "0.0"), "d")
        case "angle":
            return Shown(significant(math.degrees(value), digits), "°")
    return _show_simple(value, kind, system, digits)


def _area_unit(value: float, *, imperial: bool) -> tuple[float, str]:
    """The unit of an area; sections of wire are told in square millimetres everywhere."""
    return (144 * INCH**2, "ft²") if imperial else (1.0, "m²") if value >= 0.01 else (1e-4, "cm²")


def _show_simple(value: float, kind: Kind, system: System, digits: int) -> Shown:
    """Kinds with one unit a system: (factor to divide by, unit)."""
    imperial = system == "imperial"
    factor, unit = {
        "area": (1e-6, "mm²") if value < 1e-5 else _area_unit(value, imperial=imperial),
        "density": (1.0, "kg/m³") if abs(value) >= 0.9995 or not value else (1e-3, "g/m³"),
        "areal_density": (1.0, "kg/m²") if value >= 0.9995 else (1e-3, "g/m²"),
        "parts": (1.0, "parts"),
        "screen_time": (1.0, "s"),
        "speed": (12 * INCH, "ft/s") if imperial else (1.0, "m/s") if abs(value) >= 0.1 else (1e-3, "mm/s"),
        "rate": (1.0, "fps"),
        "factor": (1.0, "×"),
        "illuminance": (1 / (12 * INCH) ** 2, "fc") if imperial else (1.0, "lx"),
        "stops": (1.0, "stops"),
        "voltage": (1.0, "V"),
        "current": (1.0, "A") if abs(value) >= 0.9995 or not value else (1e-3, "mA"),
        "power": (1e3, "kW") if abs(value) >= 999.5 else (1.0, "W"),
        "efficacy": (1.0, "lm/W"),
        "luminance": (1.0, "cd/m²"),
        "luminous_flux": (1.0, "lm"),
        "energy_per_mole": (1e3, "kJ/mol"),
        "line_force": (POUND * 9.80665 / INCH, "ppi") if imperial else (1e3, "kN/m"),
        "diffusivity": (1e-6, "mm²/s"),
        "force": (POUND * 9.80665, "lbf") if imperial else (1e3, "kN") if abs(value) >= 999.5 else (1.0, "N"),
        "acceleration": (12 * INCH, "ft/s²") if imperial else (1.0, "m/s²"),
        "mass_flow": (POUND / 16 / 60, "oz/min") if imperial else (1e-3 / 60, "g/min"),
        "money_per_mass": (1.0, "a kg"),
        "pixels": (1.0, "px"),
        "acceleration_share": (1.0, "g"),
        "text": (1.0, ""),
        "thing": (1.0, ""),
    }[kind]
    return Shown(significant(value / factor, digits), unit)


def show_at_the_scale(mass: float, step: float, system: System) -> Shown:
    """Show a ``mass`` [kg] as finely as a scale with that ``step`` [kg] resolves it, in grams or ounces of the ``system``."""
    if system == "imperial":
        return Shown(f"{mass / (POUND / 16):.2f}".replace("-", "−"), "oz")
    decimals = max(0, len(f"{step * 1000:g}".partition(".")[2]))
    return Shown(f"{mass * 1000 + 0.0:.{decimals}f}".replace("-", "−"), "g")


def show_exposure(seconds: float) -> str:
    """Show how long a frame is exposed as cameras say it, as 1/168 s, from ``seconds``; a quarter of a second and longer as it is."""
    return f"1/{round(1 / seconds)} s" if seconds < 0.25 else f"{significant(seconds)} s"


def show_countdown(seconds: float) -> str:
    """Show ``seconds`` as minutes and seconds, as 4:05."""
    return f"{int(seconds // 60)}:{int(seconds % 60):02d}"


def stacked(volumes: Sequence[float], system: System) -> tuple[tuple[int, ...], int, str]:
    """Whole numbers for ``volumes`` [m³] that are stacked on each other, their sum as shown, and the unit of the ``system``."""
    unit, name = (1e-6, "mL") if system == "metric" else (GALLON / 128, "fl oz")
    shown = tuple(round(volume / unit) for volume in volumes)
    return shown, sum(shown), name


def bar_lengths(system: System) -> tuple[float, ...]:
    """Lengths [m] that a scale bar may have in a ``system``: round ones, the shortest first."""
    if system == "metric":
        return (0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0)
    return tuple(inches * INCH for inches in (0.25, 0.5, 1, 2, 4, 6, 12, 24, 48))
