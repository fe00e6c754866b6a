"""The command line, as a process: output, exit codes, messages."""

import json
import os
import subprocess
import sys
from datetime import datetime

import numpy as np
import pytest
import trimesh

from homunculus import __version__, library
from homunculus.cli import main
from homunculus.core import specs
from homunculus.core.plan.job_plan import plan
from homunculus.demo import REFERENCE_NOW
from homunculus.exchange.mesh_files import as_stl
from homunculus.report import load
from homunculus.store.folder import JobFolder
from homunculus.store.new_job import new_job
from homunculus.store.places import data_home


def run(*words, **kwargs):
    return subprocess.run([sys.executable, "-m", "homunculus", *map(str, words)], capture_output=True, text=True,
                          check=False, **kwargs)  # fmt: skip


def test_figures_as_json_in_base_units_without_qt(folder):
    code = (
        "import sys; from homunculus.cli import main;"
        f"code = main(['figures', {str(folder)!r}, '--json', '--build', 'lighthouse']);"
        "assert not [m for m in sys.modules if m.startswith('PySide6')]; sys.exit(code)"
    )
    ran = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False)
    assert ran.returncode == 0, ran.stderr
    figures = {(f["name"], f["subject"]): f for f in json.loads(ran.stdout)}
    wanted = figures["frame_rate.wanted", "@2"]
    assert wanted["value"] == pytest.approx(83.138, abs=1e-3)
    assert wanted["unit"] == "fps"
    assert wanted["rule"] == "f = f0 × √S × k"
    assert {i["origin"] for i in wanted["inputs"]} >= {"decided", "shop"}
    assert figures["cure.opens", "lighthouse/gallery/rubber 1"]["value"].startswith("2026-03-0")
    assert all(s.startswith("lighthouse") or "@" in s for _, s in figures)
    assert not any(s.startswith("ferry") for _, s in figures)


def test_figures_as_text_with_why_and_in_feet(folder, capsys):
    assert main(["figures", str(folder), "--build", "Paddle ferry", "--imperial"]) == 0
    out = capsys.readouterr().out
    assert "Paddle ferry" in out
    assert "Gull" not in out
    assert "dynamic similarity" in out
    assert "lb" in out
    assert main(["figures", str(folder), "--brief"]) == 0
    assert "dynamic similarity" not in capsys.readouterr().out


def test_the_window_and_the_command_print_the_same_numbers(folder, session, capsys):
    main(["figures", str(folder), "--json"])
    printed = {(f["name"], f["subject"]): f["value"] for f in json.loads(capsys.readouterr().out)}
    for figure in session.plan().figures():
        if isinstance(figure.value, float):
            assert printed[figure.spec.name, str(figure.subject)] == figure.value


def test_a_missing_study_is_made_on_the_way(folder, capsys):
    for study in sorted((folder / "meshes").glob("*.study.json"))[:1]:
        study.unlink()
    assert main(["figures", str(folder), "--brief"]) == 0
    assert "waiting" not in capsys.readouterr().out


@pytest.mark.parametrize(
    ("words", "code", "said"),
    [
        (["--help"], 0, "a workshop drawing that answers back"),
        (["--version"], 0, __version__),
        (["figures"], 2, "required: JOB_FOLDER"),
        (["figures", ".", "--what"], 2, "unrecognized arguments: --what"),
        (["figures", ".", "--build"], 2, "expected one argument"),
        (["--now", "yesterday", "."], 2, "not a moment"),
        (["--theme", "pink", "."], 2, "invalid choice: 'pink'"),
        (["new", "x"], 2, "required: NAME"),
        (["one", "two"], 2, "unrecognized arguments: two"),
        (["take-in", "--help"], 0, "BUILD/PIECE"),
        (["figures", "/nowhere/at/all"], 1, "no job.json"),
    ],
)
def test_exit_codes_and_messages(words, code, said, capsys):
    assert main(words) == code
    captured = capsys.readouterr()
    assert said in (captured.out if code == 0 else captured.err)


