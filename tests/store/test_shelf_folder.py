"""The shelf's own folder: kept outside jobs, edited by several at once, killed, damaged, put right."""

import json
import os
import subprocess
import sys
from datetime import datetime, timedelta
from pathlib import Path

import pytest

from homunculus import library
from homunculus.core.edits.edit import edits_between, inverses
from homunculus.core.errors import UserError
from homunculus.core.shelf.lines import do_line
from homunculus.core.shelf.stock import Storeroom
from homunculus.store.shelf import ShelfFolder, to_take_from

AT = datetime(2026, 2, 24, 9)


def run(folder, line, at=AT):
    before = folder.read()
    return folder.edit(edits_between(before, do_line(before, line, library.families())[0]), at)


def test_without_a_file_it_is_what_ships_and_only_what_differs_is_written(tmp_path):
    folder = ShelfFolder(tmp_path / "shelf")
    assert folder.read() == Storeroom(library.stock())
    assert not folder.path.exists(), "looking makes nothing"
    run(folder, "row materials/silicone-tin-soft: price: 26 a kg from the invoice")
    run(folder, "new material: very soft silicone: silicone")
    run(folder, "away materials/clay-sulphur")
    run(folder, "delete lenses/probe-24")
    written = json.loads(folder.file.read_bytes())
    assert [c["id"] for c in written["own"]["materials"]] == ["silicone-tin-soft", "very-soft-silicone"]
    assert (written["gone"], written["put_away"]) == (["lenses/probe-24"], ["materials/clay-sulphur"])
    again = ShelfFolder(tmp_path / "shelf")
    assert again.read() == folder.read()
    assert again.read().stock.card("materials", "silicone-tin-soft").price_per_kg.value == 26
    offered = {c.id for c in to_take_from(again).materials}
    assert "very-soft-silicone" in offered
    assert "clay-sulphur" not in offered
    back = again.edit(inverses(edits_between(Storeroom(library.stock()), again.read())), AT)
    assert back == Storeroom(library.stock())


def test_two_that_edit_at_once_lose_nothing_and_one_that_comes_too_late_is_told(tmp_path):
    one, other = ShelfFolder(tmp_path), ShelfFolder(tmp_path)
    one.read(), other.read()
    run(one, "row materials/silicone-tin-soft: price: 26")
    assert other.changed()
    stale = other._room  # what the other one still shows
    edits = edits_between(
        stale, do_line(stale, "row materials/silicone-tin-soft: demould, book: 20 h", library.families())[0]
    )
    both = other.edit(edits, AT).stock.card("materials", "silicone-tin-soft")
    assert (both.price_per_kg.value, both.demould_s.value) == (26, 72000), "two rows of one card, both are kept"
    late = edits_between(stale, do_line(stale, "row materials/silicone-tin-soft: price: 27", library.families())[0])
    before = one.file.read_bytes()
    with pytest.raises(UserError, match="otherwise by now"):
        one.edit(late, AT)
    assert one.file.read_bytes() == before


WRITER = """
import sys
from datetime import datetime
from pathlib import Path
from homunculus import library
from homunculus.core.edits.edit import edits_between
from homunculus.core.shelf.lines import do_line
from homunculus.store.shelf import ShelfFolder
folder, who, count = ShelfFolder(Path(sys.argv[1])), sys.argv[2], int(sys.argv[3])
for n in range(count):
    before = folder.read()
    after = do_line(before, f"new material: {who} {n}: wax", library.families())[0]
    folder.edit(edits_between(before, after)[-1:], datetime.now())
    print(f"{who}-{n}", flush=True)
"""


def _writer(folder, who, count):
    return subprocess.Popen(
        [sys.executable, "-c", WRITER, str(folder), who, str(count)], stdout=subprocess.PIPE, text=True
    )


def test_two_processes_that_add_cards_at_once_keep_all_of_them(tmp_path):
    """Each adds its card behind what it knew; where the other one was quicker it lands among the others, and none is lost."""
    both = [_writer(tmp_path, who, 25) for who in ("anna", "bruno")]
    said = [line for process in both for line in process.communicate()[0].split()]
    assert [process.returncode for process in both] == [0, 0]
    kept = {c.id for c in ShelfFolder(tmp_path).read().stock.materials}
    assert len(said) == 50
    assert set(said) <= kept


def test_a_writer_that_is_killed_leaves_all_that_it_said_it_kept(tmp_path):
    kept = set()
    for round_number in range(12):
        process = _writer(tmp_path, f"k{round_number}", 500)
        lines = [process.stdout.readline() for _ in range(1 + round_number % 5)]
        process.kill()
        lines += process.stdout.read().splitlines()
        process.wait()
        process.stdout.close()
        kept |= {line.strip() for line in lines if line.strip()}
        assert kept <= {c.id for c in ShelfFolder(tmp_path).read().stock.materials}
    assert len(kept) >= 12


@pytest.mark.parametrize("damage", [b"", b"{", b"[]", b'{"schema": 1, "own": {"materials": [{"id": 3}]}}', b"\xff\xfe", b'{"schema": 99}',
                                    b"[" * 100_000])  # fmt: skip
def test_a_damaged_shelf_is_refused_and_put_right_from_its_newest_copy(tmp_path, damage):
    folder = ShelfFolder(tmp_path)
    run(folder, "new material: one: wax", AT)
    run(folder, "new material: two: wax", AT + timedelta(hours=2))
    folder.file.write_bytes(damage)
    again = ShelfFolder(tmp_path)
    with pytest.raises(UserError):
        again.read()
    with pytest.raises(UserError):
        again.edit((), AT)
    assert folder.file.read_bytes() == damage, "what cannot be read is not written over"
    said = again.recover()
    assert "shelf-damaged" in said
    assert {c.id for c in again.read().stock.materials} >= {"one"}
    assert any(p.read_bytes() == damage for p in tmp_path.glob("shelf-damaged-*"))
    with pytest.raises(UserError, match="whole"):
        again.recover()


def test_a_link_in_place_of_the_lock_is_not_followed_and_a_full_disk_leaves_the_old_file(tmp_path, monkeypatch):
    folder = ShelfFolder(tmp_path / "shelf")
    run(folder, "new material: one: wax")
    before = folder.file.read_bytes()

    def full(_descriptor):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(UserError, match="disk is full"):
        run(folder, "new material: two: wax")
    monkeypatch.undo()
    assert folder.file.read_bytes() == before
    (folder.path / "lock").unlink()
    (folder.path / "lock").symlink_to(tmp_path / "elsewhere")
    with pytest.raises(UserError):
        run(folder, "new material: two: wax")
    assert not (tmp_path / "elsewhere").exists()


def test_copies_are_dated_and_their_number_is_bounded(tmp_path):
    folder = ShelfFolder(tmp_path)
    for hour in range(40):
        run(folder, f"new material: m{hour}: wax", AT + timedelta(hours=hour))
    copies = sorted(Path(tmp_path, "backups").iterdir())
    assert len(copies) == 30
    assert copies[-1].name == "shelf-2026-02-26-00.json"
