"""The command line: plan, import and export, serving and stopping."""

import json
import os
import signal
import subprocess
import sys
import urllib.request

import pytest
from jobs import wall

from dividers.cli import main


def test_plan_prints_the_plan(tmp_path, capsys):
    file = tmp_path / "job.json"
    file.write_text(json.dumps(wall(piece={"mood": "odd"})))
    assert main(["plan", str(file)]) == 0
    said = capsys.readouterr()
    assert json.loads(said.out)["format"] == "dividers-plan/2"
    assert "mood" in said.err


@pytest.mark.parametrize("text", ["{", json.dumps(wall(panel={"width": "5 apples", "height": "-1"}))])
def test_a_bad_job_exits_2_with_a_line_for_each_fault(tmp_path, capsys, text):
    file = tmp_path / "job.json"
    file.write_text(text)
    assert main(["plan", str(file)]) == 2
    said = capsys.readouterr()
    assert said.out == ""
    assert "Traceback" not in said.err
    assert len(said.err.splitlines()) == (1 if text == "{" else 2)


def test_import_and_export(tmp_path, capsys):
    file = tmp_path / "job.json"
    file.write_text(json.dumps(wall()))
    data = ["--data", str(tmp_path / "data")]
    assert main(["import", str(file), *data]) == 0
    assert main(["export", *data]) == 0
    assert "A wall" in capsys.readouterr().out
    assert main(["export", "1", *data]) == 0
    assert json.loads(capsys.readouterr().out)["title"] == "A wall"
    assert main(["export", "9", *data]) == 2


def test_serving_answers_and_sigterm_stops_it_cleanly(tmp_path):
    command = [sys.executable, "-m", "dividers", "serve", "--data", str(tmp_path), "--port", "0"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, env=os.environ) as process:
        line = process.stdout.readline()
        address = next(word for word in line.split() if word.startswith("http://127.0.0.1:"))
        with urllib.request.urlopen(f"{address}jobs", timeout=60) as answer:
            assert answer.status == 200
        process.send_signal(signal.SIGTERM)
        assert process.wait(timeout=60) == 0
        assert "Traceback" not in process.stderr.read()
