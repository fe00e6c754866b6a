"""Edits as values: what lies between two jobs, back again, and as lines that read back equal."""

from datetime import date, datetime, time
from pathlib import Path

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus import demo, library
from homunculus.core.edits.decisions import decide, decisions, find_decision, replace_build, stepped
from homunculus.core.edits.edit import Add, Move, Remove, Set, apply, apply_all, edits_between, inverses
from homunculus.core.edits.lines import do, kind_of, read, said, write, write_value
from homunculus.core.edits.wishes import VERBS as WISHES
from homunculus.core.errors import UserError
from homunculus.core.job.build import Water
from homunculus.core.job.forms import Mesh, Sphere
from homunculus.core.job.job import Job
from homunculus.core.job.operations import After
from homunculus.core.job.shop import Shop
from homunculus.core.job.shots import FixedRate, FrameByFrame, Gravity, ScreenTime
from homunculus.core.session import Session
from homunculus.reshaping import Reshaper
from homunculus.store.folder import decode, encode
from tests.strategies import jobs

DEMO = decode((demo.HERE / "job.json").read_bytes(), "job.json").job


@given(jobs(), jobs(), st.randoms())
def test_what_lies_between_two_jobs_leads_there_and_back_and_is_written_line_by_line(a, b, random):
    shuffled = list(b.builds)
    random.shuffle(shuffled)
    b = replace(b, builds=tuple(shuffled))
    edits, here = edits_between(a, b), a
    for edit in edits:
        line = write(edit, here)
        assert "\n" not in line
        assert read(line, here) == edit, line
        here = apply(here, edit)
    assert here == b
    assert apply_all(b, inverses(edits)) == a


def test_an_edit_holds_only_what_it_changes(demo_document):
    job = demo_document.job
    after = decide(job, find_decision(job, "lighthouse", "blanket_m:gallery"), 0.012)
    (edit,) = edits_between(job, after)
    assert edit == Set(("builds", "lighthouse", "pieces", "gallery", "mould", "blanket_m"), 0.01, 0.012)
    assert len(msgspec.json.encode(edit)) < 1000
    assert write(edit, job) == "set builds/lighthouse/pieces/gallery/mould/blanket_m 12 mm"
    assert apply(job, edit).build("ferry") is job.build("ferry"), "what is not touched is shared"


LINES = [
    ("set builds/lighthouse/scale 1:8", lambda j: j.build("lighthouse").scale, 8.0),
    ("set builds/oldclaw/scale 250 %", lambda j: j.build("oldclaw").scale, 0.4),
    ("set builds/lighthouse/pieces/gallery/mould/blanket_m 1/2 in", lambda j: j.build("lighthouse").pieces[1].mould.blanket_m, 0.0127),
    ("set builds/lighthouse/pieces/gallery/mould/lag_s 1 h 30 min", lambda j: j.build("lighthouse").pieces[1].mould.lag_s, 5400.0),
    ("set builds/lighthouse/pieces/gallery/mould/waste 12 %", lambda j: j.build("lighthouse").pieces[1].mould.waste, 0.12),
    ("set builds/lighthouse/pieces/gallery/mould/waste 0.12", lambda j: j.build("lighthouse").pieces[1].mould.waste, 0.12),
    ("set builds/lighthouse/wanted/spare 3", lambda j: j.build("lighthouse").wanted.spare, 3),
    ("set builds/lighthouse/name The lamp, again", lambda j: j.build("lighthouse").name, "The lamp, again"),
    ('set builds/lighthouse/called ""', lambda j: j.build("lighthouse").called, ""),
    ("set builds/lighthouse/water none", lambda j: j.build("lighthouse").water, None),
    ('set builds/ferry/water {"wave_m": 2.5}', lambda j: j.build("ferry").water, Water(2.5)),
    ("set builds/lighthouse/starts 2026-03-01T10:00:00", lambda j: j.build("lighthouse").starts, datetime(2026, 3, 1, 10)),
    ("set builds/lighthouse/bought_parts yes", lambda j: j.build("lighthouse").bought_parts, True),
    ('set builds/lighthouse/pieces/gallery/form {"type": "sphere", "diameter_m": 3}', lambda j: j.build("lighthouse").pieces[1].form,
     Sphere(3.0)),
    ("set builds/lighthouse/pieces/gallery/at_m [0.5, 20]", lambda j: j.build("lighthouse").pieces[1].at_m, (0.5, 20.0)),
    ("set shop/air/night_c -3.5 C", lambda j: j.shop.air.night_c, -3.5),
    ("set shop/hours/opens 07:30", lambda j: j.shop.hours.opens, time(7, 30)),
    ('set shop/hours/days_off ["2026-04-06"]', lambda j: j.shop.hours.days_off, (date(2026, 4, 6),)),
    ("set shop/mixing/vessel_m3 5 l", lambda j: j.shop.mixing.vessel_m3, 0.005),
    ("set shots/1/rule frame-by-frame", lambda j: next(s.rule for s in j.shots if s.id == "1"), FrameByFrame()),
    ("set shots/1/plate/tilt_deg -3.5", lambda j: next(s.plate.tilt_deg for s in j.shots if s.id == "1"), -3.5),
    ("set cards/materials/silicone-tin-soft/density_kg_m3/value 1150", lambda j: j.cards.material("silicone-tin-soft").density_kg_m3.value,
     1150.0),
    ("remove builds/gulls", lambda j: [b.id for b in j.builds if b.id == "gulls"], []),
    ("move builds/gulls to 1", lambda j: j.builds[0].id, "gulls"),
    ('add builds/ferry/moves at 1 {"name": "turns", "real_m_s": 2}', lambda j: j.build("ferry").moves[0].name, "turns"),
    ('add builds/ferry/moves {"name": "turns", "real_m_s": 2}', lambda j: j.build("ferry").moves[-1].name, "turns"),
]  # fmt: skip


