"""What may stand in a text."""

import json


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
