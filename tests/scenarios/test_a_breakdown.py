"""A coordinator's morning: the cut comes in, something is missing, the count is frozen, and then somebody wants two more."""

import pytest
from PySide6.QtCore import Qt

from homunculus.core import specs
from homunculus.store.folder import JobFolder
from tests.app.conftest import key, open_window, own_settings, qapp, typed, wait_until  # noqa: F401
from tests.app.test_shots import dropped, pull_thread

pytestmark = pytest.mark.window

CUT = """TITLE: THE DROWNED LAMP
FCM: NON-DROP FRAME

001  R1       V     C        00:00:00:00 00:00:06:00 01:00:00:00 01:00:06:00
* FROM CLIP NAME: 2 storm wide
002  R1       V     C        00:00:00:00 00:00:07:12 01:00:06:00 01:00:13:12
* FROM CLIP NAME: 14 claw takes the rope
003  R1       V     C        00:00:00:00 00:00:03:00 01:00:13:12 01:00:16:12
* FROM CLIP NAME: 19 hand on the lamp
"""


def test_a_cut_is_read_the_gap_found_the_count_frozen_changed_and_its_cost_seen(open_window, folder, qtbot, tmp_path):  # noqa: F811
    window = open_window(folder)
    window.activateWindow()
    wait_until(qtbot, window.isActiveWindow)
    desk = window.desk

    # the cut is dropped in: seconds and places follow, one shot is new, and nobody has said what it needs
    file = tmp_path / "reel-1.edl"
    file.write_text(CUT)
    dropped(window, file)
    assert desk.breakdown.find("14").seconds == 7.5
    assert "1 new (19)" in window.notice.words
    assert window.line.spots.find("uncovered").accessibleName() == "2 needs that nobody covers"

    # the gap is found from any screen, and the rope's loose thread pulled onto stock
    qtbot.mouseClick(window.line.spots.find("uncovered"), Qt.MouseButton.LeftButton)
    bench = window.benches.of("coverage")
    qtbot.mouseClick(bench.spots.find("loose"), Qt.MouseButton.LeftButton)
    assert "tarred rope" in bench.said(bench.needs.item())
    pull_thread(bench, ("*stock", ""))
    typed(window, "stock: rope, two coils")
    wait_until(qtbot, lambda: len(desk.plan.coverage.uncovered) == 1)
    bench.go_to_loose()
    key(window, Qt.Key.Key_Return)
    typed(window, "lamp: lighthouse/gallery, front")
    assert desk.plan.coverage.uncovered == ()
    assert window.line.spots.find("uncovered") is None

    # the gulls are counted and frozen by somebody
    desk.choose("gulls")
    key(window, Qt.Key.Key_H)
    counts = window.benches.of("counts")
    before = counts.total().value
    key(window, Qt.Key.Key_Z)
    typed(window, "shop lead")
    assert desk.build.frozen.by == "shop lead"
    wait_until(qtbot, lambda: any(e.kind == "counted" for e in desk.log))

    # six more on the wall: the mould shop's number stands, and the cost of following is said
    counts.type_value("wanted.background")
    typed(window, "36")
    assert counts.total().value == before
    assert (
        desk.build_plan.find(specs.ASKED, "body", variant="perched").number
        > desk.build_plan.find(specs.CASTINGS, "body", variant="perched").number
    )
    words = counts.cost_words(desk.cost)
    assert "mould days" in words
    assert "foam latex" in words
    assert "€" in words or "has no price" in words
    assert any("short of the count" in str(m.headline[0]) for m in desk.minds)

    # no reason, no change; with one it goes into the log
    key(window, Qt.Key.Key_Z)
    typed(window, " ")
    assert "only with a reason" in window.notice.words
    typed(window, "the wide shot got wider")
    assert counts.total().value > before
    assert desk.cost is None
    wait_until(qtbot, lambda: any("the wide shot got wider" in e.text for e in desk.log))

    # all of it is there after the window is closed
    job = desk.job
    window.close()
    opened = JobFolder(folder, desk.now())
    opened.close()
    assert opened.job == job
    assert any("the wide shot got wider" in e.text for e in opened.log)