@pytest.mark.parametrize(("line", "of", "wanted"), LINES, ids=[line for line, _, _ in LINES])
def test_a_line_does_what_it_says_and_its_edit_goes_back(demo_document, line, of, wanted):
    job = demo_document.job
    edit, after = do(job, line)
    assert of(after) == wanted
    assert apply_all(after, inverses((edit,))) == job
    assert read(write(edit, job), job) == edit


@pytest.mark.parametrize(
    ("line", "told"),
    [
        ("paint builds/lighthouse red", "is no edit"),
        ("set", "is no edit"),
        ("set builds/lighthouse/scale", "No value was given"),
        ("set builds/lamp/scale 8", "There are: lighthouse, ferry"),
        ("set builds/lighthouse/weight 8", "Nothing called “weight”"),
        ("set builds/lighthouse/scale/of 8", "Nothing called “of”"),
        ("set builds/lighthouse/scale 1:8:3", "is not a"),
        ("set builds/lighthouse/pieces/gallery/mould/blanket_m 3 m", "It goes from 0.5 mm to 200 mm"),
        ("set builds/lighthouse/pieces/gallery/mould/blanket_m 3 kg", "kg"),
        ("set builds/lighthouse/pieces/gallery/mould/layers 2.5", "is no whole number"),
        ("set builds/lighthouse/pieces/gallery/mould none", ""),
        ("set builds/lighthouse/bought_parts maybe", "neither yes nor no"),
        ("set builds/lighthouse/starts tomorrow", "cannot stand here"),
        ("set builds/lighthouse/pieces none", "is no list"),
        ("set builds/lighthouse/pieces/gallery/form cube", "cannot stand here"),
        ('set builds/lighthouse/pieces/gallery/form {"type": "sphere"}', "missing required field"),
        ('set builds/lighthouse/pieces/gallery/form {"type": ', "cannot be read"),
        ("add builds/lighthouse/name x", "no list"),
        ('add builds {"id": "ferry"}', "missing required field"),
        ('add builds/ferry/moves at 9 {"name": "turns", "real_m_s": 2}', "There is no place 9"),
        ("remove builds/lighthouse/name", "is no item of a list"),
        ("remove builds/lamp", "There is no “lamp”"),
        ("move builds/gulls to 99", "Write to 1 up to to 7"),
        ("move builds/gulls", "says no place"),
    ],
)
def test_a_bad_line_says_what_is_wrong_and_what_to_do(demo_document, line, told):
    job = demo_document.job
    if not told:  # what may be none is taken away
        assert do(job, line)[1].build("lighthouse").pieces[1].mould is None
        return
    with pytest.raises(UserError) as trouble:
        do(job, line)
    assert told in str(trouble.value)
    assert trouble.value.remedy


@given(st.sampled_from([line for line, _, _ in LINES]), st.integers(0, 90), st.integers(0, 12),
       st.text(st.sampled_from(' /%#"{}[]:,.-−0123456789aeEnmst∞½\u00a0\x00'), max_size=30) | st.sampled_from(["9" * 400, "{" * 5000, "1e999"]))  # fmt: skip
def test_whatever_is_typed_is_an_edit_or_a_sentence(line, at_, cut, typed):
    job = DEMO
    try:
        edit, after = do(job, line[:at_] + typed + line[at_ + cut :])
    except UserError:
        return
    assert apply_all(after, inverses((edit,))) == job
    assert decode(encode(after, ()), "job.json").job == after


def test_an_id_is_there_once(demo_document):
    job = demo_document.job
    line = write(Add(("builds",), 0, job.build("ferry")), job)
    with pytest.raises(UserError, match="Two builds are called “ferry”"):
        do(job, line)


def test_an_edit_is_not_made_where_something_else_stands_by_now(demo_document):
    job = demo_document.job
    scale = ("builds", "lighthouse", "scale")
    for edit in (Set(scale, 11.0, 8.0), Remove(("builds",), 0, job.builds[1]), Remove(("builds",), 99, job.builds[1]),
                 Add(("builds",), 99, job.builds[0]), Move(("builds",), 0, 99)):  # fmt: skip
        with pytest.raises(UserError, match="is otherwise by now"):
            apply(job, edit)
    with pytest.raises(UserError, match="is no list"):
        apply(job, Move(scale, 0, 1))


