"""Cure times against an ODE solver and against worked values.

Sources: Arrhenius, rate = exp(−Ea/R (1/T − 1/T_ref)), R from the SI (CODATA 2018, exact); the solver is SciPy's
solve_ivp. Rule of ten: common practice, no source.
"""

import math
from datetime import datetime, timedelta

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from homunculus.core.cure.kinetics import GAS_CONSTANT, Kinetics, energy_from_two_times, time_to_cure
from homunculus.core.cure.temperature import Daily
from homunculus.core.job.shop import Air

START = datetime(2026, 2, 23, 10, 30)


def steady(celsius):
    return Daily(Air(celsius, celsius))


@pytest.mark.parametrize(("celsius", "hours"), [(18, 24.3), (15, 31.5), (33, 7.2), (40, 4.26), (23, 16.0)])
def test_sixteen_hours_at_23_elsewhere(celsius, hours):
    took = time_to_cure(
        needed=16 * 3600, kinetics=Kinetics(23.0, 60000.0), programme=steady(celsius), start=START, lag=0
    )
    assert took / 3600 == pytest.approx(hours, abs=0.06)


@pytest.mark.parametrize("lag", [600.0, 3600.0, 3 * 3600.0])
@pytest.mark.parametrize("law", [Kinetics(23.0, 60000.0), Kinetics(23.0)])
def test_a_day_and_night_with_a_lagging_mould_against_an_ode_solver(lag, law):
    air = Daily(Air(21.0, 14.0))

    def slopes(t, state):
        mould, _done = state
        outside = air.at(START + timedelta(seconds=float(t)))
        if law.activation_energy:
            rate = math.exp(-law.activation_energy / GAS_CONSTANT * (1 / (mould + 273.15) - 1 / 296.15))
        else:
            rate = 2 ** ((mould - 23) / 10)
        return [(outside - mould) / lag, rate]

    def cured(_t, state):
        return state[1] - 16 * 3600

    cured.terminal = True
    answer = solve_ivp(slopes, (0, 4 * 86400), [21.0, 0.0], events=cured, max_step=120.0, rtol=1e-8, atol=1e-8)
    ours = time_to_cure(needed=16 * 3600, kinetics=law, programme=air, start=START, lag=lag)
    assert ours == pytest.approx(answer.t_events[0][0], rel=1e-3)


def test_energy_from_two_lines_of_a_data_sheet_gives_both_lines_back():
    energy = energy_from_two_times(time1=16 * 3600, celsius1=23.0, time2=4.26 * 3600, celsius2=40.0)
    assert energy == pytest.approx(60000, rel=2e-3)
    law = Kinetics(23.0, energy)
    assert 16 / law.rate(40.0) == pytest.approx(4.26, rel=1e-9)


def test_the_rule_of_ten_doubles_and_is_nine_per_cent_off_arrhenius_at_nine_degrees():
    ten = Kinetics(23.0)
    assert ten.rate(33.0) == 2.0
    assert ten.rate(13.0) == 0.5
    doubling = energy_from_two_times(time1=2.0, celsius1=23.0, time2=1.0, celsius2=33.0)  # agrees at 23 and 33
    off = ten.rate(9.0) / Kinetics(23.0, doubling).rate(9.0)
    assert off - 1 == pytest.approx(0.09, abs=0.005)
    assert ten.law == "rule of ten"


def test_a_step_of_the_mould_is_the_closed_exponential():
    seconds = np.linspace(0, 7200, 7)
    from homunculus.core.cure.temperature import mould_temperature

    ours = [mould_temperature(start=21.0, air=14.0, lag=1800.0, after=float(s)) for s in seconds]
    answer = solve_ivp(lambda _t, y: (14.0 - y) / 1800.0, (0, 7200), [21.0], t_eval=seconds, rtol=1e-9, atol=1e-9)
    assert ours == pytest.approx(answer.y[0], abs=1e-6)