def test_figures_of_the_job_a_piece_or_a_shot(folder, capsys):
    def printed(of):
        assert main(["figures", str(folder), "--of", of, "--json"]) == 0
        return {(f["name"], f["subject"]): f for f in json.loads(capsys.readouterr().out)}

    assert printed("job")["job.uncovered", ""]["value"] == 1
    assert {s.split("/")[1] for _, s in printed("Lighthouse and breakwater/gallery")} == {"gallery"}
    assert {s.split("@")[1] for _, s in printed("shot 2")} == {"2"}
    for wrong, said in (("lighthouse/door", "gallery"), ("shot 99", "no shot 99")):
        assert main(["figures", str(folder), "--of", wrong]) == 1
        assert said in capsys.readouterr().err


def test_an_unknown_build_is_named_with_those_there_are(folder, capsys):
    assert main(["figures", str(folder), "--build", "castle"]) == 1
    assert "Choose one of: lighthouse, ferry" in capsys.readouterr().err


def test_no_traceback_for_a_damaged_job(folder):
    (folder / "job.json").write_bytes(b"{")
    ran = run("figures", folder)
    assert ran.returncode == 1
    assert "Traceback" not in ran.stderr
    assert "damaged" in ran.stderr


def test_without_a_screen_the_window_says_so(folder, tmp_path):
    env = {"PATH": "/usr/bin:/bin", "HOME": str(tmp_path), "PYTHONPATH": ":".join(p for p in sys.path if p)}
    ran = run(folder, env=env)
    assert ran.returncode == 1
    assert "no screen" in ran.stderr


def test_a_reader_that_stops_is_no_trouble(folder):
    ran = subprocess.run(f"{sys.executable} -m homunculus figures {folder} | head -1", shell=True, capture_output=True,
                         text=True, check=False)  # fmt: skip
    assert "Traceback" not in ran.stderr


def test_a_new_job_is_made_with_a_camera_and_the_cautions(tmp_path, capsys):
    from datetime import datetime

    from homunculus.report import load
    from homunculus.store.new_job import new_job

    folder = new_job(tmp_path / "fresh", "A test job", datetime(2026, 2, 24, 14))
    job, _facts = load(folder)
    assert job.name == "A test job"
    assert job.cards.materials == ()
    assert len(job.cards.hazards) >= 30
    assert main(["figures", str(folder)]) == 0
    assert "job.needs" in capsys.readouterr().out


def test_recover_and_demo_reset_by_command(folder, tmp_path, monkeypatch, capsys):
    from homunculus import cli, demo

    JobFolder(folder, demo.REFERENCE_NOW).close()
    (folder / "job.json").write_bytes(b"{")
    assert main(["recover", str(folder)]) == 0
    assert "job-2026-02-24-091000.json" in capsys.readouterr().out
    assert main(["recover"]) == 2
    assert main(["recover", str(folder)]) == 1
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    opened = []
    monkeypatch.setattr("homunculus.app.start.open_window", lambda path, **options: opened.append((path, options)) or 0)
    assert main([]) == 0
    assert main(["demo", "--reset", "--now", "2026-05-05T10:00"]) == 0
    assert opened[0][0] == opened[1][0] == demo.demo_folder()
    assert opened[1][1]["now"].year == 2026
    assert list(data_home().glob("*-before-reset-1"))
    assert cli.main(["new", str(tmp_path / "mine"), "My job", "--theme", "stage"]) == 0
    assert opened[2] == (tmp_path / "mine", {"now": None, "theme": "stage"})


def test_a_damaged_card_of_the_library_is_named(tmp_path, monkeypatch):
    from homunculus.core.errors import UserError

    (tmp_path / "materials").mkdir()
    (tmp_path / "materials" / "odd.toml").write_text('id = "odd"\nname = "odd"\nkind = "cheese"\n')
    monkeypatch.setattr(library, "HERE", tmp_path)
    with pytest.raises(UserError, match=r"odd\.toml"):
        library.materials()


