"""Edits as values: what changes at which place of a job, and back. A change of any size is the edits that it consists of.

A place is a path of fields and items. Items of a list are known by what people call them (``id``, ``name``, a signature's
``kind``) where that is unique, else by their number. An edit holds only what it changes; its inverse takes it back.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, TypeVar

from msgspec import Struct
from msgspec.structs import replace

from homunculus.core.errors import UserError

Root = TypeVar("Root", bound=Struct)
"""What is edited: a job, or a shelf."""
Path = tuple[str, ...]
"""From the job down: names of fields, and between them what an item of a list is known by; ``#3`` is the third."""
KNOWN_BY = ("id", "name", "kind", "what")
"""Fields by which an item of a list is known, the first that it has."""


class Set(Struct, frozen=True, tag="set"):
    """A field, or an item that is no struct, has another value; where kinds differ, such as a box for a mesh, another is chosen."""

    path: Path
    before: Any
    after: Any


class Add(Struct, frozen=True, tag="add"):
    """A list has one item more, at a place from 0."""

    path: Path
    at: int
    item: Any


class Remove(Struct, frozen=True, tag="remove"):
    """A list has one item less."""

    path: Path
    at: int
    item: Any


class Move(Struct, frozen=True, tag="move"):
    """An item of a list stands at another place, from 0."""

    path: Path
    before: int
    after: int


Edit = Set | Add | Remove | Move


def inverse(edit: Edit) -> Edit:
    """The edit that takes an ``edit`` back."""
    match edit:
        case Set(path, before, after):
            return Set(path, after, before)
        case Add(path, at, item):
            return Remove(path, at, item)
        case Remove(path, at, item):
            return Add(path, at, item)
        case Move(path, before, after):
            return Move(path, after, before)


def inverses(edits: tuple[Edit, ...]) -> tuple[Edit, ...]:
    """The edits that take several ``edits``, one after another, back."""
    return tuple(inverse(edit) for edit in reversed(edits))


# --------------------------------------------------------------------------------------------- places
def known_as(item: object) -> str:
    """What people call an ``item`` of a list; empty where it has no name."""
    for field in KNOWN_BY:
        found = getattr(item, field, None)
        if isinstance(found, str):
            return found
    return ""


def names_of(items: tuple[Any, ...]) -> tuple[str, ...]:
    """What the ``items`` of a list are known by: their names where all have one and no two the same, else their numbers."""
    names = tuple(known_as(item) for item in items)
    if all(names) and len(set(names)) == len(names) and not any(name.startswith("#") for name in names):
        return names
    return tuple(f"#{i}" for i in range(1, len(items) + 1))


def place_of(items: tuple[Any, ...], name: str) -> int:
    """Where an item stands.

    Parameters
    ----------
    items
        The list.
    name
        What it is known by, or ``#`` and its number from 1.

    Raises
    ------
    UserError
        When there is none; the message lists those there are.
    """
    names = names_of(items)
    if name in names:
        return names.index(name)
    if name.startswith("#") and name[1:].isdecimal() and 1 <= int(name[1:]) <= len(items):
        return int(name[1:]) - 1
    raise UserError(
        f"There is no “{name}” here", remedy=f"There are: {', '.join(names)}" if names else "There is none yet"
    )


def _below(owner: Any, step: str) -> Any:
    if isinstance(owner, tuple):
        return owner[place_of(owner, step)]
    if isinstance(owner, Struct) and step in owner.__struct_fields__:
        return getattr(owner, step)
    raise _nothing_called(owner, step)


def _nothing_called(owner: Any, step: str) -> UserError:
    known = ", ".join(owner.__struct_fields__) if isinstance(owner, Struct) else ""
    return UserError(
        f"Nothing called “{step}” can be edited here", remedy=f"There are: {known}" if known else "Go less deep"
    )


def at(job: Struct, path: Path) -> Any:
    """What stands at a place.

    Parameters
    ----------
    job
        In which.
    path
        The place.

    Raises
    ------
    UserError
        When the job has no such place.
    """
    found: Any = job
    for step in path:
        found = _below(found, step)
    return found


# -------------------------------------------------------------------------------------------- changing
def apply(job: Root, edit: Edit) -> Root:
    """Make the job that an edit leads to; what it does not touch is shared with the job before.

    Parameters
    ----------
    job
        As it is.
    edit
        What changes. That its values are within bounds is for whoever made it to see to (:mod:`homunculus.core.edits.lines`).

    Raises
    ------
    UserError
        When its place is not there, or something else stands there than the edit was made for.
    """
    changed: Root = _changed(job, edit.path, edit)
    return changed


def apply_all(job: Root, edits: tuple[Edit, ...]) -> Root:
    """Make the job that several ``edits`` lead to, from a ``job``, one after another.

    Raises
    ------
    UserError
        As :func:`apply` does.
    """
    for edit in edits:
        job = apply(job, edit)
    return job


