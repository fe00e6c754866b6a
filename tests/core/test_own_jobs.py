"""Jobs unlike the demo, made by lines from nothing (``tests/data/own``), each held against three figures that were reckoned by hand.

The sums stand here as a person with a pocket calculator would do them: volumes of boxes and balls, Steiner's layers, Froude's square
root, shares of a count, hours by the square metre. Densities are the cards' own.
"""

from __future__ import annotations

from datetime import date, datetime
from math import pi, sqrt
from pathlib import Path

import pytest
from msgspec.structs import replace

from homunculus import library
from homunculus.core import specs
from homunculus.core.edits.lines import said
from homunculus.core.job.job import Job
from homunculus.core.job.shop import Shop
from homunculus.core.session import Session

OWN = Path(__file__).parents[1] / "data" / "own"
HOUR = 3600.0


def made(name):
    """The session of a job after its lines, each one step of undo."""
    job = Job("own", Shop(camera="cinema-150"), ())
    session = Session(replace(job, cards=replace(job.cards, cameras=library.cameras())), shelf=library.shelf())
    lines = said((OWN / f"{name}.lines").read_text("utf-8"))
    for _, line in lines:
        session.do(line, today=date(2026, 3, 2))
    assert len(session._changes) == len(lines), "each line is one step"
    return session


def box(a, b, c):
    return a * b * c


def shell(a, b, c, wall):
    """A hollow box."""
    return box(a, b, c) - box(a - 2 * wall, b - 2 * wall, c - 2 * wall)


def ball(d):
    return pi / 6 * d**3


def figures(name, build):
    plan = made(name).plan().build(build)

    def value(spec, piece="", shot="", **of):
        figure = plan.find(spec, piece, shot, **of)
        assert figure is not None, f"{spec.name} of {piece or build} is not reckoned: {plan.held}"
        return figure.value

    return value


def test_a_barge_towed_at_1_to_8():
    value = figures("barge", "barge")
    a, b, c, t = 3.0, 0.625, 0.375, 0.01  # the hull as built, and its blanket
    assert value(specs.HEIGHT) == pytest.approx(c)
    assert value(specs.RATE_WANTED, shot="1") == pytest.approx(24 * sqrt(8))
    steiner = 2 * (a * b + b * c + c * a) * t + pi * (a + b + c) * t**2 + 4 / 3 * pi * t**3
    assert value(specs.BLANKET, "hull") == pytest.approx(steiner)
    rubber = steiner * 1.04 * 1.08 * 1120  # keys, then waste; tin-cure silicone
    assert value(specs.RUBBER, "hull") == pytest.approx(rubber, rel=0.01)
    assert value(specs.ONE_CASTING, "hull") == pytest.approx(shell(a, b, c, 0.004) * 1060)


def test_eighty_drowned_sailors_in_three_expressions():
    value = figures("sailors", "drowned-sailor")
    heads = [value(specs.CASTINGS, "head", variant=name) for name in ("calm", "startled", "asleep")]
    assert heads == [40, 24, 16]
    assert value(specs.CASTINGS, "body") == 80
    assert value(specs.ONE_CASTING, "head") == pytest.approx(ball(0.04) * 1050)


def test_one_anchor_three_times():
    session = made("anchor")
    whole, small, far = (session.plan().build(name) for name in ("anchor", "anchor-2", "far-anchor"))
    assert whole.find(specs.WEIGHT).value == pytest.approx(box(2, 0.5, 1.5) * 600), "plywood, solid"
    assert small.find(specs.WEIGHT).value == pytest.approx(box(2, 0.5, 1.5) * 600 / 216)
    assert far.find(specs.LENGTH).value == pytest.approx(2 / 24)


def test_a_third_scale_double_of_a_whale():
    value = figures("whale", "whale")
    assert value(specs.HEIGHT) == pytest.approx(5.0)
    assert value(specs.RATE_WANTED, shot="9") == pytest.approx(24 * sqrt(3))
    assert value(specs.PERSON) == pytest.approx(1.75 / 3)


def test_a_diver_with_printed_faces_and_a_glove_at_300_percent():
    value = figures("diver", "diver")
    assert value(specs.WORK, "face", op="wash") == pytest.approx(30 * 0.5 * HOUR), "thirty faces, half an hour each"
    a, b, c, w = (x / 4 * 3 for x in (0.06, 0.04, 0.1)), None, None, 0.008
    a, b, c = a
    rubber = (a + 2 * w) * (b + 2 * w) * (c + w) - box(a, b, c)
    assert value(specs.RUBBER_VOLUME, "glove") == pytest.approx(max(rubber * 1.05, rubber + 5e-5)), (
        "a small mould loses 50 ml at least"
    )
    assert value(specs.HEIGHT) == pytest.approx(0.9 * 1.6 / 4 + 0.08 * 1.6 / 4, rel=0.06), "the glove does not count"


