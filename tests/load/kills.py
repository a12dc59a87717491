"""The program is killed again and again while it is written to: nothing that was acknowledged may be lost. Usage: python tests/load/kills.py [KILLS]."""

import io
import random
import re
import subprocess
import sys
import tempfile
import threading
import time
from http.client import HTTPException
from pathlib import Path

from clients import Client, urlencode
from PIL import Image

from dividers.services.keeping.health import faults_in

PARTS = "----part"


def picture(dice):
    out = io.BytesIO()
    Image.effect_noise((200, 150), dice.randrange(20, 90)).convert("RGB").save(out, "JPEG")
    return out.getvalue()


def multipart(fields, photo):
    parts = [
        f'--{PARTS}\r\nContent-Disposition: form-data; name="{name}"\r\n\r\n{value}\r\n'.encode()
        for name, value in fields.items()
    ]
    head = f'--{PARTS}\r\nContent-Disposition: form-data; name="photo"; filename="x.jpg"\r\nContent-Type: image/jpeg\r\n\r\n'.encode()
    return b"".join(parts) + head + photo + f"\r\n--{PARTS}--\r\n".encode()


class Writer(Client):
    """Renames a job, and writes down findings with photos; `told` is what was acknowledged."""

    def __init__(self, port, seed, told):
        super().__init__(port, seed)
        self.told = told

    def work(self):
        try:
            page = self.ask("GET", "/jobs")[1]
            self.token = re.search(rb'name="csrf_token" value="([^"]+)"', page)[1].decode()
            while True:
                self.told["tried"] += 1
                if self.dice.random() < 0.7:
                    status, _, _ = self.ask(
                        "POST", "/jobs/1/rename", urlencode({"csrf_token": self.token, "title": f"state {self.told['tried']}"})
                    )
                    if status == 303:
                        self.told["title"] = self.told["tried"]
                        self.told["edits"] += 1
                else:
                    self.finding()
        except (OSError, TypeError, HTTPException):
            return  # it was killed
        finally:
            self.connection.close()

    def finding(self):
        body = multipart(
            {"csrf_token": self.token, "round": "prop-trunk/1", "all-clean": "yes", "note": f"note {self.told['tried']}"},
            picture(self.dice),
        )
        headers = {"Cookie": self.cookie, "Content-Type": f"multipart/form-data; boundary={PARTS}"}
        self.connection.request("POST", "/jobs/1/logbook/findings", body, headers)
        answer = self.connection.getresponse()
        answer.read()
        if answer.status == 303:
            self.told["findings"] += 1


def started(folder, command="serve"):
    server = subprocess.Popen(
        [sys.executable, "-m", "dividers.cli", command, "--data", folder, "--port", "0"], stdout=subprocess.PIPE, text=True
    )
    return server, int(re.search(r":(\d+)/", server.stdout.readline())[1])


def main(kills=200, seed=1):
    """Returns what was acknowledged."""
    dice = random.Random(seed)
    told = {"tried": 0, "title": 0, "edits": 0, "findings": 0}
    with tempfile.TemporaryDirectory() as folder:
        for kill in range(kills):
            server, port = started(folder, "serve" if kill else "demo")
            check(port, told)
            writer = threading.Thread(target=Writer(port, kill, told).work)
            writer.start()
            time.sleep(dice.uniform(0.05, 2.5))
            server.kill()
            server.wait()
            server.stdout.close()
            writer.join()
        server, port = started(folder)
        check(port, told)
        server.terminate()
        server.wait(30)
        server.stdout.close()
        assert faults_in(Path(folder)) == [], faults_in(Path(folder))
    print(f"{kills} kills; acknowledged and kept: {told['edits']} edits, {told['findings']} findings with photos")
    return told


def check(port, told):
    """The state in force is the last that was acknowledged or a later one; so are the findings."""
    with Client(port, 0) as client:
        jobs, record = (client.ask("GET", path)[1] for path in ("/jobs", "/jobs/1/record.json"))
    if told["title"]:
        shown = int(re.search(rb"<h2><a[^>]*>state (\d+)", jobs)[1])
        assert told["title"] <= shown <= told["tried"], (shown, told)
    assert record.count(b'"note": "note ') + record.count(b'"note":"note ') >= told["findings"], told


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
