"""What is released: a wheel and a source archive with every file of the package, installed in an environment of their own."""

import json
import subprocess
import sys
import sysconfig
import tarfile
import venv
import zipfile
from pathlib import Path

import pytest
from jobs import wall

ROOT = Path(__file__).parents[1]
BUILD = "import sys; from setuptools import build_meta; build_meta.build_{}(sys.argv[1])"


@pytest.fixture(scope="module")
def built(tmp_path_factory):
    """The wheel and the source archive, built from a copy: building leaves folders beside the source."""
    copy, out = tmp_path_factory.mktemp("source"), tmp_path_factory.mktemp("built")
    names = subprocess.run(["git", "ls-files", "-z", "src", "README.md", "LICENSE", "pyproject.toml"], cwd=ROOT, check=True, capture_output=True, text=True)  # fmt: skip
    sources = [Path(name) for name in names.stdout.split("\0") if name and (ROOT / name).is_file()]
    for name in sources:
        (copy / name).parent.mkdir(parents=True, exist_ok=True)
        (copy / name).write_bytes((ROOT / name).read_bytes())
    for kind in ("wheel", "sdist"):
        subprocess.run([sys.executable, "-c", BUILD.format(kind), str(out)], cwd=copy, check=True, capture_output=True)
    return sources, next(out.glob("*.whl")), next(out.glob("*.tar.gz"))


def test_wheel_and_source_archive_hold_every_file(built):
    sources, wheel, archive = built
    wanted = {str(name.relative_to("src")) for name in sources if name.parts[0] == "src" and name.suffix != ".md"}
    assert len(wanted) > 400 and wanted <= set(zipfile.ZipFile(wheel).namelist())
    with tarfile.open(archive) as opened:
        assert wanted <= {name.partition("/src/")[2] for name in opened.getnames()}


def test_the_wheel_works_in_an_environment_of_its_own(built, tmp_path):
    """With the packages that the tests have, though without what is being worked on here."""
    venv.create(tmp_path / "own", with_pip=False)
    python = tmp_path / "own/bin/python"
    place = Path(subprocess.run([python, "-c", "import sysconfig; print(sysconfig.get_path('purelib'))"], check=True, capture_output=True, text=True).stdout.strip())  # fmt: skip
    zipfile.ZipFile(built[1]).extractall(place)
    (place / "others.pth").write_text(sysconfig.get_path("purelib"))

    def run(*words):
        command = [python, "-m", "dividers", *words]
        return subprocess.run(command, check=True, capture_output=True, text=True, cwd=tmp_path).stdout

    assert run("--version") == "dividers 0.2.0\n"
    (tmp_path / "job.json").write_text(json.dumps(wall()))
    assert json.loads(run("plan", "job.json"))["pieces"][0]["rounds"]
    assert "The Lantern Cart" in run("demo", "--only-load", "--data", "demo") + run("export", "--data", "demo")
