"""The shelf: sheets read over themselves, found, begun, edited by lines, taken into jobs, followed."""

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus import library
from homunculus.core.edits.decisions import decide, find_decision
from homunculus.core.edits.edit import apply_all, edits_between, inverses
from homunculus.core.errors import UserError
from homunculus.core.job.cards import Hardness, Pack
from homunculus.core.job.sourced import ENTERED, Sourced
from homunculus.core.plan.job_plan import plan
from homunculus.core.plan.ledger import moved_builds, news
from homunculus.core.session import Session
from homunculus.core.shelf.finding import begun, copied, found
from homunculus.core.shelf.lines import do_line
from homunculus.core.shelf.sheet import HERE, NOBODY, beside, read_row, row_of, rows
from homunculus.core.shelf.stock import SORTS, Stock, Storeroom, doubt_about_stock
from homunculus.core.shelf.taking import bought_line, followed, left_as_is, newer, put_down, shelved, taken
from homunculus.core.shelf.telling import fact_of, largest_pack, strip_of

STOCK, FAMILIES = library.stock(), library.families()
ROOM = Storeroom(STOCK)
SOFT = STOCK.card("materials", "silicone-tin-soft")


# ---------------------------------------------------------------------------------------------- sheets
@pytest.mark.parametrize("system", ["metric", "imperial"])
@pytest.mark.parametrize("sort", [s.name for s in SORTS if STOCK.of(s.name)])
def test_a_sheet_typed_over_itself_changes_nothing_and_every_row_can_be_read(sort, system):
    for card in STOCK.of(sort):
        blank = replace(card, name="") if hasattr(card, "name") else card
        for row in rows(card, system):
            assert read_row(card, row.key, row.text, system) is card
            if row.text and row.key != "name":  # into a card that says otherwise: then the words are really read
                other = read_row(blank, row.key, f"{row.text} from a sheet" if row.sourced else row.text, system)
                assert row_of(other, row.key, system).text == row.text, (card.id, row.key)


def test_a_row_takes_any_unit_and_says_where_it_comes_from():
    card = read_row(SOFT, "density", "1.15 g/cm³ from data sheet, March")
    assert card.density_kg_m3 == Sourced(1150.0, "data sheet, March")
    assert read_row(card, "pot life, book", "0.5 h").pot_life_s == Sourced(1800.0, HERE)
    assert read_row(card, "oven", "185 F", "imperial").bake_c.value == pytest.approx(85)
    assert read_row(card, "density", "from the drum").density_kg_m3 == Sourced(1150.0, "the drum")
    assert read_row(card, "hardness, Shore", "Shore 00-30").hardness == Hardness(30, "OO", HERE)
    assert read_row(card, "shrinks by", "−0.2 %").shrink.value == pytest.approx(-0.002)
    assert read_row(card, "sold in", "2 lb 80, 1 kg € 95").packs == (Pack(0.90718474, 80.0), Pack(1.0, 95.0))
    assert [p.density_kg_m3.value for p in read_row(card, "mixed of", "A 1 at 1.1 g/cm3, B 1 at 980 kg/m3").parts] == [
        1100,
        980,
    ]
    assert read_row(card, "stir for", "").stir_s is None
    assert read_row(card, "keeps, closed", "18 months").shelf_life_s.value == pytest.approx(1.5 * 365.25 * 86400)
    camera = read_row(STOCK.cameras[0], "modes", "open gate: 36 × 24 mm, 6000 px, at 24 25 60 fps from its manual")
    assert camera.modes[0].sensor_height_m == Sourced(0.024, "its manual")
    assert camera.modes[0].rates_fps == (24, 25, 60)


@pytest.mark.parametrize(("sort", "card", "row", "typed", "said"), [
    ("materials", SOFT, "density", "", "says too little"), ("materials", SOFT, "weight", "3", "no row"),
    ("materials", SOFT, "sets by", "magic", "chemical, baked"), ("materials", SOFT, "air drawn out", "maybe", "yes nor no"),
    ("materials", SOFT, "hardness, Shore", "40", "its scale"), ("materials", SOFT, "mixed of", "A 1, A 2", "one name"),
    ("materials", SOFT, "density", "heavy", "density"), ("materials", SOFT, "times hold at", "900 C", "cannot be"),
    ("ovens", STOCK.ovens[0], "shelves", "0", "cannot be"), ("cameras", STOCK.cameras[0], "modes", "wide", "no mode"),
    ("lenses", STOCK.lenses[0], "widest stop", "f/0", "cannot be"), ("materials", SOFT, "sold in", "some", "no pack"),
])  # fmt: skip
def test_a_row_that_cannot_be_is_refused_with_what_it_can(sort, card, row, typed, said):
    def doubt():
        return doubt_about_stock(STOCK.with_card(sort, read_row(card, row, typed))) or "nothing"

    if typed == "f/0":  # a stop is a number like any other on its sheet: the stock knows that it cannot be
        assert said in doubt()
        return
    with pytest.raises(UserError, match=said):
        doubt()


