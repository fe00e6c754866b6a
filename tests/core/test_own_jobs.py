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


def test_a_wax_idol_that_slumps_on_cue():
    value = figures("idol", "idol")
    a, b, c, w = 0.2, 0.15, 0.6, 0.015
    assert value(specs.TAKES, shot="21") == 6, "0.6^6 = 0.047: six takes until 95 % are sure of one"
    assert value(specs.CASTINGS, "figure") == 7, "one stays, six melt"
    assert value(specs.ONE_CASTING, "figure") == pytest.approx(shell(a, b, c, 0.008) * 900)
    assert value(specs.RUBBER_VOLUME, "figure") == pytest.approx(
        ((a + 2 * w) * (b + 2 * w) * (c + w) - box(a, b, c)) * 1.05
    )


def test_a_laminate_mould_for_a_walrus_suit():
    value = figures("walrus", "walrus")
    a, b, c, t = 0.9, 0.7, 1.5, 0.0005
    steiner = 2 * (a * b + b * c + c * a) * t + pi * (a + b + c) * t**2 + 4 / 3 * pi * t**3
    assert value(specs.GEL, "body") == pytest.approx(steiner * 1.1 * 1200)
    outside = 2 * (a * b + b * c + c * a) + 2 * pi * (a + b + c) * t + 4 * pi * t**2
    around, flange = 2 * (a + c) + 2 * pi * t, 0.05
    area = outside + 2 * (around * flange + pi * flange**2)
    assert value(specs.JACKET, "body") == pytest.approx(area * 5 * 0.45 * 3.3)
    assert value(specs.JACKET_THICKNESS, "body") == pytest.approx(5 * (0.45 / 2560 + 2.3 * 0.45 / 1150))
    assert value(specs.SKIN, "body") == pytest.approx(shell(a, b, c, 0.012))


def test_a_vacuum_formed_giant():
    value = figures("giant", "giant")
    a, b, c, m = 0.8, 0.6, 0.3, 0.05
    blank = (a + 2 * m) * (b + 2 * m)
    assert value(specs.BLANK, "cheek", op="draw") == pytest.approx(blank)
    sides_and_top, flat = 2 * (a + b) * c + a * b, blank - a * b
    assert value(specs.DRAWN, "cheek", op="draw") == pytest.approx(0.003 * blank / (sides_and_top + flat))
    assert value(specs.SHEETS, "cheek", op="draw") == 9, "P(at least 4 of 8 good) = 0.942, of 9 = 0.975: nine for 95 %"
    assert value(specs.SHEET_COST, "cheek", op="draw") == pytest.approx(9 * blank * 0.003 * 1050 * 5)


def test_a_buoy_shot_in_passes_as_a_flotilla():
    session = made("flotilla")
    plan = session.plan().build("buoy")
    assert plan.find(specs.AT_ONCE, shot="30").value == 3, "nine in four passes: three in the fullest"
    rate = plan.find(specs.RATE, shot="30").value
    assert rate == 60, "24·√6 is 58.8; the camera has 60"
    assert plan.find(specs.ON_SET, shot="30").value == pytest.approx(4 * 24 / rate * 4)
    minded = [mind for mind in plan.minds if mind.subject.shot in ("30", "31") and "shows 9" in str(mind.headline[0])]
    assert [mind.subject.shot for mind in minded] == ["30"], "there is one buoy: nine passes take it, four do not"
