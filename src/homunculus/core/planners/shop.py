"""What the shop has, against what a build needs: ovens for what is baked, hands that can, a door that it goes through."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.constructions.register import construction_of
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job.build import Build, Piece
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.operations import AnyOperation, Cast
from homunculus.core.making.ovens import Chamber, moulds_in_oven, through
from homunculus.core.plan.build_plan import BuildSheet
from homunculus.core.plan.sheet import Mind


def plan_shop(sheet: BuildSheet) -> None:
    """Derive how many moulds of each baked piece of the ``sheet``'s build an oven takes, and mind what the shop lacks."""
    for piece in sheet.context.build.pieces:
        card = _baked(sheet, piece)
        if card is not None:
            _oven(sheet, piece, card)
    _mind_hands(sheet)
    _mind_door(sheet)


def _baked(sheet: BuildSheet, piece: Piece) -> MaterialCard | None:
    """The material of a piece that is cast in a mould and baked in it; none where it is not."""
    if piece.mould is None or not piece.material or not any(isinstance(op, Cast) for op in piece.route):
        return None
    card = sheet.context.cards.material(piece.material)
    return card if card.clock == "baked" and card.bake_c else None


def _oven(sheet: BuildSheet, piece: Piece, card: MaterialCard) -> None:
    form, mould, subject = sheet.find(specs.FORM, piece.id), piece.mould, sheet.subject(piece.id)
    if form is None or mould is None or card.bake_c is None:
        return
    ovens = sheet.context.shop.ovens
    bake = Given(card.bake_c.value, "temperature", "oven", card.name)
    if not ovens:
        sheet.minds.append(Mind("mind", "mould", subject, (f"{piece.name}: in which oven?",),
            (f"{card.name} is baked in its mould at ", bake, ", and nobody has said which ovens the shop has (E)."), 3.0))  # fmt: skip
        return
    warm = tuple(oven for oven in ovens if oven.highest_c >= card.bake_c.value)
    if not warm:
        sheet.minds.append(Mind("danger", "mould", subject, (f"{piece.name}: no oven is warm enough",),
            (f"{card.name} is baked at ", bake, "; the warmest here keeps ",
             Given(max(oven.highest_c for oven in ovens), "temperature", "warmest oven", "shop"), "."), 6.0))  # fmt: skip
        return
    made = construction_of(mould)
    jacket = sheet.find(specs.JACKET_THICKNESS, piece.id)
    lines = made.section(mould, jacket.number if jacket else 0.0)
    around = max([0.0, *(line.outward_m for line in lines)])
    if made.surround == "halves":
        around = max(around, float(getattr(mould, made.thickness)))
    chambers = tuple(Chamber(oven.name, oven.width_m, oven.depth_m, oven.height_m, oven.shelves) for oven in warm)
    load = sheet.add(derive(specs.OVEN_LOAD, moulds_in_oven, subject,
        form=Given(form.value.size, "thing", "form as built", piece.name),  # type: ignore[union-attr]
        around=Given(around, "length", "around the form", piece.name),
        flange=Given(made.flange_m(mould), "length", "flange", piece.name),
        ovens=Given(chambers, "thing", ", ".join(oven.name for oven in warm), "shop")))  # fmt: skip
    if load.number < 1:
        _mind_size(sheet, piece, card, form)


def _mind_size(sheet: BuildSheet, piece: Piece, card: MaterialCard, form: Figure) -> None:
    longest = max(form.value.size)  # type: ignore[union-attr]
    sheet.minds.append(Mind("danger", "mould", sheet.subject(piece.id), (f"{piece.name}: the mould does not fit the oven",),
        ("Its form is ", Given(longest, "length", "longest side", piece.name), f" long. Part the mould, a larger oven, or a skin that needs none: {card.name} is out."), 7.0))  # fmt: skip


def _mind_hands(sheet: BuildSheet) -> None:
    """Steps that ask for a skill that nobody here has; where nobody was named, nothing is said."""
    people = sheet.context.shop.people
    if not people:
        return
    known = {skill.casefold() for person in people for skill in person.skills}
    missing: dict[str, str] = {}
    for op in _operations(sheet.context.build):
        skill = getattr(op, "skill", "")
        if skill and skill.casefold() not in known:
            missing.setdefault(skill, op.called)
    for skill, step in missing.items():
        sheet.minds.append(Mind("mind", "shoot", sheet.subject(), (f"Nobody here is a {skill}",),
            (f"“{step}” asks for one. Give somebody the skill (E), or the step to other hands.",), 2.0))  # fmt: skip


def _operations(build: Build) -> list[AnyOperation]:
    return [op for ops in (*(piece.route for piece in build.pieces), build.assembly) for op in ops]


def _mind_door(sheet: BuildSheet) -> None:
    """A piece that does not go through the stage's door stays outside."""
    stage = sheet.context.shop.stage
    if stage.door_width_m is None or stage.door_height_m is None:
        return
    scale = sheet.context.build.scale
    for piece in sheet.context.build.pieces:
        form = sheet.forms.get(piece.id)
        size = tuple(side / scale for side in form.size) if form else None
        if size and not through((size[0], size[1], size[2]), stage.door_width_m, stage.door_height_m):
            sheet.minds.append(Mind("danger", "scale", sheet.subject(piece.id), (f"{piece.name} does not go through the door",),
                ("It is ", *_sides(size, piece), "; the door is ", Given(stage.door_width_m, "length", "door, wide", "stage"), " × ",
                 Given(stage.door_height_m, "length", "door, high", "stage"), ". Build it in parts, or on the stage."), 5.0))  # fmt: skip


def _sides(size: tuple[float, ...], piece: Piece) -> tuple[Given | str, ...]:
    sides = [Given(side, "length", "side", piece.name) for side in size]
    return sides[0], " × ", sides[1], " × ", sides[2]
