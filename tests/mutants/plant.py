"""Plants the faults of faults.txt one by one in a copy of the project and says which of them the tests miss.

Run by bin/mutants [NUMBER ...]; without numbers all are planted. Exits with 1 where a fault is missed or no longer fits.
"""

import os
import re
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[2]
FAULTS = Path(__file__).with_name("faults.txt")
LEFT_OUT = shutil.ignore_patterns(".git", ".venv", "__pycache__", "*.pyc", "screenshots", ".hypothesis", "browser")
BLOCK = re.compile(r"^@ (\S+) \| (.+)\n- (.*)\n\+ (.*)$", re.MULTILINE)


@dataclass(frozen=True)
class Fault:
    """Text of a file under src/dividers, what is planted instead, and the tests that should notice."""

    number: int
    file: str
    old: str
    new: str
    tests: tuple[str, ...]

    def __str__(self):
        return f"{self.number:3} {self.file}: {self.old[:60]} -> {self.new[:60]}"


def read_faults(text):
    return [Fault(n, m[1], m[3], m[4], tuple(m[2].split())) for n, m in enumerate(BLOCK.finditer(text), 1)]


def planted(fault, folder):
    """What the tests say of a copy with the fault: "noticed", "missed" or "no longer fits"."""
    copy = Path(folder) / f"fault-{fault.number}"
    shutil.copytree(ROOT, copy, ignore=LEFT_OUT)
    try:
        path = copy / "src/dividers" / fault.file
        text = path.read_text()
        if text.count(fault.old) != 1 or fault.old == fault.new:
            return "no longer fits"
        path.write_text(text.replace(fault.old, fault.new))
        tests = [f"tests/{each}" for each in fault.tests]
        command = [ROOT / ".venv/bin/python", "-m", "pytest", "-x", "-p", "no:cacheprovider", "-p", "no:xdist", *tests]
        ran = subprocess.run(command, cwd=copy, capture_output=True, env=os.environ | {"DIVIDERS_PROFILE": "quick"})
        return {0: "missed", 1: "noticed"}.get(ran.returncode, f"tests didn't run: {ran.stdout.decode()[-300:]}")
    finally:
        shutil.rmtree(copy)


def main(numbers):
    faults = [each for each in read_faults(FAULTS.read_text()) if not numbers or each.number in numbers]
    with tempfile.TemporaryDirectory() as folder, ThreadPoolExecutor(os.cpu_count()) as pool:
        wrong = 0
        for fault, said in zip(faults, pool.map(lambda each: planted(each, folder), faults), strict=True):
            if said != "noticed":
                wrong += 1
                print(f"{fault}: {said}", flush=True)
    print(f"{len(faults)} faults planted, {len(faults) - wrong} noticed.")
    return int(wrong > 0)


if __name__ == "__main__":
    sys.exit(main({int(each) for each in sys.argv[1:]}))