def _changed(owner: Any, path: Path, edit: Edit) -> Any:
    if not path:
        return _done(owner, edit)
    step, rest = path[0], path[1:]
    below = _changed(_below(owner, step), rest, edit)
    if isinstance(owner, tuple):
        index = place_of(owner, step)
        return (*owner[:index], below, *owner[index + 1 :])
    return replace(owner, **{step: below})


def _done(here: Any, edit: Edit) -> Any:
    if isinstance(edit, Set):
        if here != edit.before:
            raise _otherwise(edit)
        return edit.after
    if not isinstance(here, tuple):
        raise UserError(f"{'/'.join(edit.path)} is no list", remedy="Set its value")
    if isinstance(edit, Add):
        if not 0 <= edit.at <= len(here):
            raise _otherwise(edit)
        return (*here[: edit.at], edit.item, *here[edit.at :])
    if isinstance(edit, Remove):
        if not 0 <= edit.at < len(here) or here[edit.at] != edit.item:
            raise _otherwise(edit)
        return (*here[: edit.at], *here[edit.at + 1 :])
    if not 0 <= edit.before < len(here) or not 0 <= edit.after < len(here):
        raise _otherwise(edit)
    left = (*here[: edit.before], *here[edit.before + 1 :])
    return (*left[: edit.after], here[edit.before], *left[edit.after :])


def _otherwise(edit: Edit) -> UserError:
    return UserError(f"{'/'.join(edit.path)} is otherwise by now", remedy="Look at it, and edit it as it stands")


# ----------------------------------------------------------------------------------------- differences
def edits_between(before: Root, after: Root) -> tuple[Edit, ...]:
    """The edits that lead from one job to another: as few values as can be told apart.

    Parameters
    ----------
    before, after
        Two jobs, or two shelves. What both share is not looked into.
    """
    return tuple(_between((), before, after))


def _between(path: Path, before: Any, after: Any) -> Iterator[Edit]:
    if before is after or (type(before) is type(after) and before == after):
        return
    if isinstance(before, tuple) and isinstance(after, tuple) and _listed(before, after):
        yield from _lists(path, before, after)
    elif isinstance(before, Struct) and type(before) is type(after):
        for field in before.__struct_fields__:
            old, new = getattr(before, field), getattr(after, field)
            if old is not new:
                yield from _between((*path, field), old, new)
    else:
        yield Set(path, before, after)


def _listed(before: tuple[Any, ...], after: tuple[Any, ...]) -> bool:
    """Whether two lists are edited item by item: lists of bare values are set as a whole."""
    return all(isinstance(item, Struct) for item in (*before, *after))


def _lists(path: Path, before: tuple[Any, ...], after: tuple[Any, ...]) -> Iterator[Edit]:
    """Items that are gone, then those that are new or moved, from the first on; then what changed within those that stayed."""
    old, new = names_of(before), names_of(after)
    if (old[:1] and old[0].startswith("#")) or (new[:1] and new[0].startswith("#")):
        yield from _numbered(path, before, after)
        return
    if old == new:
        for name, a, b in zip(old, before, after, strict=True):
            if a is not b:
                yield from _between((*path, name), a, b)
        return
    here = list(zip(old, before, strict=True))
    for at_, (name, item) in reversed(list(enumerate(here))):
        if name not in new:
            yield Remove(path, at_, item)
            del here[at_]
    for at_, (name, item) in enumerate(zip(new, after, strict=True)):
        now = next((i for i, (n, _) in enumerate(here) if n == name), None)
        if now is None:
            yield Add(path, at_, item)
            here.insert(at_, (name, item))
        elif now != at_:
            yield Move(path, now, at_)
            here.insert(at_, here.pop(now))
    for name, item in here:
        yield from _between((*path, name), item, after[new.index(name)])


def _numbered(path: Path, before: tuple[Any, ...], after: tuple[Any, ...]) -> Iterator[Edit]:
    """Of lists without names: what both begin and end with stays; of the rest as many are changed as both have."""
    most = min(len(before), len(after))
    head = next((i for i in range(most) if before[i] != after[i]), most)
    tail = next((i for i in range(most - head) if before[-1 - i] != after[-1 - i]), most - head)
    old, new = before[head : len(before) - tail], after[head : len(after) - tail]
    for i, item in reversed(list(enumerate(old))):
        if i >= len(new):
            yield Remove(path, head + i, item)
    for i, item in enumerate(new):
        if i >= len(old):
            yield Add(path, head + i, item)
    for i, (a, b) in enumerate(zip(old, new, strict=False)):
        yield from _between((*path, f"#{head + i + 1}"), a, b)