def test_a_mesh_is_taken_in_by_command(folder, tmp_path, capsys):
    ball = trimesh.creation.icosphere(subdivisions=3, radius=75)
    (tmp_path / "ball.ply").write_bytes(ball.export(file_type="ply"))
    assert main(["take-in", str(folder), str(tmp_path / "ball.ply"), "--for", "keeper/cheek"]) == 0
    said = capsys.readouterr().out
    assert "read in mm, guessed from its size" in said
    assert "1280 faces" in said
    assert main(["figures", str(folder), "--build", "keeper", "--brief"]) == 0
    assert "150\u00a0mm" in capsys.readouterr().out
    assert main(["take-in", str(folder), str(tmp_path / "ball.ply"), "--for", "keeper", "--unit", "ell"]) == 1
    assert "no unit of a mesh" in capsys.readouterr().err
    assert main(["take-in", str(folder)]) == 2


def test_the_practice_scale_as_a_command_prints_its_device_and_ends_when_told():
    ran = subprocess.run([sys.executable, "-m", "homunculus", "practice-scale"], input="add 20\ndance\nquit\n",
                         capture_output=True, text=True, timeout=30, check=False)  # fmt: skip
    assert ran.returncode == 0
    assert ran.stdout.startswith("/dev/")
    assert "“dance” is no order" in ran.stderr


@pytest.mark.parametrize(("words", "said"), [
    (("keeper/nose", "x.stl"), "no piece “nose”"), (("nobody", "x.stl"), "no build “nobody”"), (("keeper", "gone.stl"), "cannot be read"),
    (("keeper", "words.txt"), "no column of days"), (("keeper", "words.step"), "no mesh that can be read"), (("keeper", "a.fifo"), "is no file"),
    (("keeper", "flat.stl"), "no thickness"), (("", "shot.png"), "belongs to a shot"),
])  # fmt: skip
def test_a_mesh_that_cannot_be_taken_in_changes_nothing_and_says_why(folder, tmp_path, capsys, words, said):
    (tmp_path / "x.stl").write_bytes(trimesh.creation.box((1, 1, 1)).export(file_type="stl"))
    (tmp_path / "words.txt").write_text("not a mesh")
    (tmp_path / "words.step").write_text("not a mesh")
    (tmp_path / "shot.png").write_bytes(b"\x89PNG\r\n\x1a\n")
    os.mkfifo(tmp_path / "a.fifo")
    flat = np.zeros((3, 3, 3), np.float32)
    flat[:, 1, 0] = flat[:, 2, 1] = 1
    (tmp_path / "flat.stl").write_bytes(as_stl(flat))
    before = (folder / "job.json").read_bytes()
    assert main(["take-in", str(folder), str(tmp_path / words[1]), "--for", words[0]]) == 1
    assert said in capsys.readouterr().err
    assert (folder / "job.json").read_bytes() == before
    assert main(["figures", str(folder), "--brief"]) == 0  # and the lock is let go


def test_whatever_the_window_takes_by_drop_is_taken_in_by_command(folder, tmp_path, capsys):
    (tmp_path / "shots.csv").write_text("shot,what happens\n2,storm wide again\n31,new one\n")
    (tmp_path / "warm.csv").write_text("time,temp\n2026-02-23 09:00,18.5\n2026-02-23 10:00,19.0\n")
    (tmp_path / "cut.edl").write_text(
        "TITLE: X\nFCM: NON-DROP FRAME\n\n001  R  V  C  00:00:00:00 00:00:07:00 01:00:00:00 01:00:07:00\n* FROM CLIP NAME: 2\n"
    )
    (tmp_path / "end.png").write_bytes(b"\x89PNG\r\n\x1a\n" + b"0" * 50)
    files = [str(tmp_path / name) for name in ("shots.csv", "warm.csv", "cut.edl", "end.png")]
    assert main(["take-in", str(folder), *files, "--for", "3"]) == 0
    said = capsys.readouterr().out
    for words in ("1 new shot, 1 changed", "2 readings", "1 clip", "shot 3 must end as"):
        assert words in said
    opened = JobFolder(folder, REFERENCE_NOW)
    shots = {s.id: s for s in opened.job.shots}
    assert (shots["2"].name, shots["2"].seconds) == ("storm wide again", 7.0)
    assert "31" in shots
    assert shots["3"].ends_picture.endswith(".png")
    assert opened.log[-1].kind == "measured"
    opened.close()


