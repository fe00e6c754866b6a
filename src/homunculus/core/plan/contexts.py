"""What each build's figures may depend on: its own data, its shots, the shop, and of cards and facts only what it uses."""

from __future__ import annotations

from msgspec.structs import replace

from homunculus.core.job.build import Build, materials_of, mixes_of
from homunculus.core.job.cards import Cards
from homunculus.core.job.forms import Mesh
from homunculus.core.job.job import Job
from homunculus.core.job.shop import Shop
from homunculus.core.job.shots import Shot, in_order
from homunculus.core.plan.build_plan import Context
from homunculus.core.plan.facts import Facts
from homunculus.core.plan.memory import Memory
from homunculus.core.plan.set_plan import InSet, SetContext, SetPlan
from homunculus.core.planners.sets import plan_focus, plan_set


def shots_by_build(shots: tuple[Shot, ...]) -> dict[str, tuple[Shot, ...]]:
    """Return the shots of every build, where ``shots`` are all of them in the order in which they are taken."""
    found: dict[str, list[Shot]] = {}
    for shot in shots:
        for build_id in shot.builds:
            found.setdefault(build_id, []).append(shot)
    return {build_id: tuple(shots) for build_id, shots in found.items()}


def ordered_shots(job: Job, memory: Memory) -> tuple[Shot, ...]:
    """The shots of a ``job`` in the order in which they are taken, kept in ``memory``."""
    return memory.get("shots in order", (job.shots,), lambda: in_order(job.shots))


def used_cards(build: Build, shop: Shop, cards: Cards) -> Cards:
    """Of all ``cards`` those that a ``build`` in this ``shop`` uses: what it is made, moulded and mixed of, and the camera.

    Hazards are none of it: no figure depends on them.
    """
    names = set(materials_of(build))
    stirred = {
        (a.card or a.name).casefold() for piece in build.pieces for mix in mixes_of(piece) for a in mix.additives
    }
    materials = tuple(
        card
        for card in cards.materials
        if card.id in names or (card.stirred_in and stirred & {card.id.casefold(), card.name.casefold()})
    )
    return Cards(materials, tuple(camera for camera in cards.cameras if camera.id == shop.camera))


class _Sets:
    """The sets of all shots as they were last made, of which builds: where one build moved only those are made in which it stands."""

    def __init__(self) -> None:
        self.cast: dict[str, InSet] = {}
        self.made: dict[str, SetPlan] = {}


def sets(job: Job, memory: Memory) -> dict[str, SetPlan]:
    """The plans of the sets of all shots of a ``job`` by their ids, each kept in ``memory`` while it is made of the same objects."""
    cast = dict(
        zip((b.id for b in job.cast), memory.each("in sets", job.cast, lambda b: in_set(b, memory)), strict=True)
    )
    cards, ordered = job.cards, ordered_shots(job, memory)

    def make() -> dict[str, SetPlan]:
        last = memory.get("last sets", (ordered, job.shop, cards.cameras, cards.lenses), _Sets)
        shots = ordered
        if last.made:
            by_build = _by_build(ordered, memory)
            moved = [b for b in {**last.cast, **cast} if last.cast.get(b) is not cast.get(b)]
            shots = tuple({shot.id: shot for b in moved for shot in by_build.get(b, ())}.values())
        last.cast, last.made = cast, {**last.made, **{shot.id: _set(job, shot, cast, memory) for shot in shots}}
        return last.made

    return memory.get("sets", (ordered, job.shop, cards.cameras, cards.lenses, *cast.values()), make)


def in_set(build: Build, memory: Memory) -> InSet:
    """What sets have to know of a ``build``: the same object in ``memory`` while it says the same, whatever else is edited."""
    last = memory.get(("last in sets", build.id), (), list[InSet])

    def make() -> InSet:
        inserts = tuple((p.id, p.name, p.enlarged) for p in build.pieces if p.enlarged != 1)
        made = InSet(build.id, build.name, build.scale, inserts, build.follows, build.stands_m)
        if last != [made]:
            last[:] = [made]
        return last[0]

    inputs = (build.name, build.scale, build.pieces, build.follows, build.stands_m)
    return memory.get(("in sets", build.id), inputs, make)


