"""Asking for files and folders: each kind of file begins where the last of its kind was."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QSettings
from PySide6.QtWidgets import QWidget


def _last(kind: str) -> str:
    known = str(QSettings("homunculus", "homunculus").value(f"folder/{kind}") or "")
    return known if known and Path(known).is_dir() else ""


def _remember(kind: str, folder: Path) -> None:
    QSettings("homunculus", "homunculus").setValue(f"folder/{kind}", str(folder))


def ask_to_read(parent: QWidget, title: str, kind: str, filters: str) -> Path | None:
    """Ask for a file that is there; none when nobody chose one.

    Parameters
    ----------
    parent
        Over what the question stands.
    title
        Of the question.
    kind
        Of the file: under it the folder is remembered.
    filters
        As Qt takes them.
    """
    from PySide6.QtWidgets import QFileDialog  # slow to load, seldom wanted

    name, _ = QFileDialog.getOpenFileName(parent, title, _last(kind), filters)
    if name:
        _remember(kind, Path(name).parent)
    return Path(name) if name else None


def ask_to_write(parent: QWidget, title: str, kind: str, usual: str, filters: str) -> tuple[Path, str] | None:
    """Ask where to write a file, and as which of the ``filters``; none when nobody said.

    Parameters
    ----------
    parent, title, kind, filters
        As for :func:`ask_to_read`.
    usual
        Its name while nobody says another.
    """
    from PySide6.QtWidgets import QFileDialog  # slow to load, seldom wanted

    name, chosen = QFileDialog.getSaveFileName(
        parent, title, str(Path(_last(kind)) / usual) if _last(kind) else usual, filters
    )
    if name:
        _remember(kind, Path(name).parent)
    return (Path(name), chosen) if name else None


def ask_for_folder(parent: QWidget, title: str, kind: str, usual: str = "") -> Path | None:
    """Ask for a folder; it begins in the one above the last of its kind, or in a ``usual`` one. ``parent``, ``title``, ``kind`` as above."""
    from PySide6.QtWidgets import QFileDialog  # slow to load, seldom wanted

    name = QFileDialog.getExistingDirectory(parent, title, _last(kind) or usual)
    if name:
        _remember(kind, Path(name).parent)
    return Path(name) if name else None
