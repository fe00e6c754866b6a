"""Variants and sign-offs as people type them in one line, and back."""

from __future__ import annotations

import re
from datetime import date

from homunculus.core.errors import UserError
from homunculus.core.job.counts import SIGN_OFFS, SignOff, SignOffKind, Variant
from homunculus.core.quantities import parse, parse_day
from homunculus.core.showing import show_day


def parse_variants(text: str) -> tuple[Variant, ...]:
    """Read variants: “left, right” in equal shares, “perched 60 %, preening 25 %, asleep 15 %”, or nothing for none.

    Raises
    ------
    UserError
        When two have one name, only some have a share, or a share of the ``text`` cannot be read.
    """
    parts = [" ".join(part.split()) for part in text.split(",") if part.strip()]
    found: list[tuple[str, float | None]] = []
    for part in parts:
        match = re.fullmatch(r"(.*?)\s*(\d+(?:[.]\d+)?)\s*%", part)
        found.append((match[1], parse(f"{match[2]} %", "share")) if match and match[1] else (part, None))
    names = [name for name, _ in found]
    if len(set(names)) < len(names):
        raise UserError("Two variants have one name", remedy="Give each its own, such as left, right")
    said = [share for _, share in found if share is not None]
    if said and len(said) < len(found):
        raise UserError("Only some variants have a share", remedy="Give all of them one, or none for equal shares")
    if any(share <= 0 for share in said):
        raise UserError("A share of nought is no variant", remedy="Leave it out")
    return tuple(Variant(name, share if share is not None else round(1 / len(found), 6)) for name, share in found)


def show_variants(variants: tuple[Variant, ...]) -> str:
    """Write ``variants`` as :func:`parse_variants` reads them."""
    return ", ".join(f"{v.name} {v.share * 100:.6g} %" for v in variants)


def parse_signoffs(text: str, known: tuple[SignOff, ...], near: date) -> tuple[SignOff, ...]:
    """Read who has to sign: “design: director; likeness: performer, expected 25 Feb”; nothing for nobody.

    Parameters
    ----------
    text
        As typed.
    known
        As it stands: what is signed already stays signed while the same person signs.
    near
        A day of the same job, for days without a year.

    Raises
    ------
    UserError
        When it names another kind, or one kind twice, or the day cannot be read.
    """
    found: dict[SignOffKind, SignOff] = {}
    for part in (p for p in text.split(";") if p.strip()):
        kind_words, _, rest = part.partition(":")
        kind = next((k for k in SIGN_OFFS if k == kind_words.strip().casefold()), None)
        if kind is None or kind in found:
            raise UserError(f"“{part.strip()}” is no sign-off",
                            remedy="Write design:, likeness: or rights: and who signs, each once")  # fmt: skip
        who, _, expected = rest.partition(", expected ")
        day = parse_day(expected, near) if expected.strip() else None
        before = next((s for s in known if s.kind == kind and s.by == who.strip()), None)
        found[kind] = SignOff(kind, who.strip(), before.at if before else None, day)
    return tuple(found.values())


def show_signoffs(signoffs: tuple[SignOff, ...]) -> str:
    """Write ``signoffs`` as :func:`parse_signoffs` reads them."""
    return "; ".join(
        f"{s.kind}: {s.by}" + (f", expected {show_day(s.expected)}" if s.expected else "") for s in signoffs
    )
