"""Older job files, step by step to the present schema. A step takes and gives plain decoded JSON."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from homunculus.core.errors import UserError
from homunculus.core.job.job import SCHEMA

Document = dict[str, Any]


def _one_to_two(document: Document) -> Document:
    """Schema 1 kept the shop's two temperatures loose in the shop; 2 gives them hours, as its air."""
    for job in (document["job"], *(pin["job"] for pin in document.get("pins", []))):
        shop = job["shop"]
        if "day_c" in shop or "night_c" in shop:
            shop["air"] = {"day_c": shop.pop("day_c", 21.0), "night_c": shop.pop("night_c", 14.0)}
    return document


def _two_to_three(document: Document) -> Document:
    """Schema 3 knows mixes, rigid moulds and hazard cards; a job of schema 2 has none of them and stays as it is.

    The number is raised so that a program of schema 2 refuses the job rather than losing them at its next save.
    """
    return document


def _three_to_four(document: Document) -> Document:
    """Schema 3 listed the builds of a shot and the copies of a build; 4 knows needs and what figures are for."""
    for job in (document["job"], *(pin["job"] for pin in document.get("pins", []))):
        names = {build["id"]: build["name"] for build in job["builds"]}
        for shot in job.get("shots", []):
            shot["needs"] = [
                {"what": names.get(b, b), "cover": {"type": "build", "build": b}} for b in shot.pop("builds", [])
            ]
        for build in job["builds"]:
            build["wanted"] = {"hero": build.pop("copies", 1)}
    return document


def _four_to_five(document: Document) -> Document:
    """Schema 5 asks for what 4 took for granted; nearly every new field has a beginning of its own.

    Cards of what is baked or gelled had the times of a chemical cure and lack what their own clocks need: they get what the
    library offers, which says that it is from memory.
    """
    memory = "typical, from memory: replace with your data sheet"
    for job in (document["job"], *(pin["job"] for pin in document.get("pins", []))):
        for card in job.get("cards", {}).get("materials", []):
            for field, value in _CLOCKS.get(card["kind"], {}).items():
                card.setdefault(field, {"value": value, "source": memory})
    return document


_CLOCKS: dict[str, dict[str, float]] = {
    "foam latex": {"bake_c": 85.0}, "gelatin": {"pour_c": 60.0, "firm_c": 30.0, "diffusivity_m2_s": 1.4e-7},
    "latex": {"at_thickness_m": 0.002}, "gypsum": {"grain_kg_m3": 2630.0},
}  # fmt: skip


def _five_to_six(document: Document) -> Document:
    """Schema 5 had one list of steps a build, done one after another; 6 gives each piece a route and the build an assembly.

    Each step goes where it belongs and waits for the one before it, so that no date moves: half by half and pieces side by side are
    for the person to decide.
    """
    for job in (document["job"], *(pin["job"] for pin in document.get("pins", []))):
        for build in job["builds"]:
            _route(build, build.pop("steps", []))
    return document


def _route(build: dict[str, Any], steps: list[dict[str, Any]]) -> None:
    """Part the steps of a build among its pieces; what names none belongs to the next piece that is named, else to the assembly."""
    pieces = {piece["id"]: piece for piece in build["pieces"]}
    moulded = {name for name, piece in pieces.items() if piece.get("mould")}
    kept = [s for s in steps if s["type"] in ("hands", "dry") or s.get("piece") in moulded]
    owner, owners = "", []
    for step in reversed(kept):
        owner = step["piece"] if step.get("piece") in pieces else owner
        owners.append(owner)
    before = ""
    for step, owner in zip(kept, reversed(owners), strict=True):
        holder, field = (pieces[owner], "route") if owner else (build, "assembly")
        route = holder.setdefault(field, [])
        op = _operation(step, {o["id"] for o in route})
        if before and before != f"{owner}/{route[-1]['id'] if route else ''}":
            op["after"] = [{"of": before}]
        route.append(op)
        before = f"{owner}/{op['id']}"