def test_two_cards_stand_beside_each_other_row_by_row():
    other = STOCK.card("materials", "silicone-platinum-soft")
    side = {row.label: row for row in beside(SOFT, other)}
    assert (side["price"].one.text, side["price"].other.text, side["price"].differs) == ("24 a kg", "38 a kg", True)
    assert not side["family"].differs
    assert "oven" not in side, "what neither says is left out"


# --------------------------------------------------------------------------------------------- finding
def test_cards_are_found_by_words_families_and_traits():
    def ids(words, sort=""):
        return {hit.card.id for hit in found(STOCK, FAMILIES, words, sort)}

    assert {"silicone-platinum-skin", "resin-casting-clear", "sheet-petg"} <= ids("translucent")
    assert ids("silicone brush") == {"silicone-tin-brush", "silicone-platinum-brush"}
    assert ids("stone") >= {"gypsum-moulding", "gypsum-cement"}, "by where the family stands"
    assert ids("printer", "machines") == {"printer-resin", "printer-filament"}
    assert ids("dry ice", "hazards") == {"dry-ice"}
    order = [hit.group for hit in found(STOCK, FAMILIES, "", "materials")]
    assert list(dict.fromkeys(order)) == [family.id for family in FAMILIES]


def test_a_new_card_begins_with_its_family_and_says_that_nobody_has_said_so():
    card = begun(STOCK, FAMILIES, "materials", "very soft silicone: silicone")
    assert (card.id, card.family, card.clock, card.degassed) == ("very-soft-silicone", "silicone", "chemical", True)
    assert card.density_kg_m3 == Sourced(1200.0, NOBODY)
    assert card.bonds_to == ("silicone",)
    assert begun(STOCK, FAMILIES, "materials", "urethane rubber 90").family == "urethane rubber"
    lens = begun(STOCK, FAMILIES, "lenses", "old 40 mm")
    assert {row.source for row in rows(lens) if row.sourced and row.text} == {NOBODY}
    assert begun(STOCK, FAMILIES, "people", "Ines").skills == ()
    again = copied(STOCK, "materials", "silicone-tin-soft", "tin-cure silicone, soft")
    assert again.id not in {c.id for c in STOCK.materials}
    with pytest.raises(UserError, match="names no family"):
        begun(STOCK, FAMILIES, "materials", "unobtainium")


def test_a_family_tells_what_is_odd_about_a_card():
    family = next(f for f in FAMILIES if f.id == "silicone")
    assert [u.field for u in family.odd(read_row(SOFT, "density", "300 kg/m3"))] == ["density_kg_m3"]
    assert not list(family.odd(SOFT))


# ------------------------------------------------------------------------------------------ lines, undo
def test_lines_edit_the_shelf_and_each_can_be_taken_back():
    lines = ("new material: very soft silicone: silicone", "row materials/very-soft-silicone: price: 31 a kg from data sheet",
             "copy lenses/prime-50: the old fifty", "away materials/clay-sulphur", "delete materials/silicone-tin-firm",
             "row people/ines: skills: sculptor, caster", "back materials/clay-sulphur")  # fmt: skip
    room, steps = do_line(ROOM, "new person: Ines", FAMILIES)[0], []
    start = room
    for line in lines:
        after, key = do_line(room, line, FAMILIES)
        steps.append(edits_between(room, after))
        assert apply_all(room, steps[-1]) == after
        assert len(steps[-1]) >= 1
        assert "/" in key
        room = after
    assert room.stock.card("people", "ines").skills == ("sculptor", "caster")
    assert all(c.id != "silicone-tin-firm" for c in room.offered.materials)
    for edits in reversed(steps):
        room = apply_all(room, inverses(edits))
    assert room == start


def test_every_line_of_the_handbook_about_the_shelf_runs():
    handbook = (Path(__file__).parents[2] / "docs" / "lines.md").read_text("utf-8")
    lines = handbook.partition("The shelf's lines")[2].split("```")[1].removeprefix("text").strip().splitlines()
    assert len(lines) > 8
    room = ROOM
    for line in lines:
        room = do_line(room, line, FAMILIES)[0]
    assert room.stock.card("people", "ines").skills == ("sculptor", "caster")


