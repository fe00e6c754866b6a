"""Figures carry how they came, and the explanation cannot drift from the number."""

from datetime import datetime
from pathlib import Path

import pytest

from homunculus.core import specs
from homunculus.core.camera import frame_rate
from homunculus.core.figures import Figure, Given, Outcome, Subject, derive, rule
from homunculus.core.plan.job_plan import plan
from homunculus.core.planners.counts import of_all
from homunculus.core.why import phrase, show_figure, why
from homunculus.report import BASE_UNITS, column_table, figure_table

DOCS = Path(__file__).parents[2] / "docs"


def test_derive_runs_the_rule_and_keeps_what_went_in():
    figure = derive(
        specs.RATE_WANTED, frame_rate.gravity_rate, Subject("tower", shot="2"),
        scale=Given(12.0, "scale", "scale", decided=True), base=Given(24.0, "rate", "projected rate", "shop"),
        faster=Given(1.0, "factor", "faster"),
    )  # fmt: skip
    assert figure.number == pytest.approx(83.138, abs=1e-3)
    told = why(figure)
    assert told.value == "83.1 fps".replace(" ", "\u00a0")
    assert [(i.label, i.value.replace("\u00a0", " "), i.origin) for i in told.inputs] == [
        ("scale", "1:12", "decided"), ("projected rate", "24 fps", "shop"), ("faster", "1 ×", "given"),
    ]  # fmt: skip
    assert told.source.startswith("dynamic similarity")
    assert str(figure.subject) == "tower@2"


def test_notes_travel_from_the_rule_to_the_why():
    @rule("x doubled", "arithmetic")
    def doubled(*, x):
        return Outcome(2 * x, ("beyond what was tried",))

    figure = derive(specs.HEIGHT, doubled, Subject("b"), x=Given(1.0, "length", "x"))
    assert figure.value == 2.0
    assert "beyond what was tried" in why(figure).lines()


def test_a_moment_is_no_number():
    figure = Figure(specs.READY, Subject("b"), datetime(2026, 3, 5), frame_rate.gravity_rate, ())
    with pytest.raises(TypeError):
        _ = figure.number


def test_every_figure_of_the_demo_can_be_recomputed_from_its_own_record(demo_document, demo_facts):
    made = plan(demo_document.job, demo_facts)
    assert len(made.figures()) > 300
    for figure in made.figures():
        again = figure.rule.function(**{name: item.value for name, item in figure.inputs})
        value = again.value if isinstance(again, Outcome) else again
        assert value == figure.value or figure.spec is specs.FORM, figure.spec.name
        assert why(figure, "imperial").lines()


def test_a_sentence_takes_its_numbers_from_figures(session):
    height = session.plan().build("lighthouse").find(specs.HEIGHT)
    assert phrase((height, " tall")).replace("\u00a0", " ") == "1.63 m tall"
    assert "in" in phrase((height,), "imperial") or "'" in phrase((height,), "imperial")
    assert show_figure(height).replace("\u00a0", " ") == "1.63 m"


def test_names_are_stable_unique_and_each_kind_has_a_unit():
    names = [spec.name for spec in specs.ALL]
    assert len(set(names)) == len(names)
    assert all(spec.kind in BASE_UNITS for spec in specs.ALL)
    assert all(spec.meaning.endswith(".") for spec in specs.ALL)


def test_the_list_of_figures_in_the_documents_is_true():
    assert (DOCS / "figures.md").read_text("utf-8") == figure_table(), "run scripts/write_docs.py"
    assert (DOCS / "shot-list.md").read_text("utf-8") == column_table(), "run scripts/write_docs.py"


def test_whatever_people_call_their_pieces_can_be_summed():
    given = Given(2, "count", "two")
    total = derive(specs.ALL_CASTINGS, of_all, Subject("b"), spec=given, rule=given, subject=given)
    assert total.value == 6
