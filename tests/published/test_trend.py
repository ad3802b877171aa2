"""The trend's filter against statsmodels' state space model (Seabold and Perktold, 2010, Statsmodels:
Econometric and statistical modeling with Python, Proceedings of the 9th Python in Science Conference).
"""

import numpy as np
import pytest
from statsmodels.tsa.statespace.mlemodel import MLEModel

from wise_perch.core.progress.trend import (
    PRIOR_LEVEL_SD,
    PRIOR_SLOPE_SD,
    Observation,
    follow,
    settings,
)

NOISE = 0.2
WITHIN = 1e-9


def filtered(z: np.ndarray, *, ql: float, qs: float, phi: float) -> tuple[np.ndarray, np.ndarray, float]:
    """State, covariance and log likelihood after the last value, by statsmodels."""
    model = MLEModel(z, k_states=2, k_posdef=2)
    model["design"] = np.array([[1.0, 0.0]])
    model["obs_cov"] = np.array([[NOISE**2]])
    model["transition"] = np.array([[1.0, 1.0], [0.0, phi]])
    model["selection"] = np.eye(2)
    model["state_cov"] = np.diag([ql**2, qs**2])
    model.ssm.initialize_known(np.array([z[0], 0.0]), np.diag([PRIOR_LEVEL_SD**2, PRIOR_SLOPE_SD**2]))
    found = model.ssm.filter()
    return found.filtered_state[:, -1], found.filtered_state_cov[:, :, -1], float(found.llf)


@pytest.mark.parametrize("seed", range(5))
def test_the_filter_is_the_kalman_filter(seed: int) -> None:
    """State, covariance and the settings' weights, on weekly values without a large surprise."""
    dice = np.random.default_rng(seed)
    z = 2 + 0.03 * np.arange(20) + 0.1 * dice.standard_normal(20)
    ours = follow([Observation(week=float(w), z=float(v)) for w, v in enumerate(z)], noise=NOISE, until=19.0)
    likelihood = []
    for n, (ql, qs, phi) in enumerate(settings()):
        state, covariance, llf = filtered(z, ql=ql, qs=qs, phi=phi)
        assert ours.mean[n] == pytest.approx(state, abs=WITHIN)
        assert ours.covariance[n] == pytest.approx(covariance, abs=WITHIN)
        likelihood.append(llf)
    weight = np.exp(np.array(likelihood) - max(likelihood))
    assert ours.weight == pytest.approx(weight / weight.sum(), abs=WITHIN)


def test_a_gap_is_as_many_steps() -> None:
    """Three weeks without a value move mean and slope as three steps of one week do."""
    ours = follow([Observation(week=0.0, z=2.0), Observation(week=1.0, z=2.2)], noise=NOISE, until=4.0)
    for n, (ql, qs, phi) in enumerate(settings()):
        state, _, _ = filtered(np.array([2.0, 2.2, np.nan, np.nan, np.nan]), ql=ql, qs=qs, phi=phi)
        assert ours.mean[n] == pytest.approx(state, abs=WITHIN)