def test_lines_edit_a_job_by_command_as_far_as_they_are_good(folder, tmp_path, capsys, monkeypatch):
    file = tmp_path / "changes.txt"
    file.write_text("# thicker\nset builds/lighthouse/pieces/gallery/mould/blanket_m 12 mm\n\nremove builds/gulls\n"
                    "set builds/lighthouse/scale 1:2000\nset builds/ferry/scale 1:12\n")  # fmt: skip
    assert main(["do", str(folder), str(file)]) == 1
    out = capsys.readouterr()
    assert out.out.splitlines() == ["set builds/lighthouse/pieces/gallery/mould/blanket_m 12 mm", "remove builds/gulls"]
    assert f"{file}, line 5: “1:2000” is beyond any scale used here" in out.err
    opened = JobFolder(folder, REFERENCE_NOW)
    job = opened.job
    opened.close()
    assert job.build("lighthouse").pieces[1].mould.blanket_m == 0.012
    assert [b.id for b in job.builds if b.id == "gulls"] == []
    assert job.build("ferry").scale == 24
    ran = run("do", folder, "-", input="set cards/cameras/cinema-150/id other\n")  # what cannot be planned is no job
    assert ran.returncode == 1
    assert "standard input, line 1: There is no camera “cinema-150” in this job" in ran.stderr
    ran = run("do", folder, "-", input="move builds/ferry to 1\n")
    assert (ran.returncode, ran.stdout, ran.stderr) == (0, "move builds/ferry to 1\n", "")


def test_the_shop_is_set_and_told_by_command(folder, capsys):
    assert (
        main(
            ["shop", str(folder), "--hours", "08:00 to 16:30, Mon to Thu", "--country", "pt", "--zone", "Europe/Lisbon"]
        )
        == 0
    )
    said = capsys.readouterr().out
    assert "08:00 to 16:30, Mon, Tue, Wed, Thu" in said
    assert "Europe/Lisbon" in said
    assert "Fri 3 Apr" in said or "and" in said
    assert main(["shop", str(folder), "--hours", "late"]) == 1
    assert "no hours" in capsys.readouterr().err


def test_a_new_job_comes_from_lines_and_its_piece_is_made_by_a_usual_way(tmp_path):
    folder = new_job(tmp_path / "new", "Ein Leuchtturm", datetime(2026, 2, 24, 15))
    job = load(folder)[0]
    assert (job.name, job.builds, job.shop.camera) == ("Ein Leuchtturm", (), "cinema-150")
    assert job.cards.materials == ()
    lines = tmp_path / "own.lines"
    lines.write_text(
        "build bought: First, 6 m, 1:12\npiece first: body: box 6 × 3 × 4 m\ndelete first/thing\n", "utf-8"
    )
    ran = run("do", str(folder), str(lines))
    assert ran.returncode == 0, ran.stderr
    ran = run("way", str(folder), "first/body", "jacketed")
    assert ran.returncode == 0, ran.stderr
    assert "first/body is made jacketed, half by half: 12 operations, common practice, no source" in ran.stdout
    job = load(folder)[0]
    assert {c.id for c in job.cards.materials} >= {"silicone-tin-soft", "laminate-polyester-mat"}
    assert len(job.cards.materials) < 6, "what it uses, and no more"
    made = plan(job, {}).builds[0]
    assert made.find(specs.READY)
    assert {p.called for p in made.pours} == {
        "jacket, first half",
        "jacket, second half",
        "rubber, first half",
        "rubber, second half",
    }, "what it is cast of nobody has said"
    for whose, way, said in (
        ("first/ghost", "block", "has no piece"),
        ("gone/body", "block", "no build"),
        ("first/body", "knitted", "no way of making"),
    ):
        ran = run("way", str(folder), whose, way)
        assert (ran.returncode, said in ran.stderr) == (1, True)
    assert plan(load(folder)[0], {}).builds[0].build == made.build


