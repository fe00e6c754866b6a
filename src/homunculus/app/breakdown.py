"""The shots of the desk: which one is drawn, what covers them, their order, counts and signatures."""

from __future__ import annotations

import os
from collections.abc import Callable

from msgspec.structs import replace
from PySide6.QtCore import QObject

from homunculus.app.editor import Editor
from homunculus.app.shot_files import ShotFiles
from homunculus.core.cells.counts import parse_signoffs, parse_variants
from homunculus.core.cells.needs import covered, parse_need
from homunculus.core.cells.shots import BY_KEY, new_shot, put_shot, read_cell
from homunculus.core.edits.decisions import replace_build, replace_piece
from homunculus.core.edits.pieces import piece_removed
from homunculus.core.errors import UserError
from homunculus.core.floor.go_no_go import say
from homunculus.core.floor.wear import take_order
from homunculus.core.job.build import piece_of
from homunculus.core.job.counts import SignOffKind
from homunculus.core.job.job import Job
from homunculus.core.job.shots import Check, Need, Setup, Shot
from homunculus.core.log import LogEvent
from homunculus.core.plan.build_plan import BuildPlan
from homunculus.core.plan.freezing import freeze
from homunculus.core.plan.memory import Last
from homunculus.core.planners.shots import governing_of
from homunculus.core.showing import show_day


