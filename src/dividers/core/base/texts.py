"""What may stand in a text, and how many of something are said."""

import json


def counted(many: int, one: str, more: str = "") -> str:
    """How many there are, in words that fit.

    >>> counted(1, "strip"), counted(3, "strip"), counted(2, "batch", "batches")
    ('1 strip', '3 strips', '2 batches')
    """
    return f"{many} {one if many == 1 else more or one + 's'}"


def storable(value: object) -> bool:
    """Whether all texts in a JSON value are whole: no half of a letter that takes two (a lone surrogate), which nothing can store or show.

    >>> storable({"name": "Tür 🚪"}), storable(["\\ud83d"])
    (True, False)
    """
    try:
        json.dumps(value, ensure_ascii=False, default=str).encode()
    except UnicodeEncodeError:
        return False
    return True