def test_the_shelf_by_command_found_edited_written_taken_in_and_followed_by_a_job(
    folder, tmp_path, monkeypatch, capsys
):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))

    def said(*words, code=0):
        assert main(["shelf", *map(str, words)]) == code, words
        out = capsys.readouterr()
        return out.out if code == 0 else out.err

    lines = tmp_path / "own.lines"
    lines.write_text("# the invoice of March\nrow materials/silicone-tin-soft: price: 30 a kg from invoice\n"
                     "new oven: the old kiln\nrow ovens/the-old-kiln: chamber, wide: 80 cm\n", "utf-8")  # fmt: skip
    assert "new oven" in said("do", lines)
    assert "the-old-kiln" in said("find", "kiln")
    assert "price: 30 a kg  [invoice]" in said("show", "materials/silicone-tin-soft")
    assert "≠ price: 30 a kg | 38 a kg" in said(
        "show", "materials/silicone-tin-soft", "materials/silicone-platinum-soft"
    )
    assert "not of one sort" in said("show", "materials/silicone-tin-soft", "ovens/the-old-kiln", code=1)
    newer = said("newer", folder)
    assert "price 24 a kg → 30 a kg" in newer
    assert "Rubber cost" in newer
    assert "+25 %" in newer
    assert "Follows the shelf: materials/silicone-tin-soft" in said("follow", folder)
    assert "nothing newer" in said("newer", folder)
    assert "Took ovens/the-old-kiln" in said("take", folder, "ovens/the-old-kiln")
    table = tmp_path / "ovens.csv"
    assert "Wrote 3 ovens" in said("write-out", table, "--sort", "ovens")
    table.write_text(table.read_text("utf-8").replace("the old kiln", "the big kiln"), "utf-8")
    assert "0 new cards, 1 changed, 2 as before" in said("take-in", table, "--sort", "ovens")
    lines.write_text("new wax: x\n", "utf-8")
    assert "line 1" in said("do", lines, code=1)
    assert "is whole" in said("recover", code=1)
    assert "no wax" not in said("find", "bronze")


def test_pieces_are_written_out_changed_by_another_program_and_taken_in(folder, tmp_path, monkeypatch, capsys):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    table = tmp_path / "pieces.csv"
    assert main(["write-out", str(folder), str(table)]) == 0
    assert "Wrote 15 pieces" in capsys.readouterr().out
    table.write_text(table.read_text("utf-8").replace("12 mm", "14 mm", 1), "utf-8")
    assert main(["take-in", str(folder), str(table), "--pieces"]) == 0
    assert "0 new pieces, 1 changed, 14 as before" in capsys.readouterr().out
    assert main(["write-out", str(folder), str(tmp_path / "shots.xlsx"), "--what", "shots"]) == 0
    assert main(["write-out", str(folder), str(tmp_path / "pieces.pdf")]) == 1
    assert "no list of pieces" in capsys.readouterr().err


