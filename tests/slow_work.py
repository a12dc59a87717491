"""Work for a process beside the tests, which finds it by its name."""

import os
import time


def work(key, stopping):
    """What a key says: "later ..." works until it is stopped, "bad ..." fails, "dead ..." ends its process."""
    if key.startswith("later"):
        while not stopping.asked:
            time.sleep(0.01)
        return f"half of {key}"
    if key.startswith("bad"):
        raise ValueError(key)
    if key.startswith("dead"):
        os._exit(3)
    return f"{key} in {os.getpid()}"
