"""All edits that the window offers, in any order, with undo and redo among them: to the beginning, to the end, saved and opened again."""

import random
from contextlib import suppress

import pytest
from PySide6.QtWidgets import QApplication

from homunculus.core.edits.decisions import decisions
from homunculus.core.errors import UserError
from homunculus.core.job.forms import Box, Mesh
from homunculus.core.job.shots import ByBuild
from homunculus.store.folder import JobFolder
from tests.app.conftest import wait_until

CELLS = {"seconds": ("3", "4.5 s", "nothing"), "day": ("2026-05-11", "11 May 2026"), "name": ("fog", "rain"), "needs": ("fog: stock: two machines", "rock; rope"),
         "call": ("07:30",), "unit": ("second", "")}  # fmt: skip
LINES = ("accept shop", "set shop/air/day_c 20 °C", "build prop: Rock", "build set-cut-out: Town, 9 m, 1:30", "copy lighthouse", "nonsense", "put away gulls",
         "bring back gulls", "tie gulls to lighthouse at 50 %", "untie gulls", "set shop/carry_kg 80 kg")  # fmt: skip


class Person:
    """Somebody who does anything at all with a window, by dice."""

    def __init__(self, window, seed, qtbot):
        self.qtbot, self.desk, self.dice = qtbot, window.desk, random.Random(seed)
        self.bench = window.benches.of("made")
        self.acts, self.breakdown = self.bench.acts, window.desk.breakdown

    def piece_act(self):
        acts, dice, piece = self.acts, self.dice, self.bench.pieces.piece()
        if piece is None:
            return lambda: acts.typed("", "stump: box 1 × 1 × 1 m")
        shape = dice.choice(
            (
                "box 2 × 1 × 3 m",
                "cylinder 2 × 3 m",
                "ball 2 m",
                "dipped 500 l, 1 × 1 × 1 m",
                "clay 2 kg of 1600 kg/m³, 10 × 15 × 20 cm",
            )
        )
        made = dice.choice(
            (
                "carved",
                "jacketed 9 mm",
                "rigid 30 mm gap 5 mm",
                "laminated 0.6 mm",
                "vacuum-formed",
                "printed",
                "bought",
            )
        )
        other = dice.choice(self.desk.job.cast).id
        return dice.choice((
            lambda: acts.typed(piece.id, f"{piece.name}: {shape}, hollow {dice.randint(2, 9)} mm, casting resin slow, {made}"),
            lambda: acts.typed("", f"part {dice.randint(1, 4)}: {shape}, casting resin slow, block, {dice.randint(1, 3)} a figure"),
            lambda: acts.copied(piece), lambda: acts.copied(piece, mirrored=True), lambda: acts.deleted(piece),
            lambda: acts.made(piece, dice.choice(acts.shelf.ways).id), lambda: acts.placed(piece, dice.random(), dice.random()),
            lambda: acts.pushed(piece, along=3), lambda: acts.reordered(piece, dice.choice((-1, 1))),
            lambda: isinstance(piece.form, Box) and acts.sized(piece, 2, dice.uniform(0.1, 9.0)),
            lambda: isinstance(piece.form, Mesh) and acts.split(f"{dice.uniform(0.5, 3):.2f} m {dice.choice(('up', 'along', 'deep'))}"),
            lambda: acts.given(piece, other), lambda: self.breakdown.type_variants(piece.id, dice.choice(("calm 2, wild 1", "", "same, same"))),
        ))  # fmt: skip

    def step_act(self):
        acts, dice, piece = self.acts, self.dice, self.bench.pieces.piece()
        owner = piece.id if piece and dice.random() < 0.8 else ""
        route = piece.route if owner else self.desk.build.assembly
        op = dice.choice([o.id for o in route] or ["none"])
        line = dice.choice(("extra: wait 2 h, a casting", "sand: hands 1 h and 1 h a m², a good piece", "skin: layer slip latex 0.3 mm, 2 coats, a good piece",
                            "again: pour", "rig: hands 3 h, a figure, rigger"))  # fmt: skip
        return dice.choice((
            lambda: acts.step_typed(owner, line), lambda: acts.step_typed(owner, line, op), lambda: acts.step_typed(owner, acts.step_line(owner, op), op),
            lambda: acts.step_deleted(owner, op), lambda: acts.step_moved(owner, op, dice.choice((-2, 1))),
        ))  # fmt: skip

    def build_act(self):
        acts, dice, desk = self.acts, self.dice, self.desk
        return dice.choice((
            acts.build_copied, lambda: acts.build_moved(dice.choice((-1, 1))), lambda: acts.renamed(f"Rock {dice.randint(1, 5)}"), lambda: desk.choose_next(1),
            lambda: len(desk.job.cast) > 3 and acts.build_deleted(), lambda: len(desk.job.cast) > 3 and acts.put_away(), acts.accepted,
            lambda: self.bench._turn(1), lambda: desk.do(dice.choice(LINES)), lambda: self.breakdown.type_signoffs(dice.choice(("likeness by anna", "no", ""))),
            lambda: self.breakdown.freeze("mould shop", "asked"),
        ))  # fmt: skip

    def value_act(self):
        decision = self.dice.choice(decisions(self.desk.job, self.desk.chosen))
        return self.dice.choice((
            lambda: self.desk.step(decision, self.dice.choice((-1, 1, 10))), lambda: self.desk.accept(decision.key),
            lambda: self.desk.decide_typed(decision, self.dice.choice(("1", "12", "0.5", "x"))), lambda: self.desk.to_pin(decision),
        ))  # fmt: skip

    def shot_act(self):
        breakdown, dice = self.breakdown, self.dice
        shots = self.desk.job.shots
        if not shots:
            return breakdown.add_shot
        shot, cell = dice.choice(shots), dice.choice(sorted(CELLS))
        build = dice.choice(self.desk.job.builds).id
        covers = (f"{build}, shows 4, passes 2", f"{build}, destructive, chance 50 %", "stock: crates", "nobody")
        return dice.choice((
            breakdown.add_shot, lambda: breakdown.remove_shot(shot), lambda: breakdown.edit_cell(shot, cell, dice.choice(CELLS[cell])),
            lambda: breakdown.add_need(shot, "a gull: gulls"), lambda: shot.needs and breakdown.cover(shot, 0, dice.choice(covers)),
            lambda: breakdown.set_up(shot, stands="two"), breakdown.take_least_wear,
            lambda: any(isinstance(n.cover, ByBuild) for n in shot.needs) and breakdown.choose(shot.id),
        ))  # fmt: skip

    def act(self):
        kinds = (self.piece_act, self.piece_act, self.step_act, self.build_act, self.value_act, self.shot_act)
        self.dice.choice(kinds)()()
        wait_until(self.qtbot, lambda: not self.desk.runner.busy("file"))  # what cuts a mesh is done by a thread
        QApplication.processEvents()