def test_what_was_put_away_is_there_and_not_offered():
    room = do_line(ROOM, "away materials/clay-sulphur", FAMILIES)[0]
    assert room.stock.card("materials", "clay-sulphur")
    assert all(c.id != "clay-sulphur" for c in room.offered.materials)


@pytest.mark.parametrize("line", ["", "new", "new cheese: brie", "row materials/nothing: price: 3", "row materials/silicone-tin-soft: 3",
                                  "copy materials/silicone-tin-soft:", "paint materials/silicone-tin-soft"])  # fmt: skip
def test_a_line_that_cannot_be_run_is_refused_in_a_sentence(line):
    with pytest.raises(UserError) as trouble:
        do_line(ROOM, line, FAMILIES)
    assert trouble.value.remedy


# ------------------------------------------------------------------------------------ taken and followed
def test_a_newer_price_on_the_shelf_is_said_with_what_would_move_and_followed_only_when_asked(
    demo_document, demo_facts
):
    """By hand: a mould's rubber is priced by the kilogram, so 30 for 24 a kilogram is a quarter more."""
    job = demo_document.job
    assert newer(job, STOCK) == ()
    stock = STOCK.with_card("materials", read_row(SOFT, "price", "30 from the invoice"))
    (hit,) = newer(job, stock)
    assert (hit.key, hit.words) == ("materials/silicone-tin-soft", "price 24 a kg → 30 a kg")
    before = plan(job, demo_facts)
    after = plan(followed(job, stock, hit.key), demo_facts)
    moves = {
        (b.id, m.after.spec.name): m.after.number / m.before.number for b, ms in moved_builds(before, after) for m in ms
    }
    cost = {build: ratio for (build, name), ratio in moves.items() if name == "rubber.cost"}
    assert cost
    assert all(1 < ratio <= 1.25 + 1e-9 for ratio in cost.values())
    assert max(cost.values()) == pytest.approx(1.25)
    told = news(moved_builds(before, after), "metric", "€")
    assert [line.partition(":")[0] for line in told] == ["Lighthouse and breakwater"] * 2 + ["Paddle ferry"]
    assert all("→" in line for line in told)
    assert told[-1].endswith(f"  and {sum(min(2, len(moves)) for _, moves in moved_builds(before, after)) - 3} more")
    assert news(moved_builds(before, after)[:1], "metric", "€") == told[:2]
    assert news((), "metric", "€") == ()
    assert newer(followed(job, stock, hit.key), stock) == ()
    left = left_as_is(job, stock, hit.key)
    assert newer(left, stock) == ()
    assert left.cards == job.cards
    assert newer(left, stock.with_card("materials", read_row(SOFT, "price", "31"))), "another one is said again"


def test_what_the_shelf_says_beside_is_no_news_unless_somebody_decides_it(demo_document):
    job = demo_document.job
    card = job.cards.material("silicone-tin-soft")
    bare = replace(card, colour="", packs=(), hardness=None)
    job = replace(job, cards=replace(job.cards, materials=tuple(bare if c is card else c for c in job.cards.materials)))
    assert newer(job, STOCK) == ()
    assert followed(job, STOCK, "materials/silicone-tin-soft") == demo_document.job, (
        "all of it comes where somebody follows"
    )
    undated = replace(card, demould_s=None)
    job = replace(
        job, cards=replace(job.cards, materials=tuple(undated if c is bare else c for c in job.cards.materials))
    )
    assert [hit.words for hit in newer(job, STOCK)] == ["demould, book nothing → 16 h"]


def test_what_was_entered_for_a_job_stays_when_the_shelf_is_followed(demo_document):
    job = demo_document.job
    job = decide(job, find_decision(job, "lighthouse", "card.silicone-tin-soft.price_per_kg"), 20.0)
    stock = STOCK.with_card("materials", read_row(read_row(SOFT, "price", "30"), "pot life, book", "40 min"))
    (hit,) = newer(job, stock)
    assert [row.label for row in hit.changes] == ["pot life, book"]
    card = followed(job, stock, hit.key).cards.material("silicone-tin-soft")
    assert card.price_per_kg == Sourced(20.0, ENTERED)
    assert card.pot_life_s.value == 2400
    assert shelved(stock, job, hit.key).card("materials", "silicone-tin-soft").price_per_kg.value == 20.0


