"""Meshes of a job folder, kept by the hash of their content, and their studies beside them."""

from __future__ import annotations

import hashlib
from pathlib import Path

import msgspec

from homunculus.core.errors import UserError
from homunculus.core.plan.facts import MeshFact
from homunculus.store.atomic import inside, keep_once, read_bounded, write_atomically

MOST_BYTES = 400_000_000


def mesh_file(folder: Path, content: str) -> Path:
    """Where in a job ``folder`` the mesh of that ``content`` hash is kept."""
    return folder / "meshes" / f"{content}.stl"


def read_mesh(folder: Path, content: str) -> bytes:
    """Read the mesh of that ``content`` hash from a job ``folder``.

    Raises
    ------
    UserError
        When it is missing or is not what its name says.
    """
    path = inside(folder / "meshes", mesh_file(folder, content))
    data = read_bounded(path, MOST_BYTES, "The mesh")
    if hashlib.sha256(data).hexdigest() != content:
        raise UserError("The mesh was changed since it was taken in", str(path), "Take the sculpt in again")
    return data


def take_in_mesh(folder: Path, data: bytes) -> str:
    """Keep a mesh's ``data`` in a job ``folder`` by its content and return the hash.

    Raises
    ------
    UserError
        When it could not be written.
    """
    content = hashlib.sha256(data).hexdigest()
    keep_once(mesh_file(folder, content), data)
    return content


def keep_study(folder: Path, fact: MeshFact) -> None:
    """Keep the study ``fact`` in a job ``folder`` beside its mesh, so that a second opening is instant.

    Raises
    ------
    UserError
        When it could not be written.
    """
    write_atomically(mesh_file(folder, fact.content).with_suffix(".study.json"), msgspec.json.encode(fact))


def field_file(folder: Path, content: str) -> Path:
    """Where in a job ``folder`` the distance field of the mesh of that ``content`` is kept."""
    return mesh_file(folder, content).with_suffix(".field")


def keep_field(folder: Path, content: str, data: bytes) -> None:
    """Keep the distance field ``data`` of the mesh of that ``content`` in a job ``folder``.

    Raises
    ------
    UserError
        When it could not be written.
    """
    write_atomically(field_file(folder, content), data)


def coarse_file(folder: Path, content: str) -> Path:
    """Where in a job ``folder`` the coarse copy of the mesh of that ``content`` is kept."""
    return mesh_file(folder, content).with_suffix(".coarse.stl")


def keep_coarse(folder: Path, content: str, data: bytes) -> None:
    """Keep the coarse copy ``data`` of the mesh of that ``content`` in a job ``folder``.

    Raises
    ------
    UserError
        When it could not be written.
    """
    write_atomically(coarse_file(folder, content), data)