class Breakdown(QObject):
    """What the drawings of shots, coverage, counts and order share. Every edit is one step of the desk."""

    def __init__(self, desk: Editor) -> None:
        super().__init__()
        self.desk = desk
        self.files = ShotFiles(desk)
        self.shot_id = ""
        self._chosen_at = ""
        """The build that was chosen when the shot was."""
        self.camera_name = ""
        """Of the camera that is drawn, where a shot has several."""
        self.lit = False
        """Whether the lens's station shows the light instead of the focus."""
        self._drawn: Last[Shot | None] = Last()

    # ----------------------------------------------------------------------------------- reading
    @property
    def shots(self) -> tuple[Shot, ...]:
        """All shots in the order of the shoot."""
        return self.desk.plan.shots

    @property
    def own_shots(self) -> tuple[Shot, ...]:
        """Shots that the chosen build is in; all when it is in none."""
        own = tuple(s for s in self.shots if self.desk.chosen in s.builds)
        return own or self.shots

    @property
    def _alone(self) -> tuple[Shot, ...]:
        """The chosen shot where no build is in it: it is drawn as long as no other build is chosen."""
        shot = self.find(self.shot_id) if self._chosen_at == self.desk.chosen else None
        return (shot,) if shot and not {build.id for build in self.desk.job.cast} & set(shot.builds) else ()

    @property
    def shot(self) -> Shot | None:
        """The shot that is drawn: the one chosen, else the one that governs the chosen build; found once for a plan."""
        return self._drawn.get((self.desk.plan, self.desk.chosen, self.shot_id, self._chosen_at), self._find_drawn)

    def _find_drawn(self) -> Shot | None:
        known = next((s for s in (*self.own_shots, *self._alone) if s.id == self.shot_id), None)
        if known is not None or not self.own_shots:
            return known
        governing = governing_of(self.desk.build_plan) if self.desk.chosen else ""
        return next((s for s in self.own_shots if s.id == governing), self.own_shots[0])

    def find(self, shot_id: str) -> Shot | None:
        """The shot of that id, or none."""
        return next((s for s in self.desk.job.shots if s.id == shot_id), None)

    # ---------------------------------------------------------------------------------- choosing
    def choose(self, shot_id: str) -> None:
        """Draw another shot; where the chosen build is not in it, one that is becomes chosen."""
        shot = self.find(shot_id)
        if shot is None:
            return
        self.shot_id, self._chosen_at = shot_id, self.desk.chosen
        known = {b.id for b in self.desk.job.cast}
        if self.desk.chosen not in shot.builds:
            own = [b for b in shot.builds if b in known]
            if own:
                self.desk.chosen = own[0]
        self.desk.changed.emit()

    def step(self, by: int) -> None:
        """Draw the shot so many on among those of the chosen build; among all where the drawn one shows no build."""
        own, shot = self.own_shots, self.shot
        if shot in own:
            self.shot_id = own[(own.index(shot) + by) % len(own)].id
            self.desk.changed.emit()
        elif shot:
            self.choose(self.shots[(self.shots.index(shot) + by) % len(self.shots)].id)

    # ----------------------------------------------------------------------------------- editing
    def _try(self, change: Callable[[], tuple[str, Job]]) -> bool:
        """Make an edit; false, with a sentence, when it cannot be."""
        try:
            name, job = change()
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return False
        self.desk.edit(name, job)
        return True

    def edit_cell(self, shot: Shot, key: str, text: str) -> bool:
        """Type into a cell of the shot list."""

        def change() -> tuple[str, Job]:
            now = self.find(shot.id) or shot  # it may have changed since the line was opened
            new = read_cell(self.desk.job, now, key, text, self.desk.system)
            if self.shot_id == shot.id:
                self.shot_id = new.id
            return f"shot {shot.id}, {BY_KEY[key].head}", put_shot(self.desk.job, shot.id, new)

        return self._try(change)

    def put(self, shot: Shot, new: Shot, what: str) -> None:
        """Put a changed shot in the place of an old one."""
        self.desk.edit(f"shot {shot.id}, {what}", put_shot(self.desk.job, shot.id, new))

    def add_shot(self, needs: tuple[Need, ...] = ()) -> Shot:
        """Add a shot to be filled in, with what it is known to need."""
        job = self.desk.job
        made = replace(new_shot(job.shots, self.files.last_day()), needs=needs)
        self.shot_id = made.id
        self.desk.edit(f"shot {made.id} added", replace(job, shots=(*job.shots, made)))
        return made

    def remove_shot(self, shot: Shot) -> None:
        """Take a shot out; one step, that can be taken back."""
        job = self.desk.job
        self.desk.edit(f"shot {shot.id} taken out", replace(job, shots=tuple(s for s in job.shots if s.id != shot.id)))
        self.desk.said.emit(f"Took out shot {shot.id}, {shot.name}. U puts it back.")

    def cover(self, shot: Shot, index: int, text: str) -> bool:
        """Type what covers a need of a shot."""

        def change() -> tuple[str, Job]:
            need = covered(shot.needs[index], text, self.desk.job)
            return f"cover of {need.what}", self._with_need(shot, index, need)

        return self._try(change)

    def add_need(self, shot: Shot, text: str) -> bool:
        """Type one more thing that a shot needs."""

        def change() -> tuple[str, Job]:
            need = parse_need(text, self.desk.job)
            return f"shot {shot.id} needs {need.what}", self._with_need(shot, len(shot.needs), need)

        return self._try(change)

    def _with_need(self, shot: Shot, index: int, need: Need) -> Job:
        needs = (*shot.needs[:index], need, *shot.needs[index + 1 :])
        return put_shot(self.desk.job, shot.id, replace(shot, needs=needs))

    def leave_out(self, build_id: str, piece_id: str) -> None:
        """Leave out a piece that no shot sees; its route goes with it, and nothing waits for it any more."""
        build = self.desk.job.build(build_id)
        if len(build.pieces) < 2:
            self.desk.said.emit(f"{build.name} has no other piece. Give it another, then leave this one out.")
            return
        name = next(p.name for p in build.pieces if p.id == piece_id)
        self.desk.edit(f"{name} left out", piece_removed(self.desk.job, build_id, piece_id))
        self.desk.said.emit(f"{build.name} is built without the {name}. U puts it back.")

    # ------------------------------------------------------------------------------- count, signs
    def freeze(self, by: str, reason: str = "") -> bool:
        """Freeze the count of the chosen build at what it asks for now; who and why go into the log."""
        before, cost = self.desk.build.frozen, self.desk.cost
        made = self.desk.build_plan

        def change() -> tuple[str, Job]:
            return f"{made.build.name}, count frozen", freeze(self.desk.job, made, self.desk.now(), by, reason)

        if before and cost is None:
            self.desk.said.emit(f"The count stands as {before.by} froze it on {show_day(before.at)}.")
            return False
        if not self._try(change):
            return False
        if before and cost:
            words = "; ".join(f"{self.piece_words(m.piece, m.variant)} {m.frozen} to {m.asked}" for m in cost.moved)
            self._log(f"Frozen count changed by {by.strip()}: {words}. Because: {reason.strip()}", made)
        else:
            total = self.desk.build.frozen.total if self.desk.build.frozen else 0
            self._log(
                f"Count frozen by {by.strip()}: {total} castings" + (f". {reason.strip()}" if reason else ""), made
            )
        return True

    def piece_words(self, piece_id: str, variant: str) -> str:
        """What a piece of the chosen build, or one variant of it, is called."""
        name = next((p.name for p in self.desk.build.pieces if p.id == piece_id), piece_id)
        return f"{name}, {variant}" if variant else name

    def _log(self, words: str, made: BuildPlan) -> None:
        self.desk.enter(LogEvent(os.urandom(6).hex(), self.desk.now(), "counted", words, made.build.id))

    def sign(self, kind: SignOffKind, by: str) -> None:
        """Note that somebody has signed; it goes into the log."""
        build = self.desk.build
        signed = tuple(replace(s, at=self.desk.now(), by=by) if s.kind == kind else s for s in build.signoffs)
        self.desk.edit(f"{build.name}, {kind} signed", replace_build(self.desk.job, replace(build, signoffs=signed)))
        self.desk.enter(
            LogEvent(os.urandom(6).hex(), self.desk.now(), "signed", f"{kind} signed by {by}", self.desk.chosen)
        )

    def type_variants(self, piece_id: str, text: str) -> bool:
        """Type the variants that a piece of the chosen build comes in."""

        def change() -> tuple[str, Job]:
            build = self.desk.build
            piece = replace(piece_of(build, piece_id), variants=parse_variants(text))
            return f"{piece.name}, variants", replace_build(self.desk.job, replace_piece(build, piece))

        return self._try(change)

    def type_signoffs(self, text: str) -> bool:
        """Type who has to sign before the moulds of the chosen build."""

        def change() -> tuple[str, Job]:
            build = self.desk.build
            signoffs = parse_signoffs(text, build.signoffs, self.desk.now().date())
            return f"{build.name}, who signs", replace_build(self.desk.job, replace(build, signoffs=signoffs))

        return self._try(change)

    # -------------------------------------------------------------------------------- order, floor
    def take_least_wear(self) -> None:
        """Take the proposed order; one step."""
        proposal = self.desk.plan.wear
        if not proposal.moved:
            self.desk.said.emit("No order within the days ruins less than the planned one.")
            return
        days = "; ".join(f"{show_day(day)}: {', '.join(after)}" for day, _, after in proposal.moved)
        self.desk.edit("order of least wear", take_order(self.desk.job, proposal.order))
        self.desk.said.emit(f"Taken: {days}. U goes back.")

    def set_up(self, shot: Shot, **changes: str) -> None:
        """Write into the set-up record of a shot; it carries when it was last written."""
        record = replace(shot.setup or Setup(), at=self.desk.now(), **changes)
        self.put(shot, replace(shot, setup=record), "set-up record")

    def check(self, shot: Shot, check: Check, by: str) -> None:
        """Say go to a line of the list, or take it back."""
        said = replace(check, by="", at=None) if check.at else replace(check, by=by, at=self.desk.now())
        self.put(shot, say(shot, said), f"{check.what}: {'go' if said.at else 'taken back'}")