def test_a_job_takes_of_every_sort_and_embeds_what_its_pieces_name(demo_document):
    job = demo_document.job
    for key in (
        "ovens/oven-large",
        "people/paulo",
        "lenses/probe-24",
        "vessels/vessel-tub",
        "stages/stage-large",
        "cameras/high-speed-1000",
    ):
        job = taken(job, do_line(ROOM, "new person: Paulo", FAMILIES)[0].stock, key)
    assert (job.shop.ovens[-1].id, job.shop.people[-1].name, job.cards.lenses[-1].id) == (
        "oven-large",
        "Paulo",
        "probe-24",
    )
    assert (job.shop.stage.width_m, job.shop.stage.name, job.shop.stage.door_height_m) == (30.0, "large stage", 4.5)
    assert put_down(job, "ovens/oven-large").shop.ovens == demo_document.job.shop.ovens
    with pytest.raises(UserError, match="carries no oven"):
        put_down(demo_document.job, "ovens/oven-large")
    own = do_line(ROOM, "new material: gel skin: gelatin", FAMILIES)[0].stock
    session = Session(demo_document.job, shelf=replace(library.shelf(), materials=own.materials))
    session.do("set builds/keeper/pieces/cheek/material gel-skin")
    assert session.job.cards.material("gel-skin").family == "gelatin"
    session.undo()
    assert session.job == demo_document.job


def test_a_bought_thing_becomes_a_piece_as_large_as_it_is_sold(demo_document):
    """75 mm on a build at 1:12 stands for 900 mm."""
    line = bought_line(demo_document.job, STOCK, "window-12", "lighthouse")
    assert "box 900 × 144 × 1320 mm, bought" in line
    session = Session(demo_document.job, shelf=library.shelf())
    session.do(line)
    piece = session.job.build("lighthouse").pieces[-1]
    assert piece.form.length_m / session.job.build("lighthouse").scale == pytest.approx(0.075)
    with pytest.raises(UserError, match="how large"):
        bought_line(demo_document.job, STOCK, "undersuit", "lighthouse")


@given(
    st.sampled_from([(s.name, c.id) for s, c in STOCK.cards()]),
    st.floats(1e-6, 1e6),
    st.sampled_from(["metric", "imperial"]),
)
def test_any_number_typed_into_any_row_is_kept_or_refused_and_shown_as_it_was_typed(which, number, system):
    card = STOCK.card(*which)
    for row in rows(card):
        if row.kind is None or row.kind in ("scale", "money"):
            continue
        try:
            made = read_row(card, row.key, f"{number:.3g}".replace("e+0", "e"), system)
        except UserError:
            continue
        shown = row_of(made, row.key, system).text
        assert read_row(made, row.key, shown, system) is made


def test_an_empty_stock_is_a_stock():
    assert doubt_about_stock(Stock()) == ""
    assert "Two ovens" in doubt_about_stock(Stock(ovens=(STOCK.ovens[0], STOCK.ovens[0])))


# --------------------------------------------------------------------------------------------- telling
def test_every_card_tells_one_fact_in_both_systems():
    for _, card in STOCK.cards():
        assert fact_of(card), card.id
        assert fact_of(card, "imperial")
    assert fact_of(SOFT, currency="CHF") == "CHF 24 a kg"
    assert fact_of(STOCK.card("cameras", "high-speed-1000")) == "to 1000 fps"
    assert fact_of(STOCK.card("vessels", "vessel-pail")) == "3 L, vacuum"


def test_a_pack_is_drawn_as_long_as_its_volume_is_a_share_of_a_drum():
    # 22 kg of 1120 kg/m³ are 19.6 of 25 litres: the cube root of 0.786
    assert largest_pack(SOFT) == pytest.approx((22 / 1120 / 0.025) ** (1 / 3))
    assert largest_pack(replace(SOFT, packs=())) == pytest.approx((1 / 1120 / 0.025) ** (1 / 3))
    assert largest_pack(replace(SOFT, packs=(Pack(500.0, 1.0),))) == 1.0


def test_a_value_lies_on_the_strip_of_its_family_among_the_others():
    strip = strip_of(SOFT, "density_kg_m3", FAMILIES, STOCK.materials)
    assert strip.mine == pytest.approx((1120 - 950) / (1450 - 950))
    assert strip.usual == ("950 kg/m³", "1450 kg/m³")
    assert len(strip.others) == sum(c.family == "silicone" for c in STOCK.materials) - 1
    assert not strip.outside
    assert strip_of(read_row(SOFT, "density", "300 kg/m3"), "density_kg_m3", FAMILIES, STOCK.materials).outside
    assert strip_of(read_row(SOFT, "density", "1600 kg/m3"), "density_kg_m3", FAMILIES, STOCK.materials).outside
    assert strip_of(SOFT, "humidity", FAMILIES, STOCK.materials) is None
    assert strip_of(SOFT, "bake_c", FAMILIES, STOCK.materials) is None
    assert strip_of(STOCK.ovens[0], "highest_c", FAMILIES, STOCK.materials) is None
