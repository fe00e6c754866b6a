"""Where the program keeps what belongs to no job."""

from __future__ import annotations

import os
from pathlib import Path


def data_home() -> Path:
    """The user's data folder: the copy of the demo, what was rescued, which jobs were open lately."""
    base = os.environ.get("XDG_DATA_HOME") or str(Path.home() / ".local" / "share")
    return Path(base) / "homunculus"