@pytest.mark.parametrize(
    ("value", "field", "written"),
    [(0.0127, "blanket_m", "12.7 mm"), (18.0, "height_m", "18 m"), (1 / 3, "height_m", "0.3333333333333333 m"), (1e-7, "x_m", "0.0001 mm"),
     (0.4, "scale", "2.5:1"), (1 / 3, "scale", "3:1"), (12.0, "drawn_at", "1:12"), (7.000001, "scale", "1:7.000001"), (5400.0, "lag_s", "1.5 h"),
     (0.08, "waste", "0.08"), (3, "layers", "3"), (-1.5, "height_m", "-1.5 m"), (1120.0, "density_kg_m3", "1120"), (0.25, "hours_per_m2", "0.25"),
     ("none", "name", '"none"'), (" a", "name", '" a"'), ("a\nb", "name", '"a\\nb"'), (Gravity(), "rule", '{"type":"gravity","faster":1.0}'),
     (0.00075, "vessel_m3", "750 ml"), (24.0, "base_rate_fps", "24 fps")],
)  # fmt: skip
def test_values_are_written_in_the_units_that_people_think_in(value, field, written):
    assert write_value(value, field) == written


@given(st.floats(1e-9, 1e9), st.sampled_from(("height_m", "vessel_m3", "mass_kg", "lag_s", "rate_fps", "waste")))
def test_every_number_reads_back_to_the_last_bit(value, field):
    from homunculus.core.edits.lines import _number

    assert _number(write_value(value, field), kind_of(field)) == value


def test_remarks_and_empty_lines_are_passed_over_and_lines_keep_their_numbers():
    assert said("# a remark\n\n  set a b\n\t# another\nmove a to 1\n") == [(3, "set a b"), (5, "move a to 1")]


def test_lists_without_names_are_edited_by_number(demo_document):
    job = demo_document.job
    build = job.build("lighthouse")
    waits = tuple(After(name) for name in ("sculpt", "turn", "bolts"))
    first, *others = build.assembly
    with_waits, fewer = (
        replace_build(job, replace(build, assembly=(replace(first, after=w), *others)))
        for w in (waits, (waits[0], waits[2]))
    )
    (edit,) = edits_between(with_waits, fewer)
    assert isinstance(edit, Remove)
    assert (edit.path, edit.at) == (("builds", "lighthouse", "assembly", first.id, "after"), 1)
    shot = job.shots[0]
    rules = [replace(shot, rule=rule) for rule in (FixedRate(48.0), ScreenTime(2.0))]
    (choice,) = edits_between(replace(job, shots=(rules[0],)), replace(job, shots=(rules[1],)))
    assert choice.path == ("shots", shot.id, "rule")


def test_the_demo_is_what_its_lines_make_of_a_job_with_nothing_in_it(demo_document):
    text = (Path(__file__).parents[2] / "scripts" / "demo.lines").read_text("utf-8")
    wanted = demo_document.job
    for form in {p.form for b in wanted.builds for p in b.pieces if isinstance(p.form, Mesh)}:
        text = text.replace(f'"@{form.file_name.removesuffix(".stl")}"', f'"{form.content}"')
    job = Job("a job", Shop(), ())
    for _, line in said(text):
        job = do(job, line)[1]
    thawed = tuple(replace(b, frozen=None) for b in wanted.builds)  # what is frozen is reckoned when it is
    assert edits_between(job, replace(wanted, builds=thawed)) == ()


def test_every_example_of_the_handbook_runs(demo_document, folder):
    handbook = (Path(__file__).parents[2] / "docs" / "lines.md").read_text("utf-8")
    examples = said(handbook.split("```")[1])
    assert len(examples) > 12
    for _, line in examples:
        edit, after = do(demo_document.job, line)
        assert apply_all(after, inverses((edit,))) == demo_document.job, line
    session = Session(demo_document.job, shelf=library.shelf(), reshaping=Reshaper(folder))
    wishes = said(handbook.split("```")[3])
    assert {line.split()[0] for _, line in wishes} == set(WISHES)
    for number, (_, line) in enumerate(wishes, 1):
        session.do(line)
        assert len(session._changes) == number, line
    while session.undo():
        pass
    assert session.job == demo_document.job


def test_every_decided_value_is_stepped_up_and_down_within_its_type_and_stands_in_the_file(demo_document):
    """Labels, kinds and steps are told where a field is declared: whatever is declared so works at the screen."""
    job = demo_document.job
    count = 0
    for build in job.builds:
        for decision in decisions(job, build.id):
            filed = False
            for steps in (1, -1):
                try:
                    after = decide(job, decision, stepped(decision, steps))
                except UserError:  # at its limit
                    continue
                count += 1
                again = find_decision(after, build.id, decision.key)
                assert again.value == pytest.approx(stepped(decision, steps), rel=1e-9), decision
                if not filed:  # either way the same field is written
                    assert decode(encode(after, ()), "job.json").job == after, decision
                    filed = True
                assert all(type(edit) is Set for edit in edits_between(job, after))
    assert count > 400