def _operation(step: dict[str, Any], taken: set[str]) -> dict[str, Any]:
    kind, name = step["type"], str(step.get("name", ""))
    made: dict[str, Any] = {"type": {"dry": "wait"}.get(kind, kind)}
    stem = (
        {"lay-up": "jacket", "pour": "rubber", "cast": "castings"}.get(kind)
        or "-".join(re.findall(r"\w+", name))[:50]
        or "work"
    )
    made["id"] = next(i for i in (stem, *(f"{stem}-{n}" for n in range(2, len(taken) + 3))) if i not in taken)
    if kind in ("hands", "dry"):
        made["name"] = name
    hour = 3600.0
    if kind == "hands":
        made |= {
            "work_s": step.get("hours", 0.0) * hour,
            "work_s_per_m2": step.get("hours_per_m2", 0.0) * hour if step.get("piece") else 0.0,
        }
    elif kind == "dry":
        made["wait_s"] = step["hours"] * hour
    elif kind == "lay-up":
        made["work_s_per_m2"] = step.get("hours_per_m2", 3.0) * hour
    elif kind == "cast":
        made["work_s"] = step.get("hands_per_casting_h", 0.5) * hour
    elif kind != "pour":
        raise KeyError(kind)
    return made


def _six_to_seven(document: Document) -> Document:
    """Schema 7 knows of what kind a build is; of those of schema 6 nobody has said.

    The number is raised so that a program of schema 6 refuses the job rather than losing it at its next save.
    """
    return document


def _seven_to_eight(document: Document) -> Document:
    """Schema 8 knows builds that were put away, values that nobody decided, forms that were dipped, flotillas taken in passes.

    A job of schema 7 has none of them: all that stands in it counts as decided.
    """
    return document


def _eight_to_nine(document: Document) -> Document:
    """Schema 8 had a closed list of kinds of material, from which others took what it is like; in 9 each card says so itself.

    A camera had one mode and did not name it. A hazard went by kinds, which are families now.
    """
    for job in (document["job"], *(pin["job"] for pin in document.get("pins", []))):
        cards = job.get("cards", {})
        for card in cards.get("materials", []):
            family = card["family"] = card.pop("kind")
            if card.get("clock") is None:
                card["clock"] = _CLOCK_OF.get(family, "chemical")
            if card.get("degassed") is None:
                card["degassed"] = family in ("silicone", "urethane rubber")
            card["traits"], card["bonds_to"] = _TRAITS.get(family, []), _BONDS.get(family, [])
        for camera in cards.get("cameras", []):
            fields = ("rates_fps", "sensor_width_m", "sensor_height_m", "pixels_across")
            camera["modes"] = [{"name": "full width"} | {field: camera.pop(field) for field in fields}]
        for hazard in cards.get("hazards", []):
            hazard["families"] = hazard.pop("kinds")
    return document


_CLOCK_OF = {"foam latex": "baked", "gelatin": "gelled", "latex": "dried", "gypsum": "hydrated", "wax": "gelled"}
_TRAITS = {
    "silicone": ["flexible"], "foam latex": ["flexible"], "latex": ["flexible", "perishable"], "gelatin": ["flexible", "perishable", "melts"],
    "polyurethane foam": ["flexible", "carved"], "urethane rubber": ["flexible"], "alginate": ["flexible", "perishable"],
    "gypsum": ["mineral", "rigid", "porous"], "board": ["timber"], "clay": ["modelled"], "laminate": ["fibre", "rigid"], "wax": ["carved"],
    "resin": ["rigid"], "gel coat": ["rigid"], "sheet": ["thermoplastic"], "stir-in": ["stirred in"],
}  # fmt: skip
_BONDS = {
    "silicone": ["silicone"],
    "urethane rubber": ["urethane rubber", "resin", "polyurethane foam", "laminate", "gypsum", "board"],
    "resin": ["resin", "urethane rubber", "laminate", "gypsum", "board", "polyurethane foam"],
    "polyurethane foam": ["polyurethane foam", "urethane rubber", "resin", "laminate", "gypsum", "board"],
    "laminate": ["laminate", "resin", "urethane rubber", "gypsum", "board"],
    "gypsum": ["gypsum", "board"],
}
"""What others took from the kind of a material before schema 9."""


def _nine_to_ten(document: Document) -> Document:
    """Schema 9 had a camera for each build of a shot, with distances at full size; in 10 a shot is one set.

    It goes by its first build, whose depth and distance it keeps. A build of another scale stands where its own camera had it, and the shot
    says that its builds disagreed until somebody has looked at it.
    """
    for job in (document["job"], *(pin["job"] for pin in document.get("pins", []))):
        builds = {build["id"]: build for build in job.get("builds", [])}
        for shot in job.get("shots", []):
            _one_set(shot, builds)
    return document


