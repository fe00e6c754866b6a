"""A pytest plugin for the core's own tests: importing Qt raises."""

import sys


class _NoQt:
    def find_spec(self, name, path=None, target=None):
        if name.partition(".")[0] in ("PySide6", "shiboken6"):
            raise ImportError(f"{name} must not be imported here: the core runs without Qt")
        return


sys.meta_path.insert(0, _NoQt())
