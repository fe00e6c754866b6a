"""The size of the build and what follows from it at once: height, weight, water, speeds, bought parts."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.camera import frame_rate
from homunculus.core.camera.stand import at_scale
from homunculus.core.constructions.register import construction_of
from homunculus.core.figures import Figure, Given, Outcome, Phrase, derive, rule
from homunculus.core.form.measure import Measure, measure
from homunculus.core.job.build import Intercut, Piece
from homunculus.core.job.forms import Mesh
from homunculus.core.plan.build_plan import BuildSheet, Headline
from homunculus.core.plan.facts import Want
from homunculus.core.plan.sheet import Mind
from homunculus.core.planners.poured import dry_density
from homunculus.core.planners.shots import base_given, scale_given

PERSON_M = 1.75


@rule("real extent of all pieces / S", "geometry")
def extent(*, low: float, high: float, scale: float) -> float:
    """Model size [m] of what reaches from ``low`` to ``high`` [real m] at a ``scale``."""
    return (high - low) / scale


@rule("as built / (real / S) − 1", "definition of scale")
def intercut_error(*, real: float, built: float, scale: float) -> float:
    """How much too large [share] something ``built`` [m] is for the ``real`` size [m] at a ``scale``."""
    return built / (real / scale) - 1


@rule("sum over pieces: copies × volume of the wall × density", "the form's curve V(t); the material's card")
def build_weight(*, pieces: tuple[tuple[Measure, float, int, float], ...], scale: float) -> Outcome:
    """Mass [kg] of the ``pieces`` (real measure, wall [m], copies, density [kg/m³]) at a ``scale``.

    A wall keeps its thickness when the scale changes; a solid piece goes with the cube.
    """
    total = 0.0
    for form, wall, copies, density in pieces:
        volume = form.shell.inward(wall * scale) if wall else form.volume
        total += copies * volume / scale**3 * density
    return Outcome(total)


def form_of(sheet: BuildSheet, piece: Piece) -> Measure | None:
    """Measure a ``piece`` of the ``sheet``'s build at real size; where its mesh has not been studied, note the want and return none."""
    known = sheet.forms.get(piece.id)
    if known is not None:
        return known
    found = measure(piece.form, sheet.context.facts)
    if found is None and isinstance(piece.form, Mesh):
        sheet.wants.append(Want("study", piece.form.content, piece.form.file_name))
    if found is None:
        return None
    sheet.forms[piece.id] = found = found.scaled(piece.drawn_at * piece.enlarged)
    return found


def weighed_pieces(sheet: BuildSheet) -> tuple[tuple[Measure, float, int, float], ...] | None:
    """Real measure, wall, copies and density of all pieces of the ``sheet``; none while a study is missing."""
    rows = []
    forms = [form_of(sheet, piece) for piece in sheet.context.build.pieces]  # all, so that every want is noted
    for piece, form in zip(sheet.context.build.pieces, forms, strict=True):
        if form is None:
            return None
        density = dry_density(sheet.context, sheet.context.cards.material(piece.material)) if piece.material else 0.0
        rows.append((form, wall_of(piece), on_the_figure(piece), density))
    return tuple(rows)


def wall_of(piece: Piece) -> float:
    """Wall of a ``piece`` as built [m]: the gap where it is cast over a core; 0 for a solid one."""
    gap = construction_of(piece.mould).gap_m(piece.mould) if piece.mould else 0.0
    return gap or piece.wall_m or 0.0


def on_the_figure(piece: Piece) -> int:
    """How many of a ``piece`` hang on one figure: of an insert none, of a library those that are worn at once."""
    return 0 if piece.enlarged != 1 else piece.copies if piece.worn is None else min(piece.worn, piece.copies)


def real_extent(sheet: BuildSheet) -> tuple[tuple[float, float], tuple[float, float]] | None:
    """Low and high of the ``sheet``'s whole build along and up [real m]; none while a mesh study is missing."""
    xs: list[float] = []
    zs: list[float] = []
    for piece in sheet.context.build.pieces:
        if piece.enlarged != 1:
            continue
        form = form_of(sheet, piece)
        if form is None:
            return None
        half, (along, up) = form.size[0] / 2, piece.at_m
        xs += (along - half, along + half)
        zs += (up, up + form.size[2])
    return ((min(xs), max(xs)), (min(zs), max(zs))) if xs else None


