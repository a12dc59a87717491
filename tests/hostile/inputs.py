"""Hostile requests without end: every address, form and upload of the application, filled with what nobody would type by accident."""

import io
import json
import random
import zipfile
from html.parser import HTMLParser

from dividers.services.jobs.demo import demo_document

# Texts that have broken programs before: numbers that aren't, too much of everything, letters that aren't letters, code.
TEXTS = [
    "", " ", "0", "-1", "1", "2", "9" * 10, "9" * 20, "9" * 5000, "1e999", "-1e999", "NaN", "inf", "1e5", "0x10", "1_000", "²", "١٢", "½", "1/0", "3/7",
    "1 1/2", "12' 6 3/8\"", "-3 mm", "1e300 mm", "24 in", "1" + "/3" * 40, "7;" * 3000, ";" * 2000, "(" * 3000, "[" * 3000, " " * 60_000 + "x",
    "1 " * 2000, "\x00", "a\x00b", "\ud800", "\udfff x", "\u202e", "\ufeff12", "🪣" * 50, "é" * 2000, "a" * 70_000, "../../etc/passwd", "..", ".", "/", "\\",
    "%00", "%s%n", "{0}", "{{7*7}}", "${x}", "<script>alert(1)</script>", "\"'><svg onload=x>", "' or 1=1 --", "\r\nSet-Cookie: x=1", "null", "true",
    "[]", "{}", '{"a":1}', "[[[[]]]]", "2026-13-45", "0001-01-01", "9999-12-31", "9999-12-31T23:59", "0000", "25:61", "08:00-07:00", "mon-sun 8-99",
    "8:00 - 17:00, " * 400, "#ggg", "#000", "red", "base", "toString", "__proto__", "stripes", "auto", "in", "mm", "m1", "s99999999999", "wall", "door",
    "prop-trunk/1", "prop-trunk/99999999999999999999", "prop-trunk/mark/-/-/-/1", "a:b:c:d", "remove-color:999", "fill:0:1e999:x:", "use:{\"pattern.count\":[]}",
    "use:[1]", "fit:count:0", "earlier:base:base", "take-reading:0:widths:0:9", "drop-reading:0:level:99", "use:{\"method.coats.x\":1e400}",
]  # fmt: skip
VALUES = [
    None,
    True,
    False,
    0,
    -1,
    1,
    2**70,
    -(2**63),
    1e308,
    1e-320,
    0.1,
    "",
    "x",
    [],
    {},
    [None],
    [[]],
    {"": ""},
    {"a": {"b": []}},
    *TEXTS[:40],
]
JSON_TYPE = "application/json"


class Forms(HTMLParser):
    """The forms of a page: (address, [(name, value)])."""

    def __init__(self, page, at):
        super().__init__()
        self.forms, self.at, self.open = [], at, None
        self.feed(page)

    def handle_starttag(self, tag, attributes):
        given = dict(attributes)
        if tag == "form":
            self.open = (given.get("action") or self.at, (given.get("method") or "get").upper(), [])
            self.forms.append(self.open)
        elif tag in ("input", "button", "textarea", "select") and given.get("name") and self.open:
            self.open[2].append((given["name"], given.get("value") or ""))
        elif tag == "option" and self.open and self.open[2] and ("selected" in given):
            self.open[2][-1] = (self.open[2][-1][0], given.get("value") or "")

    def handle_endtag(self, tag):
        if tag == "form":
            self.open = None


def forms_of(client, addresses):
    """Every form on some pages that sends anything."""
    found = []
    for address in addresses:
        page = client.get(address, follow_redirects=True)
        found += [form for form in Forms(page.get_data(as_text=True), address).forms if form[1] == "POST"]
    assert len(found) > 60, len(found)
    return found


