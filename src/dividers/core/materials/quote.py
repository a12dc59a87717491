"""What a job is offered for: hours at a rate, materials, a margin and tax, each line rounded to the cent, the total being their sum."""

from dataclasses import dataclass
from fractions import Fraction

CENT = Fraction(1, 100)


@dataclass(frozen=True)
class Terms:
    """What an offer goes by: the price of an hour, materials beyond those with a price, shares in percent, and how long it holds."""

    rate: Fraction = Fraction(0)
    more_materials: Fraction = Fraction(0)
    margin_percent: Fraction = Fraction(0)
    tax_percent: Fraction = Fraction(0)
    valid_days: int = 30


@dataclass(frozen=True)
class QuoteLine:
    words: str
    amount: Fraction


@dataclass(frozen=True)
class Quote:
    """The lines of an offer and their sum, in whole cents."""

    lines: tuple[QuoteLine, ...]

    @property
    def total(self) -> Fraction:
        return sum((line.amount for line in self.lines), Fraction(0))


def quote_of(work_min: int, materials: Fraction, terms: Terms) -> Quote:
    """The offer for so many minutes of work and materials at their price. Tenths of an hour are charged, so that what is said multiplies.

    >>> [float(line.amount) for line in quote_of(2366, Fraction(0), Terms(Fraction(60))).lines][:1]  # 39.4 h at 60.00
    [2364.0]

    >>> float(quote_of(90, Fraction(50), Terms(Fraction(40), margin_percent=Fraction(10), tax_percent=Fraction(20))).total)
    145.2
    """
    hours = Fraction(int(Fraction(work_min, 6) + Fraction(1, 2)), 10)
    work = _cents(terms.rate * hours)
    bought = _cents(materials + terms.more_materials)
    lines = [QuoteLine(f"Work, {float(hours):.1f} h at {money(terms.rate)}", work), QuoteLine("Materials", bought)]
    margin = _cents((work + bought) * terms.margin_percent / 100)
    if margin:
        lines.append(QuoteLine(f"Margin, {float(terms.margin_percent):g} %", margin))
    tax = _cents(sum((line.amount for line in lines), Fraction(0)) * terms.tax_percent / 100)
    if tax:
        lines.append(QuoteLine(f"Tax, {float(terms.tax_percent):g} %", tax))
    return Quote(tuple(lines))


def _cents(amount: Fraction) -> Fraction:
    """Rounded to the cent, halves up."""
    return Fraction(int((amount / CENT + Fraction(1, 2)) // 1)) * CENT


def money(amount: Fraction) -> str:
    """An amount with its cents.

    >>> money(Fraction(12345, 10))
    '1234.50'
    """
    return f"{float(amount):.2f}"
