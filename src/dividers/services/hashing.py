"""How secrets of many random bits are kept: hashed, so that whoever reads the data can't use them."""

import hashlib

DIGITS = 64


def hashed(token: str) -> str:
    """The hash of a token; 128 random bits need no slow one."""
    return hashlib.sha256(token.encode()).hexdigest()
