"""Shot by shot: what the camera runs at and how heavy things look."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.camera import frame_rate
from homunculus.core.figures import Figure, Given, Phrase, derive, rule
from homunculus.core.job.build import piece_of
from homunculus.core.job.shots import FixedRate, FrameByFrame, Gravity, ScreenTime, Shot
from homunculus.core.plan.build_plan import BuildPlan, Context, Headline, Sheet


def scale_given(sheet: Sheet) -> Given:
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


def base_given(sheet: Sheet) -> Given:
    """The projected rate of the ``sheet``'s job as an input."""
    return Given(sheet.context.shop.base_rate_fps, "rate", "projected rate", "shop")


def plan_shots(sheet: Sheet) -> None:
    """Derive the frame-rate figures of every shot of the ``sheet``'s build, and the governing one."""
    context = sheet.context
    camera = context.cards.camera(context.shop.camera)
    rates = Given(context.mode.rates_fps, "thing", "rates of the camera", camera.name)
    base = base_given(sheet)
    for shot in context.shots:
        subject, scale = sheet.subject(shot=shot.id), shot_scale(context, shot)
        if isinstance(shot.rule, FrameByFrame):
            _plan_by_hand(sheet, shot, shot.rule.hold)
            continue
        wanted = _wanted(sheet, shot, shot.rule, scale, base)
        rate = sheet.add(derive(specs.RATE, frame_rate.nearest_rate, subject, wanted=wanted, rates=rates))
        if not (isinstance(shot.rule, ScreenTime) and rate.number < base.value):  # nothing falls in what is speeded up
            sheet.add(derive(specs.GRAVITY, frame_rate.apparent_gravity, subject, scale=scale, base=base, rate=rate))
        sheet.add(derive(specs.STRETCH, frame_rate.time_stretch, subject, rate=rate, base=base))
        seconds = Given(shot.seconds, "screen_time", "on screen", shot.name)
        sheet.add(
            derive(
                specs.ON_SET,
                frame_rate.time_on_set,
                subject,
                screen=seconds,
                base=base,
                rate=rate,
                **_passes(sheet, shot),
            )
        )
    _govern(sheet)


def _plan_by_hand(sheet: Sheet, shot: Shot, hold: int) -> None:
    seconds = Given(shot.seconds, "screen_time", "on screen", shot.name)
    held = Given(hold, "count", "frames an exposure is held", shot.name, decided=True)
    base, subject = base_given(sheet), sheet.subject(shot=shot.id)
    sheet.add(
        derive(
            specs.EXPOSURES,
            frame_rate.exposure_count,
            subject,
            screen=seconds,
            base=base,
            hold=held,
            **_passes(sheet, shot),
        )
    )


def _passes(sheet: Sheet, shot: Shot) -> dict[str, Given]:
    """In how many passes a shot takes the build, as an input; nothing for one."""
    most = max((use.passes for use in shot.uses if use.build == sheet.context.build.id), default=1)
    return {"passes": Given(most, "count", "passes", shot.name, decided=True)} if most > 1 else {}


def _wanted(
    sheet: Sheet, shot: Shot, rule: Gravity | ScreenTime | FixedRate, scale: Given, base: Given
) -> Figure | Given:
    subject = sheet.subject(shot=shot.id)
    match rule:
        case Gravity(faster=faster):
            factor = Given(faster, "factor", "faster than gravity", shot.name, decided=True)
            return sheet.add(
                derive(specs.RATE_WANTED, frame_rate.gravity_rate, subject, scale=scale, base=base, faster=factor)
            )
        case ScreenTime(event_s=event):
            return sheet.add(derive(
                specs.RATE_WANTED, frame_rate.screen_time_rate, subject, base=base,
                screen=Given(shot.seconds, "screen_time", "on screen", shot.name),
                event=Given(event, "duration", "the event takes", shot.name),
            ))  # fmt: skip
        case FixedRate(rate_fps=rate):
            return Given(rate, "rate", "chosen rate", shot.name, decided=True)


@rule("the highest of the build's shots", "arithmetic")
def governing_rate(**shots: float) -> float:
    """Highest rate [fps] of all ``shots``."""
    return max(shots.values())


def governing_shot(sheet: Sheet) -> Shot | None:
    """The shot of the ``sheet``'s build with the highest frame rate, or none without shots."""
    best, best_rate = None, -1.0
    for shot in sheet.context.shots:
        figure = sheet.find(specs.RATE, shot=shot.id)
        if figure and figure.number > best_rate:
            best, best_rate = shot, figure.number
    return best


def governing_of(made: BuildPlan) -> str:
    """Id of the shot of a build's plan, as it was ``made``, that has the highest frame rate; empty without shots."""
    rates = [f for f in made.figures if f.spec is specs.RATE]
    return max(rates, key=lambda f: f.number).subject.shot if rates else ""


def _govern(sheet: Sheet) -> None:
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
