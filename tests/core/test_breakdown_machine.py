"""Shots, builds and counts changed in any order, taken back and done again: what is kept from before must never show."""

from __future__ import annotations

import string
from datetime import date, datetime, timedelta

from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.cells.shots import new_shot, put_shot
from homunculus.core.edits.decisions import replace_build
from homunculus.core.edits.pieces import new_id
from homunculus.core.floor.wear import beats, least_wear, take_order, walk
from homunculus.core.job.counts import Wanted
from homunculus.core.plan.coverage import coverage
from homunculus.core.plan.freezing import asked_now, freeze
from homunculus.core.plan.job_plan import plan
from homunculus.core.session import Session
from tests.strategies import jobs, needs

AT = datetime(2026, 2, 24, 9)


def explained(figure):
    """What went into a figure: names and values of its inputs, and of what went into those."""
    return [(name, x.value, [(n, y.value) for n, y in getattr(x, "inputs", ())]) for name, x in figure.inputs]


class Breakdown(RuleBasedStateMachine):
    """One session under a coordinator's hands."""

    @initialize(job=jobs())
    def open(self, job):
        self.session = Session(job)

    def edit(self, job):
        self.session.edit("change", job)

    @property
    def job(self):
        return self.session.job

    @rule(found=st.lists(needs, max_size=3).map(tuple), day=st.integers(0, 3))
    def add_a_shot(self, found, day):
        made = new_shot(self.job.shots, date(2026, 3, 17) + timedelta(days=day))
        self.edit(replace(self.job, shots=(*self.job.shots, replace(made, needs=found))))

    @precondition(lambda self: self.job.shots)
    @rule(data=st.data(), found=st.lists(needs, max_size=3).map(tuple))
    def say_what_a_shot_needs(self, data, found):
        shot = data.draw(st.sampled_from(self.job.shots))
        self.edit(put_shot(self.job, shot.id, replace(shot, needs=found)))

    @precondition(lambda self: self.job.shots)
    @rule(data=st.data())
    def take_a_shot_out(self, data):
        shot = data.draw(st.sampled_from(self.job.shots))
        self.edit(replace(self.job, shots=tuple(s for s in self.job.shots if s is not shot)))

    @precondition(lambda self: self.job.shots)
    @rule(data=st.data(), letter=st.sampled_from(string.ascii_lowercase), by=st.integers(-2, 2))
    def rename_and_move_a_shot(self, data, letter, by):
        shot = data.draw(st.sampled_from(self.job.shots))
        self.edit(put_shot(self.job, shot.id, replace(shot, name=letter, day=shot.day + timedelta(days=by))))

    @rule(data=st.data(), hero=st.integers(0, 4), spare=st.integers(0, 3))
    def want_more_or_fewer(self, data, hero, spare):
        build = data.draw(st.sampled_from(self.job.builds))
        self.edit(replace_build(self.job, replace(build, wanted=Wanted(hero, spare=spare))))

    @rule(data=st.data(), scale=st.sampled_from((1.0, 6.0, 12.0, 37.5)), name=st.sampled_from(string.ascii_uppercase))
    def scale_and_rename_a_build(self, data, scale, name):
        build = data.draw(st.sampled_from(self.job.builds))
        self.edit(replace_build(self.job, replace(build, scale=scale, name=name)))

    @rule(data=st.data(), away=st.booleans())
    def put_a_build_away_or_bring_it_back(self, data, away):
        build = data.draw(st.sampled_from(self.job.builds))
        self.edit(replace_build(self.job, replace(build, put_away=away)))

    @rule(data=st.data(), times=st.sampled_from((0.5, 1.0, 2.5)))
    def one_piece_more(self, data, times):
        build = data.draw(st.sampled_from(self.job.builds))
        piece = replace(build.pieces[0], id=new_id("piece", [p.id for p in build.pieces]), enlarged=times)
        self.edit(replace_build(self.job, replace(build, pieces=(*build.pieces, piece))))

    @rule(data=st.data(), copies=st.integers(0, 3), by=st.floats(0.5, 2.0), share=st.floats(0.5, 2.0))
    def another_piece(self, data, copies, by, share):
        """One of a build's pieces is changed and the others stay the same objects, with a mould of another thickness and other mixes."""
        build = data.draw(st.sampled_from(self.job.builds))
        index = data.draw(st.integers(0, len(build.pieces) - 1))
        piece = build.pieces[index]
        mould = piece.mould and replace(
            piece.mould, waste=0.1 * by, mixes=tuple(replace(m, share=m.share * share) for m in piece.mould.mixes)
        )
        changed = replace(piece, copies=copies, drawn_at=piece.drawn_at * by, mould=mould)
        pieces = (*build.pieces[:index], changed, *build.pieces[index + 1 :])
        self.edit(replace_build(self.job, replace(build, pieces=pieces)))

    @rule(day_c=st.floats(12.0, 28.0), margin=st.floats(0.05, 0.5))
    def another_air_and_another_way_to_mix(self, day_c, margin):
        shop = self.job.shop
        self.edit(
            replace(
                self.job,
                shop=replace(shop, air=replace(shop.air, day_c=day_c), mixing=replace(shop.mixing, margin=margin)),
            )
        )

    @rule(data=st.data())
    def one_piece_less(self, data):
        build = data.draw(st.sampled_from(self.job.builds))
        self.edit(replace_build(self.job, replace(build, pieces=build.pieces[:1])))

    @rule(data=st.data(), confidence=st.sampled_from((0.5, 0.9, 0.99)), good=st.sampled_from((1.0, 0.8, 0.3)))
    def be_surer(self, data, confidence, good):
        build = data.draw(st.sampled_from(self.job.builds))
        worse = replace(build, pieces=tuple(replace(p, good=good) for p in build.pieces))
        self.edit(replace(replace_build(self.job, worse), shop=replace(self.job.shop, confidence=confidence)))

    @rule(data=st.data())
    def freeze_a_count(self, data):
        build = data.draw(st.sampled_from(self.job.builds))
        self.edit(freeze(self.job, self.session.plan().build(build.id), AT, "lead", "because"))

    @rule()
    def take_the_least_wear(self):
        proposal = least_wear(beats(self.job.shots, self.job.builds))
        assert len(proposal.late_after) <= len(proposal.late_before)
        self.edit(take_order(self.job, proposal.order))
        assert walk(beats(self.job.shots, self.job.builds))[0] == proposal.late_after

    @rule()
    def go_back(self):
        self.session.undo()

    @rule()
    def do_again(self):
        self.session.redo()

    @invariant()
    def nothing_stale_is_kept(self):
        fresh = plan(self.job, {})
        kept = self.session.plan()
        for a, b in zip(kept.builds, fresh.builds, strict=True):
            assert a.build is b.build
            assert [(x.key, x.value and x.value.value) for x in a.limits] == [
                (x.key, x.value and x.value.value) for x in b.limits
            ]
            lanes, anew = kept.ladder(a.build.id).lanes, fresh.ladder(a.build.id).lanes
            assert [(x.key, x.bands, x.note) for x in lanes] == [(x.key, x.bands, x.note) for x in anew]
            assert [(f.spec.name, f.subject, f.value, explained(f)) for f in a.figures] == [
                (f.spec.name, f.subject, f.value, explained(f)) for f in b.figures
            ]
            assert [(p.key, p.times, p.coats) for p in a.pours] == [(p.key, p.times, p.coats) for p in b.pours]
            assert [m.headline for m in a.minds if all(isinstance(w, str) for w in m.headline)] == [
                m.headline for m in b.minds if all(isinstance(w, str) for w in m.headline)
            ]

    @invariant()
    def coverage_that_keeps_rows_is_coverage_made_anew(self):
        kept, fresh = self.session.plan().coverage, coverage(self.job)
        assert kept.rows == fresh.rows
        assert [(u.build.id, u.piece.id) for u in kept.unseen] == [(u.build.id, u.piece.id) for u in fresh.unseen]
        assert kept.never_seen == fresh.never_seen

    @invariant()
    def a_frozen_count_is_what_is_cast_and_its_price_is_nought_only_where_it_is_followed(self):
        whole = self.session.plan()
        for made in whole.builds:
            if made.build.frozen is None:
                continue
            for ordered in made.build.frozen.castings:
                cast = made.find(specs.CASTINGS, ordered.piece, variant=ordered.variant)
                assert cast is None or cast.value == ordered.castings
            moved = {(o.piece, o.variant): o.castings for o in asked_now(made)}
            frozen = {(o.piece, o.variant): o.castings for o in made.build.frozen.castings}
            assert (whole.cost(made.build.id) is None) == all(frozen.get(key, 0) == n for key, n in moved.items())


TestBreakdown = Breakdown.TestCase
TestBreakdown.settings = settings(max_examples=16, stateful_step_count=18, deadline=None)
