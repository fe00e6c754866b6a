"""Measured sections from an outline that was traced over a picture, and outlines offered from the picture's own edges.

Imports numpy only where a picture's pixels are looked at.
"""

from __future__ import annotations

import math
from itertools import pairwise
from typing import TYPE_CHECKING, Any

from homunculus.core.errors import UserError
from homunculus.core.job.forms import Section, Sections
from homunculus.core.job.traces import Point, Trace, View

if TYPE_CHECKING:
    from numpy.typing import NDArray

FINEST = 96
"""Sections between foot and top: of a circle the volume is then true within a tenth of a per cent."""
FINE = 5
"""Digits behind the point of a metre that a section keeps."""
REACH_PX = 14.0
"""How far from the hand an edge draws a point to itself."""


FAINT = 24.0
"""Of 255: what differs less from one side to the other is no edge but grain."""


def metres_a_pixel(view: View) -> float | None:
    """How long a pixel of a ``view`` is [m, real]; none while no length is known."""
    if len(view.known) < 2 or view.known_m is None:
        return None
    length = math.dist(*view.known)
    if length < 1:
        raise UserError("The two ends of the known length lie in one place", remedy="Pull one of them to the other end")
    return view.known_m / length


def crossings(outline: tuple[Point, ...], y: float) -> list[float]:
    """Where a level ``y`` [px] goes through a closed ``outline`` [px], from the left to the right [px]."""
    found = []
    for (x1, y1), (x2, y2) in pairwise((*outline, outline[0])):
        if (y1 <= y < y2) or (y2 <= y < y1):
            found.append(x1 + (x2 - x1) * (y - y1) / (y2 - y1))
    return sorted(found)


def width_at(outline: tuple[Point, ...], y: float) -> float:
    """How wide what a closed ``outline`` [px] encloses is at a level ``y`` [px]: where it is cut several times, all of its parts together [px]."""
    across = crossings(outline, y)
    return sum(b - a for a, b in zip(across[::2], across[1::2], strict=False))


def sections_of(trace: Trace) -> Sections:
    """The form of a ``trace``: widths from the front, depths from the side at the same share of the height, or round.

    Raises
    ------
    UserError
        While a length is not known, an outline is not closed, or it encloses nothing.
    """
    front, pitch = _closed(trace.front, "front")
    low, high = _extent(front)
    side_pitch = 0.0
    side: tuple[Point, ...] = ()
    if trace.side is not None:
        side, side_pitch = _closed(trace.side, "side")
    tall = (high - low) * pitch
    cuts = []
    for share in _shares(front, low, high):
        # a hair inside, so that a flat foot or top has its width
        level = high - min(max(share, 1e-9), 1 - 1e-9) * (high - low)
        width = width_at(front, level) * pitch
        depth = width
        if trace.side is not None:
            near, far = _extent(side)
            depth = width_at(side, far - min(max(share, 1e-9), 1 - 1e-9) * (far - near)) * side_pitch
        cuts.append(Section(round(share * tall, FINE), round(width, FINE), round(depth, FINE)))
    kept = [cuts[0], *(b for a, b in pairwise(cuts) if b.at_m > a.at_m)]
    if len(kept) < 2 or not any(cut.width_m for cut in kept):
        raise UserError(
            "The outline encloses nothing", remedy="Press along the outside of the thing, all the way round"
        )
    return Sections(tuple(kept))


def _closed(view: View, which: str) -> tuple[tuple[Point, ...], float]:
    pitch = metres_a_pixel(view)
    if pitch is None:
        raise UserError(
            f"No length is known in the picture from the {which}",
            remedy="Press the two ends of something, and type how long it really is",
        )
    if not view.closed or len(view.outline) < 3:
        raise UserError(
            f"The outline from the {which} is not closed", remedy="Press along the outside; Enter closes it"
        )
    return view.outline, pitch


def _extent(outline: tuple[Point, ...]) -> tuple[float, float]:
    levels = [y for _, y in outline]
    low, high = min(levels), max(levels)
    if high - low < 1e-6:
        raise UserError("The outline has no height", remedy="Press along the outside of the thing, all the way round")
    return low, high


def _shares(outline: tuple[Point, ...], low: float, high: float) -> list[float]:
    """The heights at which sections are taken, as shares from the foot: at every corner, and evenly between."""
    corners = {(high - y) / (high - low) for _, y in outline}
    if len(corners) > FINEST:
        corners = {0.0, 1.0}
    even = {i / FINEST for i in range(FINEST + 1)}
    apart = 0.25 / FINEST
    return sorted(corners | {share for share in even if all(abs(share - corner) > apart for corner in corners)})


