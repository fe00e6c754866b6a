"""What the shots of a build get wrong before anything is built: pieces that none sees, uses that come too late."""

from __future__ import annotations

from homunculus.core.floor.wear import LEVEL_WORDS, beats, walk
from homunculus.core.plan.build_plan import BuildSheet
from homunculus.core.plan.sheet import Mind
from homunculus.core.showing import show_day


def mind_the_shots(sheet: BuildSheet) -> None:
    """Say which pieces of the ``sheet``'s build no shot sees, and which shots come too late for what they need."""
    context, build = sheet.context, sheet.context.build
    if not context.shots:
        return
    uses = [use for shot in context.shots for use in shot.uses if use.build == build.id]
    if all(use.pieces for use in uses):
        seen = {piece for use in uses for piece in use.pieces}
        for piece in build.pieces:
            if piece.id not in seen:
                sheet.minds.append(Mind("mind", "shot", sheet.subject(piece.id), (f"{piece.name} is in no shot",),
                    (f"{len(context.shots)} shots use {build.called} and none of them this. Leave it out?",), 2.5, "coverage"))  # fmt: skip
    names = {piece.id: piece.name for piece in build.pieces}
    shots = {shot.id: shot for shot in context.shots}
    told: set[str] = set()
    for late in walk(beats(context.shots, (build,)))[0]:
        (owner, piece_id), by = late.item, shots[late.spoiled_by]
        if owner != build.id or late.shot in told:
            continue
        told.add(late.shot)
        same_day = by.day == shots[late.shot].day
        when = "the same day" if same_day else f"on {show_day(by.day)}"
        way_out = "station 7 has an order that does not" if same_day else "move one of them, or plan another copy"
        sheet.minds.append(Mind("danger", "shoot", sheet.subject(piece_id, shot=late.shot),
            (f"Shot {late.shot} comes too late",),
            (f"It finds the {names.get(piece_id, piece_id)} {LEVEL_WORDS[late.level]} by shot {by.id} {when}: {way_out}.",), 5.0))  # fmt: skip
