"""Shot by shot: what the camera runs at and how heavy things look."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.camera import frame_rate
from homunculus.core.camera.strays import STRAYS, stray_words, strays
from homunculus.core.figures import Figure, Given, Phrase, derive, rule
from homunculus.core.job.build import piece_of
from homunculus.core.job.shots import Gravity, ScreenTime, Shot
from homunculus.core.plan.build_plan import BuildPlan, BuildSheet, Context, Headline
from homunculus.core.plan.set_plan import SetPlan, base_scale
from homunculus.core.plan.sheet import Mind


def scale_given(sheet: BuildSheet) -> Given:
    """The decided scale of the ``sheet``'s build as an input."""
    return Given(sheet.context.build.scale, "scale", "scale", sheet.context.build.name, decided=True)


def scale_of_view(context: Context, insert: str) -> Given:
    """The scale at which the ``context``'s build, or one ``insert`` of it (a piece's id), stands before the lens."""
    build = context.build
    if not insert:
        return Given(build.scale, "scale", "scale", build.name, decided=True)
    piece = piece_of(build, insert)
    return Given(build.scale / piece.enlarged, "scale", "scale of the insert", piece.name, decided=True)


def shot_scale(context: Context, shot: Shot) -> Given:
    """The scale by which the frame rate of a ``shot`` goes: that of the ``context``'s build, or of an insert seen alone."""
    build = context.build
    inserts = {piece.id for piece in build.pieces if piece.enlarged != 1}
    named = {piece for use in shot.uses if use.build == build.id for piece in use.pieces or ("",)}
    alone = next(iter(sorted(named))) if named and named <= inserts else ""
    return scale_of_view(context, alone)


def base_given(sheet: BuildSheet) -> Given:
    """The projected rate of the ``sheet``'s job as an input."""
    return Given(sheet.context.shop.base_rate_fps, "rate", "projected rate", "shop")


def plan_shots(sheet: BuildSheet) -> None:
    """Derive how the ``sheet``'s build looks in each of its shots, at the rate that the shot is taken at, and the governing one."""
    context = sheet.context
    base = base_given(sheet)
    for found in context.sets:
        shot = found.shot
        subject, scale, rate = sheet.subject(shot=shot.id), shot_scale(context, shot), found.find(specs.RATE)
        if rate is None or (isinstance(shot.rule, ScreenTime) and rate.number < base.value):
            continue  # by hand, or nothing falls in what is speeded up
        gravity = sheet.add(
            derive(specs.GRAVITY, frame_rate.apparent_gravity, subject, scale=scale, base=base, rate=rate)
        )
        if isinstance(shot.rule, Gravity) and found.base != context.build.id:
            _mind_what_strays(sheet, found, scale, gravity, rate)
    _govern(sheet)


def _mind_what_strays(sheet: BuildSheet, found: SetPlan, scale: Given, gravity: Figure, rate: Figure) -> None:
    """Mind that a build lives with the rate of another whose scale is not its own."""
    base = base_scale(found.context)
    share = strays(scale.value, base.value)
    if 1 / STRAYS <= share <= STRAYS:
        return
    far = share > STRAYS**2 or share < 1 / STRAYS**2
    whose = found.context.base.name if found.context.base else ""
    sheet.minds.append(Mind("danger" if far else "mind", "shot", sheet.subject(shot=found.shot.id),
        (f"Shot {found.shot.id}: it {'falls too fast' if share > 1 else 'floats'}, gravity looks ", gravity),
        (stray_words(scale.value, base.value) + ": ", whose, " decides the rate, ", rate,
         ". Take it in a pass of its own, keep it from falling, or build it at a nearer scale."), 4.0))  # fmt: skip


@rule("the highest of the build's shots", "arithmetic")
def governing_rate(**shots: float) -> float:
    """Highest rate [fps] of all ``shots``."""
    return max(shots.values())


def governing_shot(sheet: BuildSheet) -> Shot | None:
    """The shot of the ``sheet``'s build with the highest frame rate, or none without shots."""
    best, best_rate = None, -1.0
    for shot in sheet.context.shots:
        figure = sheet.find(specs.RATE, shot=shot.id)
        if figure and figure.number > best_rate:
            best, best_rate = shot, figure.number
    return best


def governing_of(made: BuildPlan) -> str:
    """Id of the shot of a build's plan, as it was ``made``, that has the highest frame rate; empty without shots."""
    rates = [f for found in made.sets if (f := found.find(specs.RATE))]
    return max(rates, key=lambda f: f.number).subject.shot if rates else ""


def _govern(sheet: BuildSheet) -> None:
    shots = sheet.context.shots
    shot = governing_shot(sheet)
    if shot is None:
        if shots:  # all of it is animated by hand
            exposures = sheet.find(specs.EXPOSURES, shot=shots[0].id)
            said: Phrase = (f"{shots[0].name} = ", exposures, " exposures") if exposures else (shots[0].name,)
            seconds = Given(shots[0].seconds, "screen_time", "on screen", shots[0].name)
            sheet.headlines.append(Headline("shot", seconds, said))
        return
    rates = {f"shot_{s.id}": figure for s in shots if (figure := sheet.find(specs.RATE, shot=s.id))}
    sheet.add(derive(specs.BUILD_RATE, governing_rate, sheet.subject(), **rates))
    on_set = sheet.find(specs.ON_SET, shot=shot.id)
    note: Phrase = (f"{shot.name} = ", on_set, " of take") if on_set else (shot.name,)
    if len(shots) > 1:
        note = (f"worst of {len(shots)}: shot {shot.id}",)
    sheet.headlines.append(Headline("shot", Given(shot.seconds, "screen_time", "on screen", shot.name), note))
