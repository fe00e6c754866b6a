"""Rules of the house that a linter does not know."""

import ast
import importlib
import inspect
import pkgutil
import re
import sys
from pathlib import Path

import grimp
import pytest
from msgspec import Struct

import homunculus
import homunculus.core
from homunculus import library
from homunculus.core.cure.clock import clock_of
from homunculus.core.figures import Rule
from homunculus.core.form.study import SHARES
from homunculus.core.job.cards import STIRRED_IN, Cards, Hardness
from homunculus.core.job.sourced import Sourced
from homunculus.core.shelf.stock import doubt_about_stock

MODULES = [m.name for m in pkgutil.walk_packages(homunculus.core.__path__, "homunculus.core.")]


def public_callables():
    for name in MODULES:
        module = importlib.import_module(name)
        for key, item in vars(module).items():
            if key.startswith("_") or (getattr(item, "__module__", name) != name and not isinstance(item, Rule)):
                continue
            if isinstance(item, Rule):
                if item.function.__module__ == name:
                    yield f"{name}.{key}", item.function
            elif inspect.isfunction(item):
                yield f"{name}.{key}", item
            elif inspect.isclass(item) and item.__module__ == name:
                for method, function in vars(item).items():
                    told = any(
                        method in vars(base) for base in item.__mro__[1:] if base.__module__.startswith("homunculus")
                    )
                    if (
                        inspect.isfunction(function) and not method.startswith("_") and not told
                    ):  # what a protocol asks, it tells
                        yield f"{name}.{key}.{method}", function


UNIT = re.compile(r"_(?:kg|m|m2|m3|kg_m3|kg_m2|s|min|c|fps|deg|lx|px|rad|hours)$|^(?:seconds|minutes|celsius|k)$")
UNIT_WORDS = re.compile(
    r"\[[^\]]+\]|share|ratio|factor|stop|count|scale|1:|tolerance|unit|fps|confidence|seconds|sum|figures|found|number|value",
    re.I,
)


@pytest.mark.parametrize(("name", "function"), list(public_callables()))
def test_every_public_function_says_what_its_arguments_are_and_in_which_unit(name, function):
    text = inspect.getdoc(function) or ""
    missing = [p for p in inspect.signature(function).parameters
               if p not in ("self", "cls", "parts", "inputs", "shots") and p not in text]  # fmt: skip
    assert text, name
    assert not missing, f"{name} does not say what {missing} mean"
    silent = [p for p, v in inspect.signature(function).parameters.items()
              if "float" in str(v.annotation) and not UNIT.search(p) and not UNIT_WORDS.search(text)]  # fmt: skip
    assert not silent, f"{name} does not say in which unit {silent} are"


def test_rules_name_their_formula_and_source():
    rules = [v for m in MODULES for v in vars(importlib.import_module(m)).values() if isinstance(v, Rule)]
    assert len({r.name for r in rules}) > 30
    for rule in rules:
        assert rule.formula
        assert rule.source


def test_what_the_core_hands_out_cannot_be_changed_behind_its_back():
    kept = {v for m in MODULES for v in vars(importlib.import_module(m)).values()
            if inspect.isclass(v) and issubclass(v, Struct) and v is not Struct}  # fmt: skip
    assert len(kept) > 80
    assert [v.__name__ for v in kept if not v.__struct_config__.frozen] == []


def test_the_core_runs_without_qt():
    assert not [m for m in sys.modules if m.startswith("PySide6")] or "pytestqt" in sys.modules


# ------------------------------------------------------------------------------------------- cards
FAMILIES = {family.id: family for family in library.families()}


