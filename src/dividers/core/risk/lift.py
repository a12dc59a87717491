"""How much tape took with it, as classes by the share of the area removed (ASTM D3359, from memory)."""

from dividers.core.base.errors import BadInput

BELOW = (("4B", 5.0), ("3B", 15.0), ("2B", 35.0))  # a class holds less than so many percent; 1B goes up to 65 with it
MOST_1B = 65.0
HELD = ("5B", "4B")  # classes in which the ground held: less than 5 % came off (common practice, no source)
BRIDGES = ("none", "some", "torn")  # how far the film tore from one side of the tape to the other
LIFT_WORDS = {
    "5B": "none",
    "4B": "less than 5 %",
    "3B": "5 to 15 %",
    "2B": "15 to 35 %",
    "1B": "35 to 65 %",
    "0B": "more than 65 %",
}


def lift_class(percent: float) -> str:
    """The class of a share of the area that came off with the tape, in percent. Raises BadInput outside 0 to 100.

    >>> [lift_class(share) for share in (0, 3, 5, 15, 40, 65, 66)]
    ['5B', '4B', '3B', '2B', '1B', '1B', '0B']
    """
    if not 0 <= percent <= 100:
        raise BadInput(f"{percent:g} % of the area is not possible; allowed are 0 to 100.", "lift", percent)
    if percent == 0:
        return "5B"
    below = next((name for name, high in BELOW if percent < high), None)
    return below or ("1B" if percent <= MOST_1B else "0B")