@pytest.mark.parametrize("seed", [29])
def test_whatever_is_done_in_any_order_is_undone_redone_saved_and_opened(window, now, folder, seed, qtbot):
    window.benches.open("made")
    desk, person = window.desk, Person(window, seed, qtbot)
    states, at = [desk.job], 0
    for _ in range(120):
        if person.dice.random() < 0.12 and at:
            desk.undo()
            at -= 1
        elif person.dice.random() < 0.12 and at < len(states) - 1:
            desk.redo()
            at += 1
        else:
            with suppress(UserError):  # what a question refuses is said by who asks
                person.act()
            if desk.job != states[at]:
                del states[at + 1 :]
                states.append(desk.job)
                at += 1
        assert desk.job == states[at]
        assert not desk.chosen or desk.build_plan.build is desk.build
        assert {b.id for b in desk.job.cast} == {b.build.id for b in desk.plan.builds}
    assert len(states) > 40
    end = desk.job
    while desk.session.can_undo:
        desk.undo()
        at -= 1
        assert desk.job == states[at]
    assert at == 0
    while desk.session.can_redo:
        desk.redo()
    while desk.job != end:
        assert desk.session.can_undo, "the end lies among what was redone"
        desk.undo()
    window.close()
    again = JobFolder(folder, now)
    assert again.job == end
    again.close()