@pytest.mark.parametrize("card", library.materials(), ids=lambda c: c.id)
def test_every_material_card_is_within_what_its_family_is(card):
    family = FAMILIES[card.family]
    assert [f"{u.field} {getattr(card, u.field).value:g}" for u in family.odd(card)] == []
    assert all(word.islower() or not word.isalpha() for word in card.name.split()), "generic names only"
    assert {s.source for f in card.__struct_fields__ if isinstance(s := getattr(card, f), Sourced | Hardness)} == {
        "typical, from memory: replace with your data sheet"
    }
    for sooner, later in (
        ("pot_life_s", "demould_s"),
        ("demould_s", "full_cure_s"),
        ("opened_life_s", "shelf_life_s"),
        ("firm_c", "pour_c"),
    ):
        values = getattr(card, sooner), getattr(card, later)
        assert None in values or values[0].value < values[1].value, sooner
    assert len(card.packs) > 0
    dear = [pack.price / pack.mass_kg for pack in card.packs]
    assert dear == sorted(dear, reverse=True), "a larger pack is no dearer a kilogram"
    assert all(pack.price / pack.mass_kg == pytest.approx(card.price_per_kg.value, rel=0.16) for pack in card.packs)
    if card.family in ("silicone", "resin", "urethane rubber", "polyurethane foam", "laminate") and card.parts:
        assert len(card.parts) >= 2
        cards = Cards(hazards=library.hazards())
        said = [words for step in ("mould", "mix", "weigh", "cure") for words in cards.cautions(card, step)]
        assert said, "a chemical without its caution"
    if card.parts and STIRRED_IN not in card.traits:
        clock_of(card)  # refuses a card that lacks what its clock needs
        assert card.demould_s


def test_every_family_of_the_trade_has_its_materials():
    """The families are those of the workshop's list; every one that the library names has a card, and no card another one."""
    assert {card.family for card in library.materials()} == set(FAMILIES)
    assert {"clay", "wax", "gypsum", "silicone", "urethane rubber", "resin", "polyurethane foam", "laminate", "gel coat", "latex",
            "foam latex", "gelatin", "alginate", "block foam", "sheet foam", "sheet", "print stock", "metal", "board", "cloth", "hair",
            "coat", "glue", "release", "stir-in", "fluid", "loose stuff"} == set(FAMILIES)  # fmt: skip
    assert len(library.materials()) >= 60
    named = {word for card in library.materials() for word in card.bonds_to}
    assert named <= set(FAMILIES)


def test_every_other_card_can_be_what_it_says():
    stock = library.stock()
    assert doubt_about_stock(stock) == ""
    assert len(stock.cameras) >= 3
    for mode in (mode for card in stock.cameras for mode in card.modes):
        assert list(mode.rates_fps) == sorted(set(mode.rates_fps))
        assert 0.005 < mode.sensor_height_m.value < mode.sensor_width_m.value < 0.1
    assert len(stock.lenses) >= 8
    for lens in stock.lenses:
        assert 0.008 <= lens.focal_m.value <= 0.3
        assert lens.widest.value < lens.narrowest.value
        # a front takes in at least the entrance pupil; the pupil's magnification tells retrofocus from tele
        assert lens.front_m.value > lens.focal_m.value / lens.widest.value
        assert (lens.pupil.value > 1) == (lens.focal_m.value < 0.05) or lens.pupil.value == 1
    assert all(oven.highest_c >= 85 for oven in stock.ovens), "foam latex is baked at 85 °C"
    assert all(scale.most_kg / scale.step_kg >= 1000 for scale in stock.scales)


def test_the_hazards_of_the_trade_are_there_and_each_says_who_decides():
    hazards = library.hazards()
    assert len(hazards) >= 30
    assert all(h.decides and h.steps and h.words.endswith(".") for h in hazards)
    assert all(h.families or h.build_kinds or h.said or set(h.steps) <= {"lift", "take", "light"} for h in hazards), (
        "shown nowhere"
    )
    told = " ".join(h.words for h in hazards).casefold()
    for word in ("limb", "airway", "patch-test", "isocyanates", "styrene", "peroxide", "solvent", "dust", "ammonia", "food", "allergen",
                 "haze", "dry ice", "lamps", "breathing", "seconds", "contact lenses", "blood", "hears", "mains", "hatches", "crush",
                 "eye height", "sand", "talc", "brazing", "jets", "magnets", "carbon monoxide", "armed", "knees", "licensed"):  # fmt: skip
        assert word in told, word
    assert {f for h in hazards for f in h.families} <= set(FAMILIES)
    assert {k for h in hazards for k in h.build_kinds} <= {kind.id for kind in library.kinds()}


