"""Edges drawn with a raggedness that is known, as a camera would see them, and measured again; an erf fitted line by line agrees."""

import math

import numpy as np
import pytest
from budget import examples
from hypothesis import given
from hypothesis import strategies as st
from scipy.ndimage import gaussian_filter
from scipy.optimize import curve_fit
from scipy.special import erf

from dividers.core.base.errors import BadInput
from dividers.core.risk.edge_by_photo import BLEED, CLEAN, SLIGHT, Known, measure_edge

DARK, LIGHT = np.array([40.0, 60.0, 110.0]), np.array([235.0, 225.0, 205.0])


def drawn(off_mm, dots, wide=900, high=260, blur=1.0, noise=2.0, light=0.0, tilt=0.0, seed=0, colours=(LIGHT, DARK)):
    """A picture of an edge that lies off_mm(along) below a line through its middle; `tilt` in dots from left to right."""
    fine = 2
    x = (np.arange(wide * fine) + 0.5) / fine - 0.5
    edge = high / 2 + off_mm(x / dots) * dots + tilt * (x / wide - 0.5)
    y = (np.arange(high * fine) + 0.5) / fine - 0.5
    share = (y[:, None] > edge[None, :]).astype(float).reshape(high, fine, wide, fine).mean(axis=(1, 3))
    share = gaussian_filter(share, blur)
    picture = colours[0] + (colours[1] - colours[0]) * share[..., None]
    picture *= (1 + light * np.linspace(-0.5, 0.5, wide))[None, :, None]
    return np.clip(np.round(picture + np.random.default_rng(seed).normal(0, noise, picture.shape)), 0, 255)


def known(dots, wide=900):
    return [Known((20.0, 20.0), (20.0 + 10 * dots, 20.0), 10.0)]


def waves(amplitude, seed):
    """A ragged line of waves from 1 to 8 mm long, with its RMS."""
    rng = np.random.default_rng(seed)
    length, phase = rng.uniform(1.2, 8, 6), rng.uniform(0, 6.28, 6)
    return lambda s: amplitude * sum(np.sin(2 * math.pi * s / a + b) for a, b in zip(length, phase, strict=True)) / math.sqrt(3)


@examples(8)
@given(
    st.sampled_from([12, 20, 35, 60]), st.floats(0.03, 0.25), st.integers(0, 10_000), st.floats(0.6, 2.0), st.floats(0, 6),
    st.floats(-0.3, 0.3), st.floats(-20, 20),
)  # fmt: skip
def test_the_raggedness_that_was_drawn_is_found_again(dots, amplitude, seed, blur, noise, light, tilt):
    wide = 900 if dots < 50 else 1300
    off = waves(amplitude, seed)
    picture = drawn(off, dots, wide=wide, high=320, blur=blur, noise=noise, light=light, tilt=tilt, seed=seed)
    found = measure_edge(picture, ((10.0, 160.0), (wide - 10.0, 160.0)), known(dots))
    s = np.linspace(10 / dots, (wide - 10) / dots, 4000)
    true = off(s) - np.polyval(np.polyfit(s, off(s), 1), s)
    rms = float(np.sqrt((true**2).mean()))
    assert abs(found.rms_mm - rms) <= max(0.1 * rms, 0.02)


def bumps(places, reach, wide=0.8):
    return lambda s: sum(r * np.exp(-(((s - at) / (wide / 2)) ** 2)) for at, r in zip(places, reach, strict=True))


def test_feathers_are_counted_and_placed():
    rng = np.random.default_rng(4)
    right = 0
    for case in range(20):
        count = int(rng.integers(0, 5))
        places = 6 + np.arange(count) * 8 + rng.uniform(0, 4, count)
        reach = rng.uniform(0.65, 1.4, count) * rng.choice([-1, 1], count)
        picture = drawn(bumps(places, reach), 20, wide=960, high=200, noise=3.0, seed=case)
        found = measure_edge(picture, ((10.0, 100.0), (950.0, 100.0)), known(20))
        near = [abs(each.at_mm + 0.5 - at) < 0.5 for each, at in zip(found.feathers, places, strict=False)]
        right += len(found.feathers) == count and all(near)
    assert right >= 19


