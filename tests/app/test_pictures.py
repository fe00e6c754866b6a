"""Pictures of the job folder: upright, within bounds, kept as long as they are there."""

import struct

import pytest
from PySide6.QtGui import QColor, QImage

from homunculus.app.pictures import Pictures


@pytest.fixture
def pictures(tmp_path, qapp):
    (tmp_path / "pictures").mkdir()
    said = []
    made = Pictures(lambda: tmp_path, said.append)
    made.said, made.folder = said, tmp_path / "pictures"
    return made


def drawn(pictures, name, width, height):
    image = QImage(width, height, QImage.Format.Format_RGB32)
    image.fill(QColor("white"))
    image.save(str(pictures.folder / name))
    return pictures.folder / name


def test_a_photograph_stands_upright_as_the_camera_was_held(pictures):
    file = drawn(pictures, "phone.jpg", 40, 20)
    data = file.read_bytes()
    # TIFF 6.0 and Exif 2.3: one entry, orientation (0x0112), a short: 6, turned right by a quarter
    exif = b"Exif\0\0II*\0" + struct.pack("<IHHHIHHI", 8, 1, 0x0112, 3, 1, 6, 0, 0)
    file.write_bytes(data[:2] + b"\xff\xe1" + struct.pack(">H", len(exif) + 2) + exif + data[2:])
    assert (pictures.image("phone.jpg").width(), pictures.image("phone.jpg").height()) == (20, 40)
    assert pictures.pixmap("phone.jpg").size().toTuple() == (20, 40)


def test_what_is_missing_may_come_back_and_what_was_read_stays(pictures):
    assert pictures.image("a.png").isNull()
    assert pictures.pixmap("").isNull()
    file = drawn(pictures, "a.png", 5, 5)
    assert not pictures.image("a.png").isNull()
    file.unlink()
    assert not pictures.image("a.png").isNull()
    assert pictures.pixmap("a.png").isNull(), "it was never drawn"


def test_a_name_that_leads_out_and_a_picture_that_is_too_large_are_none(pictures, monkeypatch):
    assert pictures.image("../job.json").isNull()
    assert len(pictures.said) == 1
    monkeypatch.setattr("homunculus.app.pictures.MOST_PIXELS", 100)
    drawn(pictures, "just.png", 10, 10)
    drawn(pictures, "large.png", 10, 11)
    assert [pictures.image(name).isNull() for name in ("just.png", "large.png")] == [False, True]


def test_no_more_are_kept_than_are_looked_at(pictures, monkeypatch):
    monkeypatch.setattr("homunculus.app.pictures.KEPT", 2)
    for name in ("a.png", "b.png"):
        drawn(pictures, name, 4, 4)
        pictures.image(name)
        (pictures.folder / name).unlink()
    assert not pictures.image("a.png").isNull()
    drawn(pictures, "c.png", 4, 4)
    pictures.image("c.png")
    assert [pictures.image(name).isNull() for name in ("a.png", "b.png", "c.png")] == [True, True, False]
