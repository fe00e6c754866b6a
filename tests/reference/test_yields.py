"""How many to cast and how many takes: against the distributions of a general statistics library, tables and a simulation."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from homunculus.core.making.yields import apportion, castings_for, copies_broken, takes_for


def made(wanted, good, confidence):
    return castings_for(wanted=wanted, good=good, confidence=confidence).value


# maths.md 7, recomputed there from the binomial distribution; n = 8 also stands in printed binomial tables (p = 0.9):
# P(X >= 8 | k = 10) = 0.9298, k = 11: 0.9815, k = 12: 0.9957. Values from memory.
@pytest.mark.parametrize(
    ("wanted", "confidence", "castings"),
    [(8, 0.90, 10), (8, 0.95, 11), (8, 0.99, 12), (100, 0.90, 116), (100, 0.95, 117), (100, 0.99, 120)],
)
def test_castings_of_the_handbook_values(wanted, confidence, castings):
    assert made(wanted, 0.9, confidence) == castings


@given(st.integers(1, 400), st.floats(0.02, 0.999), st.floats(0.5, 0.999))
def test_castings_are_the_smallest_number_that_is_sure_enough(wanted, good, confidence):
    k = made(wanted, good, confidence)
    assert stats.binom.sf(wanted - 1, k, good) >= confidence - 1e-9
    assert k == wanted or stats.binom.sf(wanted - 1, k - 1, good) < confidence + 1e-9


@pytest.mark.parametrize(("wanted", "good"), [(20_000, 0.7), (100_000, 0.95)])
def test_large_counts_stay_exact(wanted, good):
    assert made(wanted, good, 0.95) == wanted + int(stats.nbinom.ppf(0.95, wanted, good))


def test_a_shop_that_casts_ten_thousand_times_is_as_sure_as_it_was_told():
    k = made(36, 0.85, 0.95)
    enough = np.random.default_rng(4).binomial(k, 0.85, 10_000) >= 36
    assert 0.95 - 0.01 <= enough.mean() <= 0.985
    fewer = np.random.default_rng(4).binomial(k - 1, 0.85, 10_000) >= 36
    assert fewer.mean() < 0.95


# maths.md 7: ⌈ln(1 − C) / ln(1 − p)⌉, p = 0.1.
@pytest.mark.parametrize(("confidence", "takes"), [(0.50, 7), (0.90, 22), (0.95, 29)])
def test_takes_of_the_handbook_values(confidence, takes):
    assert takes_for(chance=0.1, confidence=confidence) == takes


@given(st.floats(0.011, 0.99), st.floats(0.5, 0.999))
def test_takes_are_the_quantile_of_the_geometric_distribution(chance, confidence):
    takes = takes_for(chance=chance, confidence=confidence)
    assert stats.geom.cdf(takes, chance) >= confidence - 1e-8
    assert takes == 1 or stats.geom.cdf(takes - 1, chance) < confidence + 1e-8


def test_what_is_sure_needs_one_and_resets_spare_copies():
    assert made(7, 1.0, 0.99) == 7
    assert made(0, 0.5, 0.99) == 0
    assert takes_for(chance=1.0, confidence=0.99) == 1
    assert [copies_broken(takes=6, resets=r) for r in (0, 1, 2, 5, 9)] == [6, 3, 2, 1, 1]


# Largest remainders, by hand: 36 birds in shares 0.6, 0.25, 0.15 are 21.6, 9.0, 5.4.
def test_birds_are_shared_out_whole():
    assert apportion(36, (0.6, 0.25, 0.15)) == (22, 9, 5)
    assert apportion(7, (1, 1)) == (4, 3)


@given(st.integers(0, 5000), st.lists(st.floats(0.01, 50), min_size=1, max_size=9))
def test_shares_add_up_and_none_is_off_by_a_whole_one(total, shares):
    found = apportion(total, tuple(shares))
    assert sum(found) == total
    assert all(abs(n - total * s / sum(shares)) < 1 + 1e-6 for n, s in zip(found, shares, strict=True))
