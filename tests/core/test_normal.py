"""The normal distribution's logarithm against scipy, a general-purpose reference library."""

import numpy as np
import pytest
from scipy.special import log_ndtr

from grimcoil.core.normal import log_normal_cdf


def test_every_part_of_the_line_to_the_last_digits():
    z = np.concatenate([np.linspace(-40, 40, 16_001), [0.0, -0.66291, 0.66291, -5.65685, -300.0, 8.5]])
    assert log_normal_cdf(z) == pytest.approx(log_ndtr(z), rel=1e-12, abs=1e-300)


def test_the_ends():
    assert log_normal_cdf(np.array([np.inf, 1e300]))[0] == 0
    assert log_normal_cdf(np.array([-1e160]))[0] < -1e290


def test_shape_is_kept():
    assert log_normal_cdf(np.zeros((3, 2))).shape == (3, 2)
