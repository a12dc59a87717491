"""The addresses and the name that this machine has in its network, as far as it can tell without asking anybody."""

import socket
from collections.abc import Sequence
from contextlib import suppress
from ipaddress import ip_address

ANYWHERE = ("192.0.2.1", 9)  # an address of nobody (RFC 5737): a route is looked up for it, nothing is sent


def own_addresses() -> list[str]:
    """Addresses to give to phones, the likeliest first, then the machine's name with and without its domain."""
    found: list[str] = []
    with (
        socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe,
        suppress(OSError),
    ):  # without a network only the names are left
        probe.connect(ANYWHERE)
        found.append(str(probe.getsockname()[0]))
    name = socket.gethostname().lower()
    with suppress(OSError):
        found += [str(entry[4][0]) for entry in socket.getaddrinfo(name, None, socket.AF_INET)]
    near = [address for address in found if not address.startswith("127.")]
    return list(dict.fromkeys([*near, f"{name}.local", name]))


def has_address(names: Sequence[str]) -> bool:
    """Whether there is an address among names, and so a network."""
    for name in names:
        with suppress(ValueError):
            return bool(ip_address(name))
    return False
