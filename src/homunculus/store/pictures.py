"""Pictures of a job folder, kept by the hash of their content."""

from __future__ import annotations

import hashlib
from pathlib import Path

from homunculus.core.errors import UserError
from homunculus.store.atomic import inside, keep_once, read_bounded

MOST_BYTES = 40_000_000
_HEADS = {b"\x89PNG\r\n\x1a\n": ".png", b"\xff\xd8\xff": ".jpg"}


def picture_file(folder: Path, name: str) -> Path:
    """Where in a job ``folder`` the picture of that ``name`` is kept.

    Raises
    ------
    UserError
        When the name leads out of the folder.
    """
    return inside(folder / "pictures", folder / "pictures" / name)


def keep_picture(folder: Path, source: Path) -> str:
    """Keep the picture ``source`` in a job ``folder`` and return the name that it is kept under.

    Raises
    ------
    UserError
        When it cannot be read or written, or is neither PNG nor JPEG.
    """
    return keep_data(folder, read_bounded(source, MOST_BYTES, source.name), source.name)


def keep_data(folder: Path, data: bytes, called: str) -> str:
    """Keep the ``data`` of a picture that is ``called`` so in a job ``folder`` and return the name that it is kept under.

    Raises
    ------
    UserError
        When it cannot be written, or is neither PNG nor JPEG.
    """
    suffix = next((end for head, end in _HEADS.items() if data.startswith(head)), "")
    if not suffix or len(data) > MOST_BYTES:
        raise UserError(f"{called} is no PNG or JPEG picture of up to 40 MB", remedy="Choose a photograph")
    name = hashlib.sha256(data).hexdigest()[:32] + suffix
    keep_once(picture_file(folder, name), data)
    return name
