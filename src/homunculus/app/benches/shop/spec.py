"""What this bench tells about itself."""

from __future__ import annotations

from functools import partial

from homunculus.app.benches.spec import BenchSpec, Command, Key, WindowLike

NEW = (("people", "person"), ("ovens", "oven"), ("vessels", "vessel"), ("scales", "scale"), ("machines", "machine"))


def _do(window: WindowLike, what: str) -> None:
    window.benches.open("shop")
    getattr(window.benches.of("shop"), what)()


def _new(window: WindowLike, sort: str) -> None:
    window.benches.open("shop")
    window.benches.of("shop").ask_new(sort)


SPEC = BenchSpec(
    "shop", "Shop", "Who and what is in the shop", "shop.bench:ShopBench", "over", key="E", sheet=False,
    keys=(Key("arrows", "an hour of the day, a value", "hour:"), Key("Enter", "type it; choose a thing, and again: its sheet", "thing:"),
          Key("Insert", "one more of what is chosen", "new:"), Key("Delete", "take the chosen one out"), Key("[ ]", "another person or thing")),
    commands=(
        *(Command(f"One more {one} in the shop", "the shop", partial(_new, sort=sort)) for sort, one in NEW),
        Command("Take the chosen person or thing out of the shop", "E, Delete", partial(_do, what="take_out")),
        Command("Put the chosen person or thing on the shelf", "the shelf", partial(_do, what="put_on_shelf")),
        Command("In what currency prices are", "the shop", partial(_do, what="ask_currency")),
    ),
)  # fmt: skip
