"""The one reader of whole numbers that come from outside: ids, counts, places in a list."""

MOST = 10**9 - 1  # more than there is of anything, and far from what a database can't hold


def whole(text: str, most: int = MOST) -> int | None:
    """A whole number written in plain digits, 0 to `most`; None for anything else.

    >>> [whole(text) for text in ("12", "007", "", "-1", "1e3", "²", "١", "9" * 5000, "3 ")]
    [12, 7, None, None, None, None, None, None, None]
    """
    if not text.isascii() or not text.isdigit() or len(text.lstrip("0")) > len(str(MOST)):
        return None
    number = int(text.lstrip("0") or "0")
    return number if number <= most else None