def focus_of(job: Job, shot: Shot, camera: str) -> SetPlan:
    """Where things stand in a ``shot`` of a ``job``, and what the ``camera`` of that name holds, reckoned anew: for what is tried and not kept."""
    nothing = Memory()
    return plan_focus(_set_context(job, shot, {build.id: in_set(build, nothing) for build in job.cast}), camera)


def _set_context(job: Job, shot: Shot, cast: dict[str, InSet]) -> SetContext:
    standing = tuple(cast[build] for build in shot.builds if build in cast)
    return SetContext(shot, standing, job.shop, job.cards.cameras, job.cards.lenses)


def _set(job: Job, shot: Shot, cast: dict[str, InSet], memory: Memory) -> SetPlan:
    context = _set_context(job, shot, cast)
    inputs = (shot, job.shop, job.cards.cameras, job.cards.lenses, *context.standing)
    return memory.get(("set", shot.id), inputs, lambda: plan_set(context))


def _by_build(ordered: tuple[Shot, ...], memory: Memory) -> dict[str, tuple[Shot, ...]]:
    return memory.get("shots by build", (ordered,), lambda: shots_by_build(ordered))


class _Contexts:
    """The contexts of all builds as they were last made, and of what beside that which is the same for all."""

    def __init__(self) -> None:
        self.planned: dict[str, SetPlan] = {}
        self.made: dict[str, Context] = {}


def contexts(job: Job, facts: Facts, memory: Memory, planned: dict[str, SetPlan]) -> tuple[Context, ...]:
    """The contexts of all builds of a ``job`` that are in its cast, with these ``facts``: each the same object as long as it is made of the same ones.

    ``memory`` knows what was made before; ``planned`` are the sets of its shots.
    """
    ordered = ordered_shots(job, memory)
    by_build = _by_build(ordered, memory)
    last = memory.get("last contexts", (ordered, job.shop, job.cards, facts), _Contexts)
    moved = {b for key, found in planned.items() if last.planned.get(key) is not found for b in found.shot.builds}
    made = {}
    for build in job.cast:
        known = last.made.get(build.id)
        if known is None or known.build is not build or build.id in moved:
            own = by_build.get(build.id, ())
            shots = memory.get(("shots of", build.id), own, lambda own=own: own)  # type: ignore[misc]
            mine = tuple(planned[shot.id] for shot in shots)
            kept = memory.get(("sets of", build.id), mine, lambda mine=mine: mine)  # type: ignore[misc]
            known = _context(job, build, shots, kept, facts, memory)
        made[build.id] = known
    last.planned, last.made = planned, made
    return tuple(made.values())


def _context(
    job: Job, build: Build, shots: tuple[Shot, ...], planned: tuple[SetPlan, ...], facts: Facts, memory: Memory
) -> Context:
    def narrow() -> Context:
        """Something was edited: look whether it is anything that this build uses."""
        cards = used_cards(build, job.shop, job.cards)
        contents = {piece.form.content for piece in build.pieces if isinstance(piece.form, Mesh)}
        known = {content: facts[content] for content in sorted(contents) if content in facts}
        bare = tuple(_bare(shot, memory) for shot in shots)
        shared = (build, job.shop, *cards.materials, *cards.cameras, *known.values())
        making = memory.get(
            ("making", build.id), (*bare, *shared), lambda: Context(build, bare, job.shop, cards, known)
        )
        return memory.get(("narrow context", build.id), (making, *planned, *shared),
                          lambda: Context(build, shots, job.shop, cards, known, planned, making))  # fmt: skip

    return memory.get(("context", build.id), (build, shots, planned, job.shop, job.cards, facts), narrow)


def _bare(shot: Shot, memory: Memory) -> Shot:
    """A ``shot`` without cameras and places: what the making of builds may depend on, the same object while that is the same."""
    needs = shot.needs
    inputs = (shot.id, shot.name, shot.seconds, shot.day, shot.rule, shot.call, shot.unit, shot.order, shot.cut, shot.plate, shot.ends_as,
              shot.ends_picture, shot.setup, shot.checks, shot.deadlines, *(n.what for n in needs), *(n.cover for n in needs))  # fmt: skip
    return memory.get(("bare", shot.id), inputs, lambda: replace(
        shot, needs=tuple(replace(need, place=None) for need in needs), cameras=(), base="", disagreed="",
        eye_real_m=None, air=None, card=None, actions=(),
    ))  # fmt: skip
