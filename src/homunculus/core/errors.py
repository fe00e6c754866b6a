"""The one error that is meant for a person."""

EMPTY = "“”"
"""How a sentence quotes an empty line: that says less than that it is empty."""


class UserError(Exception):
    """Something a person can put right: what is the matter, where, and what to do.

    Parameters
    ----------
    what
        The matter, as a sentence without its full stop.
    where
        The place: a file with its field, a line, a box on the screen. May be empty.
    remedy
        What to do about it, as a sentence without its full stop. May be empty.
    """

    def __init__(self, what: str, where: str = "", remedy: str = "") -> None:
        self.what = "Nothing stands there" if EMPTY in what else what
        super().__init__(self.what)
        self.where = where
        self.remedy = remedy

    def __str__(self) -> str:
        place = f"{self.where}: " if self.where else ""
        remedy = f" {self.remedy}." if self.remedy else ""
        return f"{place}{self.what}.{remedy}"


class Cancelled(Exception):  # noqa: N818  (it is no error)
    """Somebody stopped slow work."""