# ----------------------------------------------------------------------------------------------- edges
def edge_near(grey: NDArray[Any], at: Point, reach: float = REACH_PX) -> Point:
    """The strongest edge of a picture near a point, the nearer the better; the point itself where there is none.

    Parameters
    ----------
    grey
        Brightness, rows by columns.
    at
        The point [px].
    reach
        How far an edge may be [px].
    """
    import numpy as np

    rows, columns = grey.shape
    x, y = at
    left, right = max(1, int(x - reach)), min(columns - 1, int(x + reach) + 1)
    top, bottom = max(1, int(y - reach)), min(rows - 1, int(y + reach) + 1)
    if right - left < 2 or bottom - top < 2:
        return at
    part = grey[top - 1 : bottom + 1, left - 1 : right + 1].astype(float)
    across = part[1:-1, 2:] - part[1:-1, :-2]
    down = part[2:, 1:-1] - part[:-2, 1:-1]
    strength = np.hypot(across, down)
    ys, xs = np.mgrid[top:bottom, left:right]
    away = np.hypot(xs - x, ys - y)
    worth = np.where(away <= reach, strength * (1 - 0.6 * away / reach), 0.0)
    best = np.unravel_index(int(worth.argmax()), worth.shape)
    if strength[best] < max(FAINT, 0.25 * float(np.ptp(part))):
        return at
    return float(xs[best]) + 0.5, float(ys[best]) + 0.5


def outline_offered(grey: NDArray[Any], most: int = 64) -> tuple[Point, ...]:
    """The outline of the largest thing that stands out from the picture's border, with at most so many corners.

    The threshold is Otsu's (1979): the one between whose two sides brightness differs most.

    Parameters
    ----------
    grey
        Brightness, rows by columns.
    most
        Corners.

    Raises
    ------
    UserError
        When nothing stands out.
    """
    import contourpy
    import numpy as np

    level = _otsu(grey)
    border = np.concatenate([grey[0], grey[-1], grey[:, 0], grey[:, -1]])
    dark = float(np.median(border)) > level
    mask = np.pad((grey < level if dark else grey >= level).astype(float), 1)
    lines: list[NDArray[Any]] = contourpy.contour_generator(z=mask, line_type="Separate").lines(0.5)  # type: ignore[assignment]
    areas = [abs(_area(line)) for line in lines]
    if not areas or max(areas) < 16 or float(np.ptp(grey)) < FAINT:
        raise UserError("Nothing stands out in this picture", remedy="Press along its outline by hand")
    line = lines[int(np.argmax(areas))] - 1 + 0.5  # pixels lie half a pixel in, and the frame was put around
    return thinned(tuple((float(x), float(y)) for x, y in line[:-1]), most)


def _otsu(grey: NDArray[Any]) -> float:
    import numpy as np

    counts, edges = np.histogram(grey, bins=256)
    middles = (edges[:-1] + edges[1:]) / 2
    below, above = np.cumsum(counts), counts.sum() - np.cumsum(counts)
    sums = np.cumsum(counts * middles)
    with np.errstate(divide="ignore", invalid="ignore"):
        between = np.nan_to_num(below * above * (sums / below - (sums[-1] - sums) / above) ** 2)
    best = np.flatnonzero(between >= between.max() * (1 - 1e-12))
    return float(edges[1 + int((best[0] + best[-1]) // 2)])


def _area(line: NDArray[Any]) -> float:
    x, y = line[:, 0], line[:, 1]
    return float((x[:-1] * y[1:] - x[1:] * y[:-1]).sum() / 2)


def thinned(outline: tuple[Point, ...], most: int) -> tuple[Point, ...]:
    """A closed ``outline`` [px] with at most so many corners: those that change the area between them least are left out (Visvalingam 1993)."""
    import heapq

    count = len(outline)
    if count <= most:
        return outline
    before, after = [(i - 1) % count for i in range(count)], [(i + 1) % count for i in range(count)]
    gone = [False] * count

    def worth(i: int) -> float:
        (x1, y1), (x2, y2), (x3, y3) = outline[before[i]], outline[i], outline[after[i]]
        return abs((x2 - x1) * (y3 - y1) - (x3 - x1) * (y2 - y1)) / 2

    heap = [(worth(i), i) for i in range(count)]
    heapq.heapify(heap)
    left = count
    while left > max(3, most):
        area, i = heapq.heappop(heap)
        if gone[i] or area != worth(i):
            if not gone[i]:
                heapq.heappush(heap, (worth(i), i))
            continue
        gone[i] = True
        left -= 1
        after[before[i]], before[after[i]] = after[i], before[i]
        for j in (before[i], after[i]):
            heapq.heappush(heap, (worth(j), j))
    return tuple(point for point, out in zip(outline, gone, strict=True) if not out)