def _one_set(shot: Document, builds: dict[str, Document]) -> None:
    """Make one set of what a shot's builds had each."""
    lens, others = shot.pop("lens", None), shot.pop("cameras", [])
    named = ([("", lens)] if lens else []) + [(camera["name"], camera["lens"]) for camera in others]
    near, far = (named[0][1]["near_real_m"], named[0][1].get("far_real_m")) if named else (0.0, None)
    shot["cameras"] = [_set_camera(name, lens) for name, lens in named]
    uses = [(need, need["cover"]) for need in shot.get("needs", []) if (need.get("cover") or {}).get("type") == "build"]
    known = [(need, use) for need, use in uses if use["build"] in builds]
    scales = [_scale_in(use, builds) for _, use in known]
    for need, use in uses:
        at = use.pop("at_real_m", None)
        if (need, use) not in known or (at is None and not named):
            continue
        strange = abs(_scale_in(use, builds) / scales[0] - 1) > 0.01
        if at is None and strange:
            at = 2 * near if far is None else 2 * near * far / (near + far)
        if at is not None:
            need["place"] = {"at_m": at, "looks": True, "soft": not near <= at <= (far or at)}
    if len({round(scale, 6) for scale in scales}) > 1 and (
        named or (shot.get("rule") or {}).get("type", "gravity") == "gravity"
    ):
        whose = list(dict.fromkeys(use["build"] for _, use in known))
        names = " and ".join(builds[name].get("name", name) for name in whose)
        shot["disagreed"] = (
            f"Until now {names} had a camera and a rate each; all of it goes by {builds[whose[0]].get('name', whose[0])} now."
        )


def _scale_in(use: Document, builds: dict[str, Document]) -> float:
    """The scale at which a build stands in a shot, or an insert of it that the shot names alone."""
    build = builds[use["build"]]
    larger = {piece["id"]: piece.get("enlarged", 1.0) for piece in build.get("pieces", [])}
    times = [larger.get(piece, 1.0) for piece in use.get("pieces", [])]
    return float(build["scale"]) / (times[0] if times and all(time != 1 for time in times) else 1.0)


def _set_camera(name: str, lens: Document) -> Document:
    """A camera as schema 10 has it: its depth as it looks at full size."""
    depth = {"near_m": lens.pop("near_real_m"), "far_m": lens.pop("far_real_m", None), "looks": True}
    return lens | {"name": name, "depth": depth}


def _ten_to_eleven(document: Document) -> Document:
    """Schema 10 knew no stage: nothing that it says means anything else, so nothing changes."""
    return document


STEPS: dict[int, Callable[[Document], Document]] = {
    1: _one_to_two,
    2: _two_to_three,
    3: _three_to_four,
    4: _four_to_five,
    5: _five_to_six,
    6: _six_to_seven,
    7: _seven_to_eight,
    8: _eight_to_nine,
    9: _nine_to_ten,
    10: _ten_to_eleven,
}


def migrate(document: object, where: str) -> Document:
    """Bring a decoded job file to the present schema.

    Parameters
    ----------
    document
        As decoded from JSON.
    where
        The file's name, for messages.

    Raises
    ------
    UserError
        When it is no job, or of a newer schema than this program knows.
    """
    if not isinstance(document, dict) or type(document.get("schema")) is not int:
        raise UserError("This is not a job file", where, "Choose a job folder, or take the newest copy from backups")
    schema: int = document["schema"]
    if schema > SCHEMA:
        raise UserError(
            f"This job was saved by a newer version (schema {schema}; this one knows {SCHEMA})", where,
            "Open it with the newer version; nothing was touched",
        )  # fmt: skip
    while schema < SCHEMA:
        if schema not in STEPS:
            raise UserError(f"Schema {schema} is unknown", where, "Take the newest copy from backups")
        try:
            document = STEPS[schema](document)
        except (KeyError, TypeError, AttributeError):
            raise UserError(f"Part of the job is missing (schema {schema})", where,
                            "Take the newest copy from backups") from None  # fmt: skip
        schema += 1
        document["schema"] = schema
    return document
