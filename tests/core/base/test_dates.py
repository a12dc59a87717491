"""Dates as people write them."""

import pytest

from dividers.core.base.dates import read_moment
from dividers.core.base.errors import BadInput


@pytest.mark.parametrize(
    ("written", "read"),
    [
        ("2027-03-06", "2027-03-06T00:00"),
        ("2027-03-06T08:15", "2027-03-06T08:15"),
        ("2027-03-06 08:15", "2027-03-06T08:15"),
        ("6 March 2027", "2027-03-06T00:00"),
        ("March 6, 2027", "2027-03-06T00:00"),
        ("6.3.2027", "2027-03-06T00:00"),
        ("Sat 6 Mar 2027 8:15", "2027-03-06T08:15"),
        ("6/3/2027", "2027-03-06T00:00"),
        ("2027-03-06T08:15+02:00", "2027-03-06T08:15"),
    ],
)
def test_a_date_is_read_as_people_write_it(written, read):
    assert read_moment(written) == read


def test_where_inches_are_read_the_month_comes_first():
    assert read_moment("3/6/2027", month_first=True) == "2027-03-06T00:00"


@pytest.mark.parametrize(
    "written",
    ["", "soon", "March 2027", "6 March", "9999-01-01", "0001-01-01", "32 March 2027", "1" * 50, True, 7, None, ["2027-03-06"]],
)
def test_what_is_no_whole_date_is_refused(written):
    with pytest.raises(BadInput, match=r"date|year"):
        read_moment(written)