def plan_scale(sheet: BuildSheet) -> None:
    """Derive the figures that follow from the scale of the ``sheet``'s build."""
    build, scale = sheet.context.build, scale_given(sheet)
    subject = sheet.subject()
    reach = real_extent(sheet)
    height: Figure | None = None
    if reach:
        (left, right), (low, high) = reach
        height = sheet.add(derive(specs.HEIGHT, extent, subject, scale=scale,
            low=Given(low, "length", "real foot", build.name), high=Given(high, "length", "real top", build.name)))  # fmt: skip
        sheet.add(derive(specs.LENGTH, extent, subject, scale=scale,
            low=Given(left, "length", "real left end", build.name),
            high=Given(right, "length", "real right end", build.name)))  # fmt: skip
        deepest = max(
            form.size[1] for piece in build.pieces if piece.enlarged == 1 and (form := sheet.forms.get(piece.id))
        )
        sheet.add(
            derive(
                specs.DEPTH,
                at_scale,
                subject,
                real=Given(deepest, "length", "deepest piece, real", build.name),
                scale=scale,
            )
        )
    pieces = weighed_pieces(sheet)
    if pieces is not None:
        listed = Given(pieces, "thing", f"{len(pieces)} pieces with their walls and densities", build.name)
        sheet.add(derive(specs.WEIGHT, build_weight, subject, pieces=listed, scale=scale))
    person = Given(PERSON_M, "length", "a person", "common practice, no source")
    sheet.add(derive(specs.PERSON, at_scale, subject, real=person, scale=scale))
    if build.water:
        wave = Given(build.water.wave_m, "length", "wave, real", build.name)
        sheet.add(derive(specs.WAVE, at_scale, subject, real=wave, scale=scale))
        sheet.add(derive(specs.DROP, frame_rate.drop_reads_as, subject, scale=scale))
    if build.intercut:
        _plan_intercut(sheet, build.intercut, scale)
    if build.bought_parts:
        sheet.add(derive(specs.BOUGHT, frame_rate.bought_part_error, subject, scale=scale))
    inserts = [p for p in build.pieces if p.enlarged != 1]
    note: Phrase = (height, " tall") if height else ("waiting for its mesh" if sheet.wants else "no piece yet",)
    if inserts:
        piece = inserts[0]
        note = (
            f"{piece.name} ",
            Given(build.scale / piece.enlarged, "scale", "insert"),
            f", {_percent(piece.enlarged)}",
        )
    sheet.headlines.append(Headline("scale", scale, note))


def plan_speeds(sheet: BuildSheet) -> None:
    """Derive how fast what moves of the ``sheet``'s build goes on set, in each shot in which it does."""
    build, scale = sheet.context.build, scale_given(sheet)
    for move in build.moves:
        real = Given(move.real_m_s, "speed", "real speed", move.name)
        for shot in sheet.context.shots:
            rate = sheet.find(specs.RATE, shot=shot.id)
            if rate and (shot.id in move.shots or not move.shots):
                sheet.add(derive(specs.SPEED, frame_rate.model_speed, sheet.subject(shot=shot.id, move=move.name),
                                 real=real, scale=scale, rate=rate, base=base_given(sheet)))  # fmt: skip


def _plan_intercut(sheet: BuildSheet, intercut: Intercut, scale: Given) -> None:
    error = sheet.add(derive(specs.INTERCUT, intercut_error, sheet.subject(), scale=scale,
        real=Given(intercut.real_m, "length", f"{intercut.what}, real", "decided"),
        built=Given(intercut.built_m, "length", f"{intercut.what}, as built", "tape measure")))  # fmt: skip
    if abs(error.number) > 0.02:
        must = Given(intercut.real_m * 1.0 / sheet.context.build.scale, "length", "must be")
        sheet.minds.append(Mind("danger" if abs(error.number) > 0.05 else "mind", "scale", sheet.subject(),
            ("The double will not cut: ", error), (f"{intercut.what} must be ", must, " at this scale and was built ",
             Given(intercut.built_m, "length", "built"), ". Alter it, or change the scale."), 8.0))  # fmt: skip


def _percent(share: float) -> str:
    return f"{share * 100:.3g} %"
