"""Checks a schedule against the job file and the plan, from their JSON alone: hours, hands, waits, windows, tape on paint.

It shares nothing with the engine but the JSON, and knows only label times at 23 °C and 50 %.
"""

from datetime import datetime, timedelta
from itertools import pairwise

from plan_checker import Shape, overlap_mm2

USUAL = {"touch_dry": 45, "recoat": 120, "tape_safe": 1440, "full_dry": 1440, "wet_edge": 10}
DAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
UNITS = {"min": 1, "h": 60, "d": 1440}


def minutes(text):
    number, unit = text.split()
    return float(number) * UNITS[unit]


class Checker:
    def __init__(self, job, plan):
        self.job, self.plan = job, plan
        self.tasks = plan["schedule"]["tasks"]
        for task in self.tasks:
            task["from"], task["to"] = (datetime.fromisoformat(task[key]) for key in ("start", "end"))
        crew = job.get("crew", {})
        self.painters = crew.get("painters", 1)
        self.hours = crew.get("hours", [["08:00", "12:00"], ["12:30", "17:30"]])
        self.days = crew.get("days", list(DAYS[:6]))

    def check(self):
        self.within_hours()
        self.hands()
        for piece in self.job["pieces"]:
            self.piece(piece, next(p for p in self.plan["pieces"] if p["name"] == piece["name"]))
        assert self.plan["schedule"]["finish"] == max(task["end"] for task in self.tasks)

    def spans(self, day):
        if DAYS[day.weekday()] not in self.days:
            return []
        return [tuple(day + timedelta(hours=int(t[:2]), minutes=int(t[3:])) for t in span) for span in self.hours]

    def presence(self, start, end):
        """Minutes of work time between two moments, and in how many spans they lie."""
        day, total, parts = start.replace(hour=0, minute=0), 0, 0
        while day < end:
            for low, high in self.spans(day):
                both = (min(high, end) - max(low, start)).total_seconds() / 60
                total, parts = total + max(both, 0), parts + (both > 0)
            day += timedelta(days=1)
        return total, parts

    def within_hours(self):
        for task in self.tasks:
            worked, parts = self.presence(task["from"], task["to"])
            assert worked == task["minutes"], task
            assert task["split"] or parts == 1, task
            assert self.presence(task["from"], task["from"] + timedelta(minutes=1))[0] == 1

    def hands(self):
        events = sorted([(t["from"], 1) for t in self.tasks] + [(t["to"], -1) for t in self.tasks])
        busy = 0
        for _, change in events:
            busy += change
            assert busy <= self.painters
        for painter in {t["painter"] for t in self.tasks}:
            own = sorted((t["from"], t["to"]) for t in self.tasks if t["painter"] == painter)
            assert all(one[1] <= other[0] for one, other in pairwise(own))

    def label(self, piece, color, name):
        product = self.job.get("products", {}).get(piece.get("method", {}).get("paint", {}).get(color), {})
        return minutes(product[name]) if name in product else USUAL[name]

    def piece(self, piece, plan):
        own = [task for task in self.tasks if task["piece"] == piece["name"]]
        method = piece.get("method", {})
        base = sorted((t for t in own if t["kind"] == "base"), key=lambda t: t["coat"])
        for one, other in pairwise(base):
            assert gap(one["to"], other["from"]) >= self.label(piece, piece["base"], "recoat")
        pull_methods = {each["round"]: each for each in plan["forecast"]["rounds"]}
        every = sorted((t for t in own if t["kind"] == "tape"), key=lambda t: t["from"])
        areas = {(t["round"], t["area"]): t for t in every}
        assert len(areas) == len(every)
        assert sorted({number for number, _ in areas}) == [each["number"] for each in plan["rounds"]]
        for tape in every:
            for coat in base:
                assert gap(coat["to"], tape["from"]) >= self.label(piece, piece["base"], "tape_safe")
        coats = [t for t in own if t["kind"] == "coat"]
        colors = {cell["id"]: {cell["color"], cell.get("under")} for cell in plan["cells"]}
        for each in plan["rounds"]:
            here = [t for t in coats if t["round"] == each["number"]]
            assert {cell for t in here for cell in t["cells"]} == set(each["cells"])
            for cell in each["cells"]:
                for color in colors[cell] & set(each["colors"]):
                    many = {t["coat"] for t in here if cell in t["cells"] and t["color"] == color}
                    assert len(many) == method.get("coats", {}).get(color, 2)
            for batch in {t["batch"] for t in here}:
                self.batch(piece, each, [t for t in here if t["batch"] == batch], own, areas, pull_methods[each["number"]])
        self.tape_on_paint(piece, plan, areas, coats)
        self.paint_on_paint(piece, plan, own, coats)
        for layer in piece.get("layers", []):
            if "kind" in layer:
                self.by_hand(piece, layer, plan, own)

    def by_hand(self, piece, layer, plan, own):
        """What is done by hand comes when all tape is off, on paint that can be painted over, after its marks, coat upon dry coat."""
        here = [t for t in own if t["kind"] == "hand" and t["layer"] == layer["name"]]
        entries = [each for each in plan["hand"] if each["layer"] == layer["name"] and (each["places"] or each["lines"])]
        assert {t["color"] for t in here} == {each["color"] for each in entries}
        for task in here:
            assert all(gap(t["to"], task["from"]) >= 0 for t in own if t["kind"] == "pull")
            for coat in (t for t in own if t["kind"] in ("coat", "base")):
                assert gap(coat["to"], task["from"]) >= self.label(piece, coat.get("color") or piece["base"], "recoat")
            assert all(gap(t["to"], task["from"]) >= 0 for t in own if t["kind"] == "mark" and t["layer"] == layer["name"])
        for color in {t["color"] for t in here}:
            in_turn = sorted((t for t in here if t["color"] == color), key=lambda t: t["coat"])
            for one, other in pairwise(in_turn):
                assert gap(one["to"], other["from"]) >= self.label(piece, color, "recoat")

    def batch(self, piece, each, coats, own, areas, pull_method):
        for color in {t["color"] for t in coats}:
            in_turn = sorted((t for t in coats if t["color"] == color), key=lambda t: t["coat"])
            assert gap(areas[each["number"], in_turn[0]["area"]]["to"], in_turn[0]["from"]) >= 0
            for one, other in pairwise(in_turn):
                assert gap(one["to"], other["from"]) >= self.label(piece, color, "recoat")
        [pull] = [t for t in own if t["kind"] == "pull" and t["round"] == each["number"] and t["batch"] == coats[0]["batch"]]
        lasts = [max((t for t in coats if t["color"] == c), key=lambda t: t["coat"]) for c in {t["color"] for t in coats}]
        names = [t["color"] for t in lasts]
        for last in lasts:
            assert gap(last["to"], pull["from"]) >= 0
            if pull_method["pull"] == "wet":
                wet = min(self.label(piece, c, "wet_edge") for c in names)
                assert gap(last["from"], pull["to"]) <= wet
            elif pull_method["pull"] == "touch-dry":
                touch = max(self.label(piece, c, "touch_dry") for c in names)
                assert gap(last["to"], pull["from"]) >= touch
                assert gap(last["from"], pull["to"]) <= touch + 240
            else:
                assert gap(last["to"], pull["from"]) >= max(self.label(piece, c, "full_dry") for c in names)

    def tape_on_paint(self, piece, plan, areas, coats):
        """No tape on paint that isn't tape-safe, strip by strip through all layers; `areas` are the tape tasks by round and area."""
        painted = {}
        for coat in coats:
            for cell in coat["cells"]:
                painted.setdefault(cell, []).append(coat)
        for each in plan["rounds"]:
            for strip in each["strips"]:
                on = areas[each["number"], strip["area"]]["from"]
                for cell in strip["covers"]:
                    for coat in painted.get(cell, ()):
                        if coat["round"] < each["number"]:
                            safe = self.label(piece, coat["color"], "tape_safe")
                            assert gap(coat["to"], on) >= safe, f"{strip['id']} lies on {cell} too soon"

    def paint_on_paint(self, piece, plan, own, coats):
        """No coat of a layer on paint of another below it that may not be recoated yet, or whose tape is still on."""
        shapes = {cell["id"]: Shape(cell) for cell in plan["cells"]}
        pulls = {(t["round"], t["batch"]): t for t in own if t["kind"] == "pull"}
        layers = {cell["id"]: cell["layer"] for cell in plan["cells"]}
        for upper in coats:
            for lower in coats:
                if lower["round"] >= upper["round"] or lower["layer"] == upper["layer"]:
                    continue
                meets = any(
                    shapes[a].document["panel"] == shapes[b].document["panel"]
                    and layers[a] != layers[b]
                    and overlap_mm2(shapes[a], shapes[b]) > 1
                    for a in upper["cells"]
                    for b in lower["cells"]
                )
                if meets:
                    assert gap(lower["to"], upper["from"]) >= self.label(piece, lower["color"], "recoat")
                    assert gap(pulls[lower["round"], lower["batch"]]["to"], upper["from"]) >= 0


def gap(one, other):
    return (other - one).total_seconds() / 60