def test_the_demo_uses_only_cards_of_the_library_and_embeds_them(demo_document):
    offered = {card.id: card for card in library.materials()}
    for card in demo_document.job.cards.materials:
        assert offered[card.id] == card


def test_shares_of_the_layer_curve_rise_from_nought():
    assert SHARES[0] == 0
    assert list(SHARES) == sorted(set(SHARES))


def test_moments_are_written_in_one_place():
    """Two writers of the hour would one day differ by a minute. A trace and a spreadsheet's cell are for machines."""
    source = Path(homunculus.__file__).parent
    places = {str(f.relative_to(source)) for f in source.rglob("*.py")
              if re.search(r"\{[^{}]*(:[^{}\"]*%[HMdYbS]|\.(hour|minute):)[^{}]*\}", f.read_text(encoding="utf-8"))}  # fmt: skip
    assert "core/showing.py" in places
    assert {p for p in places if p.startswith(("app", "core"))} == {"core/showing.py", "app/start.py"}


# ------------------------------------------------------------------------------------------ the window
QUANTITY = re.compile(
    r"\.number\b|\.value\b|total_seconds|\w_(?:kg|m|m2|m3|s|c|fps|deg|lx)\b(?!\()|\b(?:86400|3600)(?:\.0)?\b"
)
TO_PIXELS = {
    "benches/cure/chart.py": "time and degrees along an axis", "benches/scale/elevation.py": "metres to pixels",
    "benches/mould/bench.py": "the loupe and how far a plane slides", "benches/shot/frame.py": "what stands in the frame, to pixels",
    "benches/shot/bench.py": "the frame has the sensor's proportions", "benches/cure/bench.py": "a handle pulled beneath its least is off",
    "benches/mix/bench.py": "what handling takes, as the rest of a ring", "shell/clock.py": "hours along an axis",
    "shell/bench_area.py": "a scroll bar's own value", "theme/ink.py": "words of a number, one after another", "drawing/row_list.py": "a scroll bar's own value", "benches/shop/drawing.py": "the stage to its own scale",
    "benches/lens/side.py": "metres to pixels", "benches/lens/bench.py": "metres and blur to pixels",
    "benches/stage/floor_view.py": "metres to pixels", "benches/stage/told.py": "places for hands, to pixels", "benches/moves/bench.py": "a pull along the time", "benches/moves/timeline.py": "seconds to pixels",
    "benches/moves/played.py": "metres to pixels", "benches/lens/light.py": "amperes along a bar", "benches/lens/told.py": "blur to pixels",
}  # fmt: skip
"""Where the window may reckon with quantities: only to draw them."""


def test_the_window_draws_and_does_not_reckon():
    app = Path(homunculus.__file__).parent / "app"
    found = {}
    for path in sorted(app.rglob("*.py")):
        text = path.read_text("utf-8")
        for node in ast.walk(ast.parse(text)):
            if isinstance(node, ast.BinOp | ast.AugAssign):
                words = ast.unparse(node)
                if QUANTITY.search(words) and not re.search(r"[\"']", words):
                    found.setdefault(str(path.relative_to(app)), []).append(f"{node.lineno}: {words}")
            elif isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "sum":
                words = ast.unparse(node)
                if QUANTITY.search(words):
                    found.setdefault(str(path.relative_to(app)), []).append(f"{node.lineno}: {words}")
    assert {name: lines for name, lines in found.items() if name not in TO_PIXELS} == {}
    assert set(TO_PIXELS) <= set(found), "no longer needed here"


def test_no_module_imports_itself_by_a_detour():
    graph = grimp.build_graph("homunculus", cache_dir=None)
    order, seen = [], set()

    def walk(module, trail):
        if module in trail:
            raise AssertionError(" → ".join([*trail[trail.index(module) :], module]))
        if module not in seen:
            for other in sorted(graph.find_modules_directly_imported_by(module)):
                walk(other, [*trail, module])
            seen.add(module)
            order.append(module)

    for module in sorted(graph.modules):
        walk(module, [])
    assert len(order) > 150
