"""Many clients at once: how long pages take, alone and under load. Usage: python tests/load/clients.py [CLIENTS [SECONDS]]; loopback only.

Each client thinks 1 to 3 s between pages; every fifth request is an edit. Says median and p95, errors, and that no edit was lost.
"""

import http.client
import random
import re
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path
from urllib.parse import urlencode

PAGES = ["/jobs", *(f"/jobs/1/{piece}/{station}" for piece in ("prop-trunk", "booth-front", "poster") for station in ("measure", "pattern", "marks", "tape", "materials")), "/jobs/1/logbook", "/supplies"]  # fmt: skip
FORM = "application/x-www-form-urlencoded"


class Client:
    """One browser: a connection, a cookie, a token."""

    def __init__(self, port, seed):
        self.connection = http.client.HTTPConnection("localhost", port, timeout=60)
        self.dice, self.cookie = random.Random(seed), ""
        self.job, self.token, self.edits, self.led_to = "", "", 0, ""

    def __enter__(self):
        return self

    def __exit__(self, *_):
        self.connection.close()

    def ask(self, method, path, body=None):
        headers = {"Cookie": self.cookie} | ({"Content-Type": FORM} if body else {})
        began = time.monotonic()
        self.connection.request(method, path, body, headers)
        answer = self.connection.getresponse()
        content = answer.read()
        self.led_to = answer.getheader("Location") or ""
        if sent := answer.getheader("Set-Cookie"):
            self.cookie = sent.partition(";")[0]
        return answer.status, content, time.monotonic() - began

    def edit(self):
        """Rename a job of its own, which no other client's edits can meet."""
        if not self.job:
            _, page, _ = self.ask("GET", "/jobs")
            self.token = re.search(rb'name="csrf_token" value="([^"]+)"', page)[1].decode()
            self.ask("POST", "/new/wall", self.form(width="3000", height="2400", base="on", units="mm"))
            self.job = re.search(r"/jobs/(\d+)", self.led_to)[1]
        self.edits += 1
        return self.ask("POST", f"/jobs/{self.job}/rename", self.form(title=f"own {self.edits}"))

    def form(self, **fields):
        return urlencode({"csrf_token": self.token, **fields})


def run(port, clients, seconds, think=(1.0, 3.0)):
    """Times of all answers, the errors, and how many edits were acknowledged."""
    took, errors, edits = [], [], []
    until = time.monotonic() + seconds

    def work(seed):
        with Client(port, seed) as client:
            time.sleep(client.dice.random() * think[1])
            while time.monotonic() < until:
                if client.dice.random() < 0.2:
                    status, _, spent = client.edit()
                    edits.append(status)
                else:
                    status, _, spent = client.ask("GET", client.dice.choice(PAGES))
                took.append(spent)
                if status >= 400:
                    errors.append(status)
                time.sleep(client.dice.uniform(*think))

    threads = [threading.Thread(target=work, args=(seed,)) for seed in range(clients)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return took, errors, edits


def memory_mb(pid):
    return int(re.search(r"VmRSS:\s+(\d+)", Path(f"/proc/{pid}/status").read_text())[1]) / 1024


def main(clients=50, seconds=30, passes=3):
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "-m", "dividers.cli", "demo", "--data", folder, "--port", "0"]
        server = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        try:
            port = int(re.search(r":(\d+)/", server.stdout.readline())[1])
            with Client(port, 0) as first:
                for path in PAGES * (passes - 1):
                    first.ask("GET", path)
                idle = statistics.median(first.ask("GET", path)[2] for path in PAGES * passes)
            before = memory_mb(server.pid)
            took, errors, edits = run(port, clients, seconds)
            took.sort()
            p95 = took[int(len(took) * 0.95)]
            with Client(port, 1) as last:
                kept = sum(int(number) for number in re.findall(rb"<h2><a[^>]*>own (\d+)", last.ask("GET", "/jobs")[1]))
            print(
                f"idle median {idle * 1000:.0f} ms; {clients} clients, {len(took)} requests: median {statistics.median(took) * 1000:.0f} ms, p95 {p95 * 1000:.0f} ms ({p95 / idle:.1f} times), slowest {took[-1] * 1000:.0f} ms"
            )
            print(
                f"errors {errors}; edits acknowledged {edits.count(303)}, kept {kept}; memory {before:.0f} MB before, {memory_mb(server.pid):.0f} MB after"
            )
            return p95 / idle, errors, edits.count(303) - kept
        finally:
            server.terminate()
            server.wait(30)
            server.stdout.close()


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
