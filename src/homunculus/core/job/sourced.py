"""A value of a card with where it comes from."""

from __future__ import annotations

from msgspec import Struct

from homunculus.core.job.bounds import Known


class Sourced(Struct, frozen=True, forbid_unknown_fields=True):
    """A value with its provenance: a data sheet, a standard, or memory."""

    value: Known
    source: str


ENTERED = "entered for this job"
"""Provenance of a value that somebody changed in a job: following the shelf keeps it."""
