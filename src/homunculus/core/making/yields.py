"""How many to make so that enough are good, and how many takes until one is."""

from __future__ import annotations

import math

from homunculus.core.errors import UserError
from homunculus.core.figures import Outcome, rule

MOST_WANTED = 1_000_000


@rule("hero + stunt + background + spare + test + what takes break", "arithmetic")
def figures_wanted(*, hero: int, stunt: int, background: int, spare: int, test: int, **broken: int) -> int:
    """Whole figures of a build: ``hero``, ``stunt``, ``background``, ``spare`` and ``test`` ones, and the copies ``broken`` by shots."""
    return hero + stunt + background + spare + test + sum(broken.values())


@rule("figures × how many each has + spares and tests of it + one for each of it that takes break alone", "arithmetic")
def pieces_wanted(*, figures: int, each: int, spare: int = 0, test: int = 0, **broken: int) -> int:
    """Good castings of a piece: ``each`` for every one of the ``figures``, ``spare`` and ``test`` ones of it alone, and one for each ``broken``.

    A take that breaks the whole figure is another case: it adds a figure, and with it all that a figure has.
    """
    return figures * each + spare + test + sum(broken.values())


@rule("so many in all + spares and tests of it + one for each of it that takes break", "arithmetic")
def pieces_in_all(*, in_all: int, spare: int = 0, test: int = 0, **broken: int) -> int:
    """Good castings of a piece that does not go by the figure: ``in_all``, ``spare`` and ``test`` ones, and one for each ``broken``."""
    return in_all + spare + test + sum(broken.values())


@rule(
    "confidence of one row = confidence of the figure ^ (1 / rows)",
    "independent rows: a figure is whole only if all suffice",
)
def row_confidence(*, confidence: float, rows: int) -> float:
    """With which every one of so many ``rows`` must suffice so that all do with a ``confidence``."""
    return float(confidence ** (1 / max(rows, 1)))


@rule("whole numbers in proportion to the shares, the largest remainders rounded up", "largest-remainder apportionment")
def of_variant(*, wanted: int, shares: tuple[float, ...], index: int) -> int:
    """How many of ``wanted`` fall to the variant ``index``, in proportion to the ``shares``; all together are ``wanted``.

    Equal remainders go to the earlier variant.
    """
    return apportion(wanted, shares)[index]


def apportion(total: int, shares: tuple[float, ...]) -> tuple[int, ...]:
    """Split a whole ``total`` in proportion to ``shares`` (all over 0) into whole numbers that add up to it.

    Largest remainder; equal remainders go to the earlier one.
    """
    whole = sum(shares)
    exact = [total * share / whole for share in shares]
    found = [math.floor(x + 1e-9) for x in exact]
    order = sorted(range(len(shares)), key=lambda i: (-round(exact[i] - found[i], 9), i))
    for i in order[: total - sum(found)]:
        found[i] += 1
    return tuple(found)


@rule("smallest k with P(Binomial(k, good) ≥ wanted) ≥ confidence", "binomial distribution")
def castings_for(*, wanted: int, good: float, confidence: float) -> Outcome:
    """Castings to make so that at least ``wanted`` come out good with a ``confidence``, each being ``good`` by chance.

    Sums the negative binomial P(the wanted-th good one is casting j) until the confidence is reached.

    Raises
    ------
    UserError
        When so many are wanted that nobody could count them.
    """
    if wanted == 0 or good >= 1:
        return Outcome(wanted)
    if wanted > MOST_WANTED:
        raise UserError(
            f"{wanted} castings cannot be counted", "counts", "Look at the figures and at how many each has"
        )
    spread = math.sqrt(wanted * (1 - good)) / good
    made = max(wanted, math.floor(wanted / good - 40 * spread))  # what lies before has no weight a float could hold
    log_chance = (math.lgamma(made) - math.lgamma(wanted) - math.lgamma(made - wanted + 1)
                  + wanted * math.log(good) + (made - wanted) * math.log1p(-good))  # fmt: skip
    reached = math.exp(log_chance)
    while reached < confidence - 1e-12:
        log_chance += math.log(made / (made - wanted + 1)) + math.log1p(-good)
        reached += math.exp(log_chance)
        made += 1
    return Outcome(made, (f"{reached:.1%} sure of {wanted} good ones",))


@rule("⌈ln(1 − confidence) / ln(1 − chance)⌉", "geometric distribution")
def takes_for(*, chance: float, confidence: float) -> int:
    """Takes until one succeeds with a ``confidence``, each having the ``chance``."""
    return 1 if chance >= 1 else max(1, math.ceil(math.log1p(-confidence) / math.log1p(-chance) - 1e-9))


@rule("⌈seen at once / passes⌉", "arithmetic")
def in_one_pass(*, seen: int, passes: int) -> int:
    """How many models stand before the lens where so many are ``seen`` and they are taken in so many ``passes``."""
    return -(-seen // passes)


@rule("⌈takes / (1 + resets)⌉", "arithmetic")
def copies_broken(*, takes: int, resets: int) -> int:
    """Copies that so many ``takes`` break, each of which can be put together again for so many ``resets``."""
    return -(-takes // (1 + resets))


@rule("volume of the wall × density", "the form's curve V(t); the material's card")
def casting_mass(*, volume: float, density: float) -> float:
    """Mass [kg] of one casting: ``volume`` [m³] at a ``density`` [kg/m³]."""
    return volume * density


@rule("castings × one casting × (1 + waste)", "arithmetic; waste is common practice, no source")
def all_castings(*, castings: int, one: float, waste: float) -> float:
    """Mass [kg] of all ``castings``, each taking ``one`` [kg], with a share of ``waste`` lost on each."""
    return castings * one * (1 + waste)
