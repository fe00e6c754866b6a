"""All benches, in the order in which they are told. A new one is its own folder and one line here."""

from __future__ import annotations

from homunculus.app.benches.breakdown.spec import SPEC as BREAKDOWN
from homunculus.app.benches.card.spec import SPEC as CARD
from homunculus.app.benches.counts.spec import SPEC as COUNTS
from homunculus.app.benches.coverage.spec import SPEC as COVERAGE
from homunculus.app.benches.cure.spec import SPEC as CURE
from homunculus.app.benches.figures.spec import SPEC as FIGURES
from homunculus.app.benches.floor.spec import SPEC as FLOOR
from homunculus.app.benches.lens.spec import SPEC as LENS
from homunculus.app.benches.log.spec import SPEC as LOG
from homunculus.app.benches.made.spec import SPEC as MADE
from homunculus.app.benches.match.spec import SPEC as MATCH
from homunculus.app.benches.mix.spec import SPEC as MIX
from homunculus.app.benches.mould.spec import SPEC as MOULD
from homunculus.app.benches.moves.spec import SPEC as MOVES
from homunculus.app.benches.scale.spec import SPEC as SCALE
from homunculus.app.benches.shelf.spec import SPEC as SHELF
from homunculus.app.benches.shoot.spec import SPEC as SHOOT
from homunculus.app.benches.shop.spec import SPEC as SHOP
from homunculus.app.benches.shot.spec import SPEC as SHOT
from homunculus.app.benches.spec import BenchSpec
from homunculus.app.benches.stage.spec import SPEC as STAGE
from homunculus.app.benches.trace.spec import SPEC as TRACE
from homunculus.app.benches.weigh_up.spec import SPEC as WEIGH_UP
from homunculus.app.benches.whole.spec import SPEC as WHOLE
from homunculus.core.figures import Station

BENCHES: tuple[BenchSpec, ...] = (
    SHOT, SCALE, LENS, STAGE, CARD, MOVES, MOULD, MIX, CURE, SHOOT, MADE, FIGURES, WEIGH_UP, BREAKDOWN, COVERAGE, COUNTS, FLOOR, WHOLE, LOG, SHELF, SHOP, TRACE, MATCH,
)  # fmt: skip
BY_NAME = {spec.name: spec for spec in BENCHES}
OF_STATION: dict[Station, BenchSpec] = {
    spec.station: spec for spec in BENCHES if spec.place == "station" and spec.station
}
OF_JOB = tuple(spec for spec in BENCHES if spec.place == "job")
