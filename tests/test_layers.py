"""Imports point down: web -> services -> store, formats -> core. Core is pure."""

import ast
from pathlib import Path

ROOT = Path(__file__).parent.parent / "src" / "dividers"
ABOVE = {
    "core": {
        "devices",
        "formats",
        "store",
        "services",
        "web",
        "cli",
        "flask",
        "jinja2",
        "sqlite3",
        "reportlab",
        "pathlib",
        "random",
        "os",
        "time",
    },
    "devices": {"store", "services", "web", "cli", "flask", "sqlite3", "formats"},
    "formats": {"devices", "store", "services", "web", "cli", "flask", "sqlite3"},
    "store": {"devices", "formats", "services", "web", "cli", "flask"},
    "services": {"web", "cli", "flask"},
    "web": {"cli"},
}


# Draws with a seed of the job file's, and no other.
SEEDED = {("core/patterns/brick.py", "random")}


def imports(path):
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom):
            yield from [node.module, *(f"{node.module}.{alias.name}" for alias in node.names)]


def test_no_import_points_up():
    for layer, forbidden in ABOVE.items():
        for path in (ROOT / layer).rglob("*.py"):
            for name in imports(path):
                parts = name.split(".")
                top = parts[1] if parts[0] == "dividers" and len(parts) > 1 else parts[0]
                where = str(path.relative_to(ROOT))
                assert top not in forbidden or (where, top) in SEEDED, f"{where} imports {name}"


def test_borrowed_machinery_stays_behind_one_door():
    doors = {
        "shapely": {"core/geometry/polygons.py"},
        "reportlab": {"formats/pdf.py", "formats/poles.py", "formats/paper.py"},
        "waitress": {"cli.py"},
        "ortools": {"core/order/solve.py"},
        "coloraide": {"core/contrast.py"},
        "icalendar": {"formats/ics.py"},
        "PIL": {"formats/photos.py", "formats/preview.py", "formats/layer_png.py"},
        "ezdxf": {"formats/dxf.py"},
        "svgelements": {"formats/outline_svg.py"},
        "defusedxml": {"formats/outline_svg.py"},
    }
    for path in ROOT.rglob("*.py"):
        for name in imports(path):
            package = name.split(".")[0]
            if package in doors:
                assert str(path.relative_to(ROOT)) in doors[package], f"{path} imports {package}"


def test_modules_import_each_other_in_no_circle():
    modules = {"dividers." + ".".join(p.relative_to(ROOT).with_suffix("").parts): p for p in ROOT.rglob("*.py")}
    modules = {name.removesuffix(".__init__"): path for name, path in modules.items()}
    graph = {
        name: {target for target in imports(path) if target in modules and target != name} for name, path in modules.items()
    }
    done = set()

    def visit(name, trail):
        assert name not in trail, " -> ".join([*trail, name])
        if name not in done:
            for target in graph[name]:
                visit(target, [*trail, name])
            done.add(name)

    for name in graph:
        visit(name, [])