def test_a_printed_chapel():
    value = figures("chapel", "chapel")
    a, b, c = 0.4, 0.25, 0.6
    area = 2 * (a * b + b * c + c * a)
    assert value(specs.WORK, "nave", op="sand") == pytest.approx((3 + 4 * area) * HOUR)
    assert value(specs.WEIGHT) == pytest.approx(shell(a, b, c, 0.002) * 1060)
    assert value(specs.HEIGHT) == pytest.approx(c)


def test_ten_jellyfish_of_which_two_are_cast_thick():
    session = made("jellyfish")
    thin, thick = (session.plan().build(name) for name in ("jellyfish", "jellyfish-2"))
    assert (thin.find(specs.CASTINGS, "bell").value, thick.find(specs.CASTINGS, "bell").value) == (8, 2)
    assert thin.find(specs.ONE_CASTING, "bell").value == pytest.approx((ball(0.4) - ball(0.394)) * 1080)
    assert thick.find(specs.ONE_CASTING, "bell").value == pytest.approx((ball(0.4) - ball(0.382)) * 1080)


def test_a_harbour_of_bought_parts():
    value = figures("harbour", "harbour")
    assert value(specs.HANDS) == pytest.approx((0.5 + 12 * 0.5) * HOUR), "ordered once, each altered"
    assert value(specs.READY) == datetime(2026, 3, 9, 15, 30), (
        "ordered by half past nine, a week on its way, six hours of work"
    )
    assert value(specs.HEIGHT) == pytest.approx(0.8 / 24)


def test_a_felt_and_paper_fishwife():
    value = figures("fishwife", "fishwife")
    big, small, high = 0.18 / 2, 0.1 / 2, 0.2
    slant = sqrt(high**2 + (big - small) ** 2)
    area = pi * (big + small) * slant + pi * big**2 + pi * small**2
    assert value(specs.WORK, "skirt", op="make") == pytest.approx((8 + 4 * area) * HOUR)
    assert value(specs.HEIGHT) == pytest.approx(high)
    assert value(specs.HANDS) == pytest.approx((4 + 8 + 4 * area + 4 + 3 * area) * HOUR)


def test_a_string_puppet_at_1_to_3():
    value = figures("string-puppet", "pilot")
    d, w = 0.1, 0.01
    rubber = (d + 2 * w) ** 2 * (d + w) - ball(d)
    assert value(specs.RUBBER_VOLUME, "skull") == pytest.approx(rubber * 1.05)
    assert value(specs.ONE_CASTING, "skull") == pytest.approx((ball(d) - ball(d - 0.008)) * 1050)
    assert value(specs.HEIGHT) == pytest.approx(d), "of its lowest foot to its top: there is nothing else yet"


def test_six_seal_suits():
    value = figures("seals", "seal-suit")
    assert value(specs.CASTINGS, "cowl") == 6
    assert value(specs.CASTINGS, "arm") == 12
    assert value(specs.WORK, "under-suit", op="alter") == pytest.approx(6 * 0.5 * HOUR)


def test_a_wire_heron_in_a_jacketed_mould():
    value = figures("heron", "heron")
    bird, wire = box(0.2, 0.1, 0.5), pi / 4 * 0.02**2 * 0.45
    assert value(specs.POUR, "bird", op="castings") == pytest.approx((bird - wire) * 1080 * 1.05), (
        "what lies in it is not poured; a twentieth is lost"
    )
    a, b, c, t = 0.2, 0.1, 0.5, 0.01
    assert value(specs.BLANKET, "bird") == pytest.approx(
        2 * (a * b + b * c + c * a) * t + pi * (a + b + c) * t**2 + 4 / 3 * pi * t**3
    )
    assert value(specs.WORK, "bird", op="lay-in") == pytest.approx(0.5 * HOUR)


def test_a_sprayed_sail_of_skin():
    value = figures("sail", "sail-of-skin")
    a, b, c, t = 3.0, 0.01, 2.0, 0.0002
    coat = 2 * (a * b + b * c + c * a) * t + pi * (a + b + c) * t**2 + 4 / 3 * pi * t**3
    assert value(specs.LAYER, "sheet", op="skin") == pytest.approx(coat)
    assert value(specs.WORK, "sheet", op="skin") == pytest.approx(6 * 0.25 * HOUR)
    assert value(specs.LENGTH) == pytest.approx(3.0)
