"""Air against PsychroLib, another library; the margin above the dew point."""

from fractions import Fraction

import psychrolib
import pytest

from dividers.core.job.crew import Climate
from dividers.core.job.drying import drying_factor, saturation_hpa, vapour_hpa
from dividers.core.job.products import Paint
from dividers.core.risk.climate import air_of, dew_point_c

psychrolib.SetUnitSystem(psychrolib.SI)
RANGE = [(celsius, percent) for celsius in range(1, 46, 4) for percent in (5, 20, 35, 50, 65, 80, 95, 100)]


@pytest.mark.parametrize(("celsius", "percent"), RANGE)
def test_vapour_and_dew_point_are_those_of_the_reference_library(celsius, percent):
    """The Magnus form keeps within 0.5 % of the reference's pressure, and 0.1 °C of its dew point."""
    assert saturation_hpa(celsius) == pytest.approx(psychrolib.GetSatVapPres(celsius) / 100, rel=5e-3)
    assert vapour_hpa(celsius, percent) == pytest.approx(
        psychrolib.GetVapPresFromRelHum(celsius, percent / 100) / 100, rel=5e-3
    )
    if dew_point_c(celsius, percent) > 0.5:  # the reference turns to ice below
        assert dew_point_c(celsius, percent) == pytest.approx(
            psychrolib.GetTDewPointFromRelHum(celsius, percent / 100), abs=0.1
        )


def test_label_air_dries_as_the_label_says_and_damp_air_slower():
    assert drying_factor("water", 23, 50) == pytest.approx(1)
    assert drying_factor("oil", 13, 50) == pytest.approx(2)
    assert drying_factor("water", 15, 80) > 2 > drying_factor("water", 28, 50)


@pytest.mark.parametrize(("surface", "warned"), [(None, False), ("14", True), ("17", False)])
def test_a_surface_near_the_dew_point_is_warned_of(surface, warned):
    """20 °C and 65 %: dew at 13.2 °C; ISO 8502-4 wants 3 °C above."""
    climate = Climate(Fraction(20), Fraction(65), Fraction(surface) if surface else None)
    assert any("dew point" in warning for warning in air_of(climate, ()).warnings) == warned


def test_label_limits_warn():
    paint = Paint("enamel", "water", "satin", Fraction(9), least_c=Fraction(12), most_percent=Fraction(70))
    warnings = air_of(Climate(Fraction(8), Fraction(75)), (paint,)).warnings
    assert [w for w in warnings if "12 °C to 35 °C" in w]
    assert [w for w in warnings if "at most 70 %" in w]