class Hostile:
    """Requests by a seed: the same seed, the same requests. `rules` are (rule, method) of the application."""

    def __init__(self, seed, rules, forms, archive):
        self.dice, self.rules, self.forms, self.archive = random.Random(seed), rules, forms, archive

    def text(self):
        if self.dice.random() < 0.1:
            return "".join(self.dice.choice(TEXTS)[:200] for _ in range(3))
        return self.dice.choice(TEXTS)

    def request(self):
        """The keyword arguments of one request to a test client."""
        return self.dice.choices((self.by_form, self.by_address, self.by_upload, self.by_events), (10, 5, 5, 2))[0]()

    def by_form(self):
        """A form of a page, with a few of its fields replaced, doubled or left out."""
        address, method, fields = self.dice.choice(self.forms)
        sent = []
        spoiled = set(self.dice.sample(range(len(fields)), min(len(fields), self.dice.choice((1, 1, 1, 2, 5)))))
        for number, (name, value) in enumerate(fields):
            if number not in spoiled:
                sent.append((name, value))
            elif self.dice.random() < 0.9:
                sent += [(name, self.text())] * self.dice.choice((1, 1, 1, 2))
        return {"path": address, "method": method, "data": encoded(sent), "content_type": "application/x-www-form-urlencoded"}

    def by_address(self):
        """Any address of the application, its parts and its query filled with anything."""
        rule, method = self.dice.choice(self.rules)
        path = rule.rule
        usual = {"job_id": "1", "piece": "prop-trunk", "station": "tape", "number": "1", "which": "look.svg", "kind": "paint"}
        for name in rule.arguments:
            value = usual.get(name, "1") if self.dice.random() < 0.6 else quoted(self.text()[:3000] or "x")
            path = path.replace(next(part for part in path.split("/") if f":{name}>" in part or f"<{name}>" in part), value)
        query = encoded([(self.dice.choice(("task", "round", "view", "size", "before", "run", "seed", "q", "kind", "other", "one", "strips_count",
            "strips_measured", "mix_area", "mix_parts", "mix_spread", "mix_coats", "piece", "shown", "painter", "panel", "line", "job", "have")), self.text()[:4000])
            for _ in range(self.dice.choice((0, 1, 1, 2)))])  # fmt: skip
        return {"path": f"{path}?{query}", "method": method}

    def by_events(self):
        """What a phone's queue might send."""
        kinds = ("start", "done", "skip", "tick", "untick", "undo", "air", "here", "touch", "", 7, None)
        some = [self.dice.choice((
            {"kind": self.dice.choice(kinds), "task": self.dice.choice((self.text()[:500], 3, None)), "uid": self.dice.choice((self.text()[:90], "u1", 5)),
             "painter": self.dice.choice(VALUES), "at": self.dice.choice((self.text()[:90], "2026-10-13T08:00:00Z", "9999-12-31T23:59:59Z", "0001-01-01T00:00:00Z")),
             "body": self.dice.choice((self.spoiled({"item": "m1", "reason": "x", "temperature": "20 C", "humidity": "50", "of": "u1", "minutes": 60}), [], 3))},
            self.dice.choice(VALUES))) for _ in range(self.dice.choice((0, 1, 3)))]  # fmt: skip
        body = json.dumps(self.dice.choice((some, some, some, {"a": some}, None)))
        return {"path": "/jobs/1/wall/events?run=1", "method": "POST", "data": body, "content_type": JSON_TYPE}

    def spoiled(self, value):
        """A copy of a JSON value with something in it replaced, taken out or put in."""
        place = copied = json.loads(json.dumps(value))
        while True:
            keys = list(place) if isinstance(place, dict) else list(range(len(place)))
            if not keys:
                return copied
            key = self.dice.choice(keys)
            if isinstance(place[key], dict | list) and place[key] and self.dice.random() < 0.85:
                place = place[key]
                continue
            act = self.dice.random()
            if act < 0.15:
                del place[key]
            elif act < 0.25 and isinstance(place, dict):
                place[self.text()[:60]] = self.dice.choice(VALUES)
            else:
                place[key] = self.dice.choice(VALUES)
            return copied

    def by_upload(self):
        """A file of one of the kinds that are taken, with something in it spoiled."""
        path, field, name, content, more = self.dice.choice(
            (self.job_file, self.archive_file, self.table, self.calendar, self.colours, self.drawing, self.picture)
        )()
        if self.dice.random() < 0.3:
            content = self.cut(content)
        data = {field: (io.BytesIO(content), name), **more}
        return {"path": path, "method": "POST", "data": data, "content_type": "multipart/form-data"}

    def cut(self, content):
        """Bytes with a part lost, doubled or overwritten."""
        at, to = sorted(self.dice.randrange(len(content) + 1) for _ in range(2))
        return self.dice.choice(
            (content[:at], content[:at] + content[to:], content[:to] * 2, content[:at] + self.dice.randbytes(9) + content[at:])
        )

    def job_file(self):
        document = self.spoiled(demo_document())
        for _ in range(self.dice.choice((0, 0, 1, 3))):
            document = self.spoiled(document) if isinstance(document, dict) and document else document
        return "/jobs/import", "file", "x.json", json.dumps(document).encode(), {}

    def archive_file(self):
        made = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(self.archive)) as old, zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as new:
            for entry in old.namelist():
                content = old.read(entry)
                if entry.endswith(".json") and self.dice.random() < 0.7:
                    content = json.dumps(self.spoiled(json.loads(content))).encode()
                if self.dice.random() < 0.95:
                    new.writestr(
                        entry
                        if self.dice.random() < 0.95
                        else self.text()[:60].encode("utf-8", "replace").decode().partition("\0")[0] or "x",
                        content,
                    )
        return "/jobs/archive", "file", "x.zip", made.getvalue(), {}

    def table(self):
        rows = "\r\n".join(";".join(self.text()[:3000] for _ in range(3)) for _ in range(4))
        heads = self.dice.choice(
            ("width;height;at", "kind,name,price", "what\tlength\tat", "width;84 1/2;top\rwidth;84;bottom", "name")
        )
        path = self.dice.choice(("/jobs/1/prop-trunk/readings/table", "/supplies/table"))
        return (
            path,
            "file",
            "x.csv",
            f"{heads}\r\n{rows}".encode("utf-8", "surrogatepass"),
            {"table": self.text()[:3000].encode("utf-8", "replace").decode(), "kind": "paint"},
        )

    def calendar(self):
        start = self.dice.choice(("20261013T080000Z", "00010101", "99991231T235959", "rubbish", "20261013", "080000", ""))
        rule = self.dice.choice(("FREQ=DAILY", "FREQ=SECONDLY", "FREQ=MINUTELY;COUNT=9", "FREQ=HOURLY;UNTIL=99991231", "FREQ=YEARLY;BYDAY=500MO",
            "FREQ=WEEKLY;BYDAY=MO,TU;INTERVAL=0", "FREQ=DAILY;COUNT=99999999999", "FREQ=X", "FREQ=MONTHLY;BYMONTHDAY=31;BYMONTH=2"))  # fmt: skip
        lines = [
            "BEGIN:VCALENDAR",
            "VERSION:2.0",
            "BEGIN:VEVENT",
            f"UID:{self.text()[:30]!r}",
            f"DTSTART:{start}",
            f"DTEND:{self.dice.choice(('20261013T090000Z', start, 'x'))}",
        ]
        lines += [f"RRULE:{rule}"] * self.dice.choice((0, 1, 1, 2)) + [f"DTSTART:{start}"] * self.dice.choice((0, 0, 1))
        lines += [f"EXDATE:{self.dice.choice(('x', '20261014', start))}"] * self.dice.choice((0, 1)) + [
            f"DURATION:{self.dice.choice(('P1D', 'PT99999999999H', '-PT1H'))}"
        ] * self.dice.choice((0, 1))
        return (
            "/jobs/1/prop-trunk/schedule/busy",
            "file",
            "x.ics",
            "\r\n".join([*lines, "END:VEVENT", "END:VCALENDAR", ""]).encode("utf-8", "replace"),
            {"revision": "1"},
        )

    def colours(self):
        lines = [
            "GIMP Palette",
            f"Name: {self.text()[:50]}",
            *(f"{self.text()[:9]} {self.dice.randrange(999)} 3\t{self.text()[:99]}" for _ in range(3)),
        ]
        return "/supplies/table", "file", "x.gpl", "\n".join(lines).encode("utf-8", "replace"), {"kind": "colour"}

    def drawing(self):
        number = self.dice.choice(("1e13", "nan", "1e999", "-5", "0", "7.5", "x", ""))
        if self.dice.random() < 0.5:
            element = self.dice.choice((f'<circle cx="1" cy="1" r="{number}"/>', f'<rect width="{number}" height="9" transform="rotate({number}"/>', f'<path d="M0 0 A {number} 1 0 1 1 9 9 L {number} 3 Z"/>',
                '<g id="a"><use href="#a"/></g>', '<text>x</text><image href="file:///etc/passwd"/>', f'<polygon points="0,0 {number},9 9,9"/>', '<style>@import url(x)</style><line x1="1"/>',
                '<ellipse rx="5" ry="9"/><polyline points="1 2 3"/>', '<svg viewBox="0 0 0 0"><rect width="9" height="9"/></svg>'))  # fmt: skip
            content, name = (
                f'<svg xmlns="http://www.w3.org/2000/svg" width="{number}mm" viewBox="0 0 {number} 10">{element}</svg>',
                "x.svg",
            )
        else:
            entity = self.dice.choice(("CIRCLE\n10\n0\n20\n0\n40\n" + number, "LINE\n10\n0\n20\n0\n11\n" + number + "\n21\n5", "LWPOLYLINE\n90\n3\n70\n1\n10\n0\n20\n0\n10\n9\n20\n" + number,
                "ARC\n10\n0\n20\n0\n40\n5\n50\n0\n51\n" + number, "SPLINE\n71\n3", "INSERT\n2\nX", "ELLIPSE\n10\n0\n20\n0\n11\n5\n21\n0\n40\n" + number, "TEXT\n1\nx"))  # fmt: skip
            content, name = f"0\nSECTION\n2\nENTITIES\n0\n{entity}\n0\nENDSEC\n0\nEOF\n", "x.dxf"
        more = {
            "act": self.dice.choice(("look", "take")),
            "scale": self.text()[:40].encode("utf-8", "replace").decode(),
            "revision": "1",
            "chain": self.dice.choice(("0", "²", "99")),
            "as": self.dice.choice(("panel", "opening", "facets", "x")),
        }
        return "/jobs/1/prop-trunk/outline", "file", name, content.encode(), more

    def picture(self):
        size = self.dice.choice(((1, 1), (9000, 9000), (0, 5), (2**31 - 1, 2**31 - 1)))
        head = (
            b"\x89PNG\r\n\x1a\n"
            + (13).to_bytes(4, "big")
            + b"IHDR"
            + size[0].to_bytes(4, "big")
            + size[1].to_bytes(4, "big")
            + b"\x08\x02\0\0\0"
            + b"\0\0\0\0"
        )
        content = self.dice.choice(
            (head, b"GIF89a" + b"\xff" * 20, b"\xff\xd8\xff\xe0" + self.dice.randbytes(200), b"BM" + b"\0" * 60, b"")
        )
        path, field = self.dice.choice((("/jobs/1/prop-trunk/preview/photo", "photo"), ("/jobs/1/logbook/findings", "photo")))
        return path, field, "x.png", content, {"round": "prop-trunk/1"}


def encoded(pairs):
    """Fields as a browser sends them, lone surrogates and all."""
    return "&".join(f"{quoted(name)}={quoted(value)}" for name, value in pairs)


def quoted(text):
    from urllib.parse import quote

    return quote(text.encode("utf-8", "surrogatepass"), safe="")
