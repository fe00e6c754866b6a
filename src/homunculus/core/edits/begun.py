"""Beginnings: values that a card, a country or the program began, marked until somebody decides them."""

from __future__ import annotations

from msgspec.structs import replace

from homunculus.core.edits.decisions import (
    Decision,
    decisions_but_of,
    decisions_of_build,
    decisions_of_shop,
    replace_build,
)
from homunculus.core.job.build import Build
from homunculus.core.job.job import Job


def with_shop_begun(job: Job, said: frozenset[str] = frozenset()) -> Job:
    """Return the ``job`` in which nobody has decided anything of the shop but what was ``said``, by its keys."""
    return replace(job, begun=tuple(d.key for d in decisions_of_shop(job.shop) if d.key not in said))


def as_begun(build: Build, said: frozenset[str] = frozenset()) -> Build:
    """Return a ``build`` in which all is a beginning but what was ``said``, by its keys; “size” stands for the forms of its pieces."""
    forms = () if "size" in said else tuple(form_key(piece.id) for piece in build.pieces)
    return replace(build, begun=(*forms, *(d.key for d in decisions_of_build(build) if d.key not in said)))


def form_key(piece_id: str) -> str:
    """The key under which the form of the piece ``piece_id`` is a beginning: nobody has said how large it is."""
    return f"form:{piece_id}"


def brought(build: Build, before: Build, said: frozenset[str] = frozenset()) -> Build:
    """Return a ``build`` in which what a way of making has brought since it stood as ``before`` is a beginning.

    These are values of moulds and steps that were not there; what was ``said``, by its keys, is decided.
    """
    same = _unchanged(before, build)
    known = {d.key for d in decisions_but_of(before, same)} | said
    new = (
        d.key
        for d in decisions_but_of(build, same)
        if d.key not in known and (d.path[0] == "mould" or d.path[0].startswith("op:"))
    )
    return replace(build, begun=tuple(dict.fromkeys((*build.begun, *new))))


def still_begun(before: Job, after: Job) -> Job:
    """Return the job ``after`` an edit in which a value is marked as a beginning only where it stands as it did ``before``."""
    if after.begun and after.shop is not before.shop:
        after = replace(after, begun=_same(after.begun, decisions_of_shop(before.shop), decisions_of_shop(after.shop)))
    known = {build.id: build for build in before.builds}
    changed = []
    for build in after.builds:
        old = known.get(build.id)
        if build.begun and old is not None and old is not build:
            same = _unchanged(old, build)
            kept = _same(
                build.begun, decisions_but_of(old, same), decisions_but_of(build, same), same | _same_forms(old, build)
            )
            if kept != build.begun:
                changed.append(replace(build, begun=kept))
    for build in changed:
        after = replace_build(after, build)
    return after


def _unchanged(before: Build, after: Build) -> frozenset[str]:
    """The pieces that are the same objects in both: nothing of them was decided."""
    known = {id(piece) for piece in before.pieces}
    return frozenset(piece.id for piece in after.pieces if id(piece) in known)


def _same_forms(before: Build, after: Build) -> frozenset[str]:
    """The form keys of those pieces that are as large as they were."""
    forms = {piece.id: (piece.form, piece.drawn_at, piece.enlarged) for piece in before.pieces}
    return frozenset(
        form_key(piece.id)
        for piece in after.pieces
        if forms.get(piece.id) == (piece.form, piece.drawn_at, piece.enlarged)
    )


def _same(
    begun: tuple[str, ...],
    old: tuple[Decision, ...],
    new: tuple[Decision, ...],
    unchanged: frozenset[str] = frozenset(),
) -> tuple[str, ...]:
    was, now = {d.key: d.value for d in old}, {d.key: d.value for d in new}

    def stands(key: str) -> bool:
        if key in now:
            return was.get(key, now[key]) == now[key]
        if key.startswith("form:"):
            return key in unchanged
        return ":" in key and key.rpartition(":")[2].partition("/")[0] in unchanged

    return tuple(key for key in begun if stands(key))
