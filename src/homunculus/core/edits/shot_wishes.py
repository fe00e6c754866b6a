"""Lines about a shot's stage, as people write them beside plain edits.

::

    stand 4/iron rail: stands 0.62 m, foot 1.93 m, 2 m wide, 0.06 m high
    stand 4/iron rail: nowhere
    camera 4: prime-32, eye 2.05 m, tilt 2°
    camera 3/B: 60 mm, back 0.4 m
    camera 3/B: none
    action 5: travel tow: of ferry, 6 m/s real, run-up 0.5 m, tie tow eye bears 120 N / 5
    action 5/tow: none
    air 3: sight 800 m, dry ice 12 kg/h for 10 min
    eye 3: 8.6 m
    mark 1: lens stand: A 2.31 m, B 3.02 m, left
    mark 1/lens stand: none
    found 1/lens stand: 2.33 m, 3.02 m by camera
"""

from __future__ import annotations

from msgspec.structs import replace

from homunculus.core.cells.actions import parse_action
from homunculus.core.cells.air import parse_air
from homunculus.core.cells.places import parse_camera, parse_place, phrases
from homunculus.core.cells.stands import parse_found, parse_stand
from homunculus.core.edits.sets import put_camera, put_place, put_shot
from homunculus.core.edits.stage import with_action, with_reading, with_stand, without_stand
from homunculus.core.errors import UserError
from homunculus.core.floor.stands import from_nails
from homunculus.core.job.job import Job
from homunculus.core.job.shots import Shot
from homunculus.core.job.stage import MeasuringCard
from homunculus.core.quantities import System, parse

VERBS = ("stand", "camera", "action", "air", "eye", "mark", "found")
GONE = ("none", "nowhere", "nothing")


def do_shot_wish(job: Job, verb: str, rest: str, system: System = "metric") -> tuple[str, Job]:
    """Do what a line about a shot wishes.

    Parameters
    ----------
    job
        As it is.
    verb
        One of :data:`VERBS`.
    rest
        What stands behind it.
    system
        Units in which it was written.

    Returns
    -------
    tuple
        What was done, in a few words for undo, and the job.

    Raises
    ------
    UserError
        When it cannot be read, or the job has no such shot or thing.
    """
    whose, colon, words = rest.partition(":")
    number, _, name = whose.strip().partition("/")
    shot, name, words = _shot(job, number), name.strip(), words.strip()
    if not colon:
        raise UserError(f"“{verb} {rest}” does not say what", remedy="Write a colon, and what it shall be")
    gone = words.casefold() in GONE
    match verb:
        case "stand":
            new = _stood(shot, name, words, system, gone=gone)
        case "camera":
            new = _filmed(job, shot, name, words, system, gone=gone)
        case "action":
            new = _acted(job, shot, name, words, system, gone=gone)
        case "air":
            new = replace(shot, air=None if gone else parse_air(words, system))
        case "eye":
            new = replace(shot, eye_real_m=None if gone else parse(words, "length", system))
        case _:
            new = _marked(shot, verb, name, words, system, gone=gone)
    return f"{verb} of shot {shot.id}", put_shot(job, new)


def _shot(job: Job, number: str) -> Shot:
    shot = next((s for s in job.shots if s.id == number.strip()), None)
    if shot is None:
        known = ", ".join(s.id for s in job.shots[:12])
        raise UserError(f"There is no shot “{number.strip()}”", remedy=f"Shots are {known}")
    return shot


def _stood(shot: Shot, name: str, words: str, system: System, *, gone: bool) -> Shot:
    index = next((i for i, need in enumerate(shot.needs) if need.what.casefold() == name.casefold()), None)
    if index is None:
        needs = "; ".join(need.what for need in shot.needs)
        raise UserError(f"Shot {shot.id} needs no “{name}”", remedy=f"It needs {needs or 'nothing yet'}")
    return put_place(shot, index, None if gone else parse_place(phrases(words), system))


def _filmed(job: Job, shot: Shot, name: str, words: str, system: System, *, gone: bool) -> Shot:
    known = next((camera for camera in shot.cameras if camera.name == name), None)
    if gone:
        if known is None:
            raise UserError(f"Shot {shot.id} has no camera {name or 'A'}")
        return replace(shot, cameras=tuple(camera for camera in shot.cameras if camera is not known))
    camera = parse_camera(words, system, name)
    card = next((c for c in job.cards.lenses if c.id == camera.lens), None)
    camera = replace(camera, focal_m=card.focal_m.value) if card else camera
    return put_camera(shot, camera) if known else replace(shot, cameras=(*shot.cameras, camera), disagreed="")


def _acted(job: Job, shot: Shot, name: str, words: str, system: System, *, gone: bool) -> Shot:
    index = next((i for i, action in enumerate(shot.actions) if action.name == name), None)
    if name and index is None:
        names = ", ".join(action.name for action in shot.actions)
        raise UserError(
            f"Nothing in shot {shot.id} is called “{name}”", remedy=f"What moves is {names or 'nothing yet'}"
        )
    if gone and index is None:
        raise UserError("It does not say which", remedy=f"Write action {shot.id}/ and its name")
    at = len(shot.actions) if index is None else index
    return with_action(shot, at, None if gone else parse_action(words, job, system))


def _marked(shot: Shot, verb: str, name: str, words: str, system: System, *, gone: bool) -> Shot:
    card = shot.card or MeasuringCard()
    here = [stand.name for stand in card.stands]
    if (verb == "found" or name) and name not in here:
        raise UserError(
            f"Shot {shot.id} has no stand “{name}”", remedy=f"Its stands are {', '.join(here) or 'none yet'}"
        )
    if verb == "found":
        found = parse_found(name, words, system)
        from_nails(card.nails_m, found.from_a_m, found.from_b_m, left=True)
        return replace(shot, card=with_reading(card, found))
    if gone:
        return replace(shot, card=without_stand(card, name))
    stand = parse_stand(words, system)
    from_nails(card.nails_m, stand.from_a_m, stand.from_b_m, left=stand.side == "left")
    if stand.name != name and stand.name in here:
        raise UserError(f"There is a stand {stand.name} already", remedy="Give it another name")
    return replace(shot, card=with_stand(card, stand, name))