@pytest.mark.parametrize(("reach", "judged"), [(0.15, CLEAN), (0.6, SLIGHT), (1.6, BLEED)])
def test_what_the_eye_sees_from_a_metre_makes_the_class(reach, judged):
    picture = drawn(bumps([15, 30], [reach, reach / 2], 2.0), 20)
    found = measure_edge(picture, ((10.0, 130.0), (890.0, 130.0)), known(20))
    assert found.judged == judged
    assert found.worst_mm == pytest.approx(reach, abs=0.08)
    assert measure_edge(picture, ((10.0, 130.0), (890.0, 130.0)), known(20), from_m=6.0).judged == CLEAN


def test_an_independent_fit_of_error_functions_agrees():
    off = waves(0.12, 3)
    picture = drawn(off, 25, noise=4.0)
    found = measure_edge(picture, ((10.0, 130.0), (890.0, 130.0)), known(25))
    grey = picture.mean(axis=2)
    y = np.arange(grey.shape[0])
    places = []
    for column in range(10, 891, 4):
        guess = (130.0, 2.0, 225.0, 70.0)
        values, _ = curve_fit(lambda t, m, w, a, b: a + (b - a) * (1 + erf((t - m) / w)) / 2, y, grey[:, column], guess)
        places.append(values[0] / 25)
    s = np.arange(10, 891, 4) / 25
    rest = np.array(places) - np.polyval(np.polyfit(s, places, 1), s)
    assert found.rms_mm == pytest.approx(float(np.sqrt((rest**2).mean())), rel=0.08)


def test_a_scale_at_both_ends_takes_a_slant_into_account():
    """From 24 to 12 dots a mm along the edge, with waves of the same size on the wall: closed form, RMS of a sine."""
    wide, high = 1200, 260
    x = np.arange(wide)
    scale = 24 - 12 * x / wide
    at = np.concatenate([[0], np.cumsum(1 / scale)[:-1]])
    edge = high / 2 + 0.2 * np.sin(2 * math.pi * at / 5) * scale
    share = gaussian_filter(np.clip(np.arange(high)[:, None] - edge[None, :] + 0.5, 0, 1), 1.0)
    picture = LIGHT + (DARK - LIGHT) * share[..., None]
    line = ((10.0, 130.0), (1190.0, 130.0))
    both = [Known((10.0, 10.0), (10.0, 10 + 23.9 * 5), 5.0), Known((1190.0, 10.0), (1190.0, 10 + 12.1 * 5), 5.0)]
    assert measure_edge(picture, line, both).rms_mm == pytest.approx(0.2 / math.sqrt(2), rel=0.05)
    assert measure_edge(picture, line, both).worst_mm == pytest.approx(0.2, rel=0.1)  # the same where it is seen larger
    assert measure_edge(picture, line, both).length_mm == pytest.approx(at[1190] - at[10], rel=0.02)


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"blur": 9.0}, "blurred"),
        ({"colours": (LIGHT, LIGHT - 9)}, "alike"),
        ({"noise": 120.0}, "grainy"),
        ({"dots": 4}, "Come nearer"),
        ({"dots": 60, "wide": 600}, "at least 15 mm"),
    ],
)
def test_what_cannot_be_judged_is_refused_with_what_to_do(changes, said):
    own = {"dots": 20, **changes}
    picture = drawn(waves(0.05, 1), **own)
    with pytest.raises(BadInput, match=said):
        measure_edge(picture, ((10.0, 130.0), (own.get("wide", 900) - 10.0, 130.0)), known(own["dots"]))


def test_a_line_that_is_not_on_the_edge_is_refused():
    picture = drawn(waves(0.05, 1), 20, high=400)
    with pytest.raises(BadInput):
        measure_edge(picture, ((10.0, 40.0), (890.0, 40.0)), known(20))