def test_a_picture_is_laid_under_a_piece_and_traced_by_commands(folder, tmp_path, monkeypatch, capsys):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    drawing = tmp_path / "side.svg"
    drawing.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><rect width="40" height="20"/></svg>', "utf-8"
    )
    assert main(["take-in", str(folder), str(drawing)]) == 1
    assert "BUILD/PIECE" in capsys.readouterr().err
    assert main(["take-in", str(folder), str(drawing), "--for", "ferry/wheelhouse"]) == 0
    assert "lies under ferry/wheelhouse" in capsys.readouterr().out
    lines = tmp_path / "trace.lines"
    lines.write_text(
        "trace ferry/wheelhouse: front known 0 0 to 100 0 is 1 m; front 0 0, 300 0, 300 200, 0 200\n", "utf-8"
    )
    assert main(["do", str(folder), str(lines)]) == 0
    assert main(["figures", str(folder), "--of", "ferry", "--brief"]) == 0


SET_LINES = """build miniature: Harbour wall, 6 m high, 1:12
add shots {"id":"1","name":"wall","seconds":4,"day":"2026-04-20","rule":{"type":"gravity"},"needs":[{"what":"wall","cover":{"type":"build","build":"harbour-wall"}}]}
add shots/1/needs {"what":"rail","cover":{"type":"stock","item":"rail"},"place":{"at_m":0.5}}
set shots/1/needs/wall/place {"at_m":30,"looks":true}
add shots/1/cameras {"lens":"prime-32","height_m":1.2}
set shots/1/cameras/#1/filters 1
set shots/1/lit_m2 4 m2
set shop/lighting/circuits 2
add builds/harbour-wall/lamps {"name":"windows","count":30,"amps":0.02,"volts":12}
"""
"""A set made from nothing, on the command line."""


def test_a_set_is_made_line_by_line_and_its_figures_are_printed(tmp_path, capsys):
    job = new_job(tmp_path / "job", "The wall", REFERENCE_NOW)
    (tmp_path / "set.lines").write_text(SET_LINES, encoding="utf-8")
    assert main(["do", str(job), str(tmp_path / "set.lines")]) == 0
    capsys.readouterr()
    assert main(["figures", str(job), "--of", "shot 1", "--json"]) == 0
    figures = {(f["name"], f["subject"]): f["value"] for f in json.loads(capsys.readouterr().out)}
    assert figures["frame_rate.camera", "@1"] == 84.0
    assert (figures["lens.near", "@1"], figures["lens.far", "@1"]) == (0.5, 2.5)
    assert figures["plane.at", "/wall@1"] == 2.5
    assert figures["plane.looks", "/rail@1"] == 0.5
    light = figures["light.illuminance", "@1"]
    assert light == pytest.approx(2 * 250 * figures["light.effective_stop", "@1"] ** 2 * 84 * 2 / 800)
    assert figures["light.power", "@1"] == pytest.approx(light * 4 / (90 * 0.4))
    assert ("light.area", "@1") not in figures
    assert main(["figures", str(job), "--of", "harbour-wall", "--json"]) == 0
    figures = {(f["name"], f["subject"]): f["value"] for f in json.loads(capsys.readouterr().out)}
    assert figures["model_lamps.current", "harbour-wall/windows"] == pytest.approx(0.6)
    assert figures["gravity.apparent", "harbour-wall@1"] == pytest.approx(12 * (24 / 84) ** 2)


@pytest.mark.parametrize(("line", "said"), [
    ('add shots/1/cameras {"lens":"monocle"}', "monocle"), ("set shots/1/needs/rail/place {\"at_m\":-1}", "at_m"),
    ("set shots/1/cameras/#1/stop 999", "128"), ("set shots/1/base nobody", ""),
])  # fmt: skip
def test_a_line_of_a_set_that_cannot_be_is_refused_with_its_number_or_does_no_harm(tmp_path, capsys, line, said):
    job = new_job(tmp_path / "job", "The wall", REFERENCE_NOW)
    (tmp_path / "set.lines").write_text(SET_LINES + line + "\n", encoding="utf-8")
    assert main(["do", str(job), str(tmp_path / "set.lines")]) == (1 if said else 0)
    told = capsys.readouterr().err
    assert not said or ("10" in told and said in told), told
    assert main(["figures", str(job), "--of", "shot 1", "--brief"]) == 0, "the job opens all the same"
