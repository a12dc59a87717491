"""The same job gives the same schedule, byte for byte, when the machine is slow: the process is stopped again and again."""

import json
import os
import select
import signal
import subprocess
import sys
import time
from importlib.resources import files

PIECES = 3  # enough that the search ends at its limit
COMMAND = [sys.executable, "-c", "import sys; from dividers.cli import main; sys.exit(main(['plan', '-', '--schedule']))"]


def planned(pause):
    job = json.loads((files("dividers.demo") / "lantern-cart.json").read_text())
    job["pieces"] = job["pieces"][:PIECES]
    with subprocess.Popen(COMMAND, stdin=subprocess.PIPE, stdout=subprocess.PIPE) as process:
        process.stdin.write(json.dumps(job).encode())
        process.stdin.close()
        while pause and process.poll() is None and not _has_output(process):
            os.kill(process.pid, signal.SIGSTOP)
            time.sleep(pause)
            os.kill(process.pid, signal.SIGCONT)
            time.sleep(pause)
        return process.stdout.read()


def _has_output(process):
    return bool(select.select([process.stdout], [], [], 0)[0])


def test_a_paused_process_gives_the_same_bytes():
    plain = planned(0)
    assert b'"schedule"' in plain
    assert planned(0.2) == plain
