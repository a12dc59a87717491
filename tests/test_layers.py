"""Imports point down: web -> services -> store, formats -> core, and inside each of them room by room. Core is pure. One name, one thing."""

import ast
from collections import defaultdict
from functools import cache
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


# The rooms of each layer, from the bottom up: a module imports from its own room and from those listed before it.
ROOMS = {
    "core": "base geometry job logbook survey patterns job_file cells marks tape rounds plan advice risk order output materials wall practice sums recipes",
    "services": "actor clock hashing private_files careful one_at_a_time time_zone opening jobs access stations supplies wall logbook practice files keeping",
    "formats": "tables drawings print",
    "web": "numbers database htmx errors old_addresses filters security access due not_taken once forms stations wall logbook practice supplies sums jobs files help app serving",
}

# Draws with a seed of the job file's, and no other.
SEEDED = {("core/patterns/brick.py", "random"), ("core/geometry/graph.py", "random"), ("core/practice/exercises.py", "random")}


@cache
def imports(path):
    """The dotted names that a file imports."""
    return tuple(_imported(path))


def _imported(path):
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
        "reportlab": {"formats/print/ink.py", "formats/print/story_poles.py", "formats/print/paper.py"},
        "platformdirs": {"cli.py"},
        "hypercorn": {"web/serving/http_server.py"},
        "cryptography": {"services/access/authority.py"},
        "ortools": {"core/order/solver_model.py", "core/geometry/colouring.py"},
        "orjson": {"core/plan/plan_document.py"},
        "coloraide": {"core/base/contrast.py"},
        "icalendar": {"formats/ics.py"},
        "PIL": {
            "formats/photos.py",
            "formats/drawings/photo_preview.py",
            "formats/drawings/finished_png.py",
            "formats/drawings/moving_picture.py",
        },
        "ezdxf": {"formats/drawings/dxf.py"},
        "svgelements": {"formats/drawings/outline_svg.py"},
        "defusedxml": {"formats/drawings/outline_svg.py"},
    }
    for path in ROOT.rglob("*.py"):
        for name in imports(path):
            package = name.split(".")[0]
            if package in doors:
                assert str(path.relative_to(ROOT)) in doors[package], f"{path} imports {package}"


def room_of(name):
    """The layer and the room of a dotted name such as dividers.core.tape.strips; empty for other packages."""
    package, layer, room, *_ = [*name.split("."), "", ""]
    return (layer, room) if package == "dividers" else ("", "")


def test_the_root_of_the_core_holds_no_module():
    assert [path.name for path in (ROOT / "core").glob("*.py")] == ["__init__.py"]


def test_rooms_import_only_from_rooms_below_them():
    for layer, listed in ROOMS.items():
        rank = {room: number for number, room in enumerate(listed.split())}
        for path in (ROOT / layer).rglob("*.py"):
            own = path.relative_to(ROOT / layer).with_suffix("").parts[0]
            for name in imports(path):
                top, room = room_of(name)
                if top == layer and own in rank and room in rank:
                    assert rank[room] <= rank[own], f"{path.relative_to(ROOT)} imports {name}"


def test_no_page_reaches_for_a_table():
    for path in (ROOT / "web").rglob("*.py"):
        assert not [name for name in imports(path) if name.startswith("dividers.store")], path


def test_every_room_has_its_place():
    for layer, listed in ROOMS.items():
        folders = {path.parent.name for path in (ROOT / layer).glob("*/__init__.py")}
        assert folders <= set(listed.split())


# The same thing as a page, a use case, a table, a file and a piece of the core: one name for all of them.
SAME_THING = {
    "database",
    "devices",
    "due",
    "errors",
    "evidence",
    "files",
    "history",
    "jobs",
    "logbook",
    "patches",
    "photo_preview",
    "photos",
    "quote",
    "practice",
    "proposals",
    "record",
    "schedule",
    "sheets",
    "supplies",
    "tools",
    "survey",
    "wall",
}


def test_a_module_name_means_one_thing():
    """Within a layer no name stands twice; across layers only for the same thing."""
    found = defaultdict(list)
    for path in ROOT.rglob("*.py"):
        if path.stem not in ("__init__", "__main__"):
            found[path.stem].append(path.relative_to(ROOT))
    for name, paths in found.items():
        layers = [path.parts[0] for path in paths]
        assert len(layers) == len(set(layers)), f"{name}: {paths}"
        assert len(layers) == 1 or name in SAME_THING, f"{name}: {paths}"


def test_a_class_name_means_one_thing():
    found = defaultdict(list)
    for path in ROOT.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.ClassDef):
                found[node.name.lstrip("_")].append(str(path.relative_to(ROOT)))
    assert {name: paths for name, paths in found.items() if len(paths) > 1} == {}


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
