"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import Accepts, BenchSpec, Command, Key, WindowLike


def _ask_way(window: WindowLike) -> None:
    from homunculus.app.benches.mould.ways import ask_way  # reads cards: only when one is asked for

    ask_way(window)


SPEC = BenchSpec(
    "mould", "Mould", "What do the moulds of {} take?", "mould.bench:MouldBench", "station", "mould",
    keys=(Key("[ ]", "turn the cut", "turntable"), Key("Space", "log the pour, or the opening")),
    commands=(Command("Take in a mesh as this build's form", "file or drop", lambda window: window.benches.of("mould").choose_mesh()),
              Command("Make the piece by a usual way", "mould and route from a card", _ask_way)),
    accepts=(Accepts("mesh", lambda window, path: window.desk.meshes.take_in(path)),),
)  # fmt: skip
