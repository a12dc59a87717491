"""What the buttons and lists of the stations do, without a browser."""

import io
import itertools
import json
import re
from html import unescape

import pytest
from jobs import readings_of, wall
from pages import until
from pypdf import PdfReader

from dividers.core.base.contrast import contrast
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.schedule import schedule_of
from dividers.core.plan.plan import plan_job
from dividers.services.stations import scheduling
from dividers.web.stations.days_board import days_of

PIECE = "/jobs/1/booth-front"


def test_marks_are_ticked_off_and_cleared(client):
    def made():
        return re.search(r"(\d+) of \d+ made", client.get(f"{PIECE}/marks").text)[1]

    client.post(f"{PIECE}/ticks", data={"mark": "m2", "made": "on"})
    client.post(f"{PIECE}/ticks", data={"mark": "m5", "made": "on"})
    assert made() == "2"
    client.post(f"{PIECE}/ticks", data={"mark": "m2", "made": "off"})
    assert made() == "1"
    assert client.post(f"{PIECE}/ticks", data={"mark": "m99999", "made": "on"}).status_code == 422
    client.post(f"{PIECE}/ticks", data={"clear": "1"})
    assert made() == "0"


def test_panels_come_with_their_fold_keep_it_when_renamed_and_go(client):
    def post(**data):
        page = client.get(f"{PIECE}/measure").text
        return client.post(
            f"{PIECE}/measure", data={"revision": re.search(r'name="revision" value="(\d+)"', page)[1], **data}
        ).text

    assert "awning boards: on the" not in post(action="add-panel")
    page = post(**{"surface.panels.0.name": "front boards"})
    assert "panel 2: on the right of front boards" in page
    assert page.count('class="fold"') == 1
    assert "not joined" not in post(action="remove-panel:0")
    for _ in range(3):
        client.post("/jobs/1/undo")


def test_the_order_of_colours_is_moved(client):
    address = "/jobs/1/foyer-wall/tape"
    page = client.get(address).text
    assert page.index("Old brass earlier") < page.index("Night blue earlier")
    revision = re.search(r'name="revision" value="(\d+)"', page)[1]
    page = client.post(address, data={"revision": revision, "action": "earlier:night:brass,night"}).text
    assert page.index("Night blue earlier") < page.index("Old brass earlier")
    client.post("/jobs/1/undo")


def test_a_region_is_given_a_colour_where_it_lies(client):
    address = "/jobs/1/poster/pattern?layer=0"

    def colors():
        return [
            fill.get("color")
            for fill in json.loads(client.get("/jobs/1.json").text)["pieces"][-2]["layers"][0]["pattern"]["fills"]
        ]

    before = colors()
    page = client.get(address).text
    actions = re.findall(r'<option value="(fill:[^"]+)"', page)
    in_place = next(action for action in actions if action.startswith("fill:0:") and action.endswith(":clay"))
    new = next(action for action in actions if action.startswith("fill:4:") and action.endswith(":rust"))
    for action in (in_place, new):
        page = client.get(address).text
        client.post(address, data={"revision": re.search(r'name="revision" value="(\d+)"', page)[1], "action": action})
    assert colors() == ["clay", *before[1:4], "rust", *before[5:]]
    client.post("/jobs/1/undo")
    client.post("/jobs/1/undo")


def test_a_count_that_fits_is_taken(client):
    page = client.get(f"{PIECE}/pattern").text
    revision = re.search(r'name="revision" value="(\d+)"', page)[1]
    assert "fit:count:11" in page
    page = client.post(f"{PIECE}/pattern", data={"revision": revision, "action": "fit:count:11"}).text
    assert re.search(r'name="pattern.count" value="11"', page)
    client.post("/jobs/1/undo")


def test_what_the_cupboard_cannot_take_is_told_at_the_figure_and_kept(client):
    answer = client.post("/supplies/tape/new", data={"name": "Broad", "width": "wide", "adhesion": "medium"})
    page = answer.get_data(as_text=True)
    assert answer.status_code == 422
    assert 'id="f-width-fault"' in page
    assert 'value="wide"' in page


@pytest.mark.parametrize(
    ("address", "words"),
    [
        ("/supplies?strips_measured=banana", "is not a length"),
        ("/supplies?mix_area=-4", "more than 0"),
        ("/supplies?mix_area=4&mix_parts=glaze", "Write the parts like"),
        ("/supplies?one=red", "isn&#39;t a colour"),
        (f"{PIECE}/pattern?border_least=x&border_most=2", "is not a length"),
        (f"{PIECE}/pattern?hit_1=", "Choose a place"),
        (f"{PIECE}/pattern?keep_across=nonsense", "Fit to size"),
        (f"{PIECE}/marks?panel=nobody&line=nothing", "Check the marks"),
    ],
)
def test_odd_addresses_are_answered_with_words(client, address, words):
    answer = client.get(address)
    assert answer.status_code == 200
    assert words in answer.get_data(as_text=True)


@pytest.mark.parametrize(
    "action",
    [
        "use:{",
        'use:{"crew": 1}',
        "use:[]",
        "begin-at:99",
        "take-reading:0:widths:99:12",
        "aside:9:widths:0",
        "measure-opening:0:9:near",
        "fit-way:nowhere:0",
        "drop-reading:0:nothing:0",
    ],
)
def test_buttons_that_do_not_fit_change_nothing(client, action):
    before = client.get("/jobs/1.json").get_data()
    assert client.post(f"{PIECE}/measure", data={"action": action, "revision": "1"}).status_code in (200, 303, 404, 422)
    assert client.get("/jobs/1.json").get_data() == before


def test_busy_times_are_taken_from_a_calendar_and_forgotten(client):
    event = b"BEGIN:VEVENT\r\nUID:1\r\nDTSTART:20261014T090000\r\nDTEND:20261014T110000\r\nEND:VEVENT\r\n"
    content = b"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n" + event + b"END:VCALENDAR\r\n"

    def busy():
        return client.get("/jobs/1.json").get_json()["crew"].get("busy")

    def send(**form):
        revision = re.search(r'name="revision" value="(\d+)"', client.get(f"{PIECE}/tape").get_data(as_text=True)).group(1)
        return client.post(f"{PIECE}/schedule/busy", data={"revision": revision, **form})

    send(file=(io.BytesIO(content), "mine.ics"))
    assert busy() == [["2026-10-14T09:00", "2026-10-14T11:00"]]
    send(file=(io.BytesIO(b"no calendar"), "mine.ics"))
    assert busy() == [["2026-10-14T09:00", "2026-10-14T11:00"]]
    send(action="forget")
    assert busy() is None


def test_a_day_list_at_risk_is_shown_where_it_is_asked_for(client):
    job = wall(method={"pull": "touch-dry", "seal": "none", "paint": {"ink": "slow"}})
    job["products"]["slow"] = {"kind": "paint", "touch_dry": "6 h"}
    job["crew"] = {"hours": [["13:00", "18:00"]]}
    data = {"file": (io.BytesIO(json.dumps(job).encode()), "evening.json")}
    address = client.post("/jobs/import", data=data, content_type="multipart/form-data").headers["Location"]
    place = f"{address}/wall/schedule"
    page = until(client, place, lambda page: "Working out the schedule" not in page)
    assert "Any of these would do" in page and "at your own risk" not in page
    assert f'href="{place}?anyway=1"' in page
    page = client.get(f"{place}?anyway=1").text
    assert "misses the" in page and 'class="goes"' in page and "at your own risk" in page


def test_a_day_list_holds_every_minute_on_its_day_and_no_begin_without_a_reason():
    job = wall(pattern={"count": 60}, job={"crew": {"hours": [["08:00", "09:30"]], "start": "2027-03-01T08:00"}})
    schedule = schedule_of(plan_job(read_job(job)), 0.5)
    days = days_of(schedule)
    rows = [row for day in days for row in day.rows]
    assert any(row.words.endswith(", goes on") for row in rows)
    assert sum(row.minutes for row in rows) == sum(task.minutes for task in schedule.work.tasks)
    for day in days:
        assert day.rows[0].begins == "08:00" or day.rows[0].why
        for before, row in itertools.pairwise(day.rows):
            assert before.ends == row.begins or row.why, (day.title, before, row)


def test_what_is_chosen_is_said_before_the_schedule_is_there(client, monkeypatch):
    said = unescape(until(client, f"{PIECE}/schedule", lambda page: "Working out the schedule" not in page))
    monkeypatch.setattr(scheduling, "schedule_for", lambda *_: None)
    page = unescape(client.get(f"{PIECE}/schedule").text)
    assert "Working out the schedule" in page
    chosen = re.search(r"Round 1: (s[^<]+?)\s*</li>", page)[1]
    assert chosen[1:] in said


def test_one_coat_is_taken_by_one_click(client):
    page = client.get(f"{PIECE}/schedule").text
    revision = re.search(r'name="revision" value="(\d+)"', page)[1]
    action = 'use:{"method.coats.madder": 1}'
    client.post(f"{PIECE}/schedule", data={"revision": revision, "action": action})
    assert 'name="method.coats.madder" value="1"' in client.get(f"{PIECE}/schedule").text
    client.post("/jobs/1/undo")
    client.post(f"{PIECE}/schedule", data={"revision": revision, "action": 'use:{"method.tape": "x"}'})
    assert 'name="method.coats.madder" value="2"' in client.get(f"{PIECE}/schedule").text


def test_the_advice_for_a_wall_out_of_square_goes_by_the_pattern_and_is_followed_by_one_click(client):
    """Upright stripes on a leaning wall want another way than square; level ones, which the sides cut, do not."""
    survey = readings_of([(0, 0), (120, 0), (120.5, 96), (0.5, 96)], "in")
    data = {"file": (io.BytesIO(json.dumps(wall(panel={"survey": survey})).encode()), "leaning.json")}
    address = client.post("/jobs/import", data=data, content_type="multipart/form-data").headers["Location"] + "/wall/pattern"

    def send(**data):
        revision = re.search(r'name="revision" value="(\d+)"', client.get(address).text)[1]
        client.post(address, data={"revision": revision, **data})
        return client.get(address).text

    page = send(**{"pattern.direction": "90"})
    advised = re.search(r'value="(fit-way:[^"]+)"', page)[1]
    assert "Advised for this pattern" in page and "In use: stay square" in page
    assert "fit-way" not in send(**{"pattern.direction": "0"})
    send(**{"pattern.direction": "90"})
    assert "fit-way" not in send(action=advised)
    assert (
        json.loads(client.get(address.replace("/wall/pattern", ".json")).text)["pieces"][0]["method"]["fit"]
        == advised.split(":")[1]
    )


def test_a_change_that_was_not_taken_is_said_wherever_figures_of_before_it_stand(client):
    page = client.get(f"{PIECE}/pattern").text
    revision = re.search(r'name="revision" value="(\d+)"', page)[1]
    client.post(f"{PIECE}/pattern", data={"revision": revision, "pattern.count": "many"})
    said = "The last change of Pattern (Booth front) was not taken: “many” "
    assert said not in unescape(client.get(f"{PIECE}/pattern").text)  # it says it at its field
    for station in ("measure", "marks", "tape", "schedule", "materials", "files", "mark-sheet"):
        assert said in unescape(client.get(f"{PIECE}/{station}").text), station
    for other in ("/jobs/1/cart-side/pattern", "/jobs/1/wall", "/jobs/1/logbook"):
        assert said in unescape(client.get(other).text), other
    for file in ("mark-sheet.pdf", "files/tape-cards.pdf", "files/shopping-list.pdf"):
        text = PdfReader(io.BytesIO(client.get(f"{PIECE}/{file}").data)).pages[0].extract_text()
        assert "was not taken" in " ".join(text.split()), file
    client.post("/jobs/1/cart-side/pattern", data={"revision": revision, "pattern.course": "tall"})
    [line] = re.findall(r'<p class="warning not-taken".*?</p>', client.get(f"{PIECE}/tape").text, re.S)
    assert "2 changes were not taken. " in line and "“tall”" in line  # one line, with a link to each
    assert re.findall(r'href="([^"]*)">', line) == [f"{PIECE}/pattern", "/jobs/1/cart-side/pattern"]
    client.post(f"{PIECE}/pattern", data={"revision": revision, "action": "forget"})
    assert said not in unescape(client.get(f"{PIECE}/tape").text)


def test_the_palette_takes_colours_from_supplies_and_shades_and_lets_unused_ones_go(client):
    def act(action):
        revision = re.search(r'name="revision" value="(\d+)"', client.get(f"{PIECE}/pattern").text)[1]
        client.post(f"{PIECE}/pattern", data={"revision": revision, "action": action})
        return json.loads(client.get("/jobs/1.json").text)["palette"]

    before = json.loads(client.get("/jobs/1.json").text)["palette"]
    taken = act('palette-take:{"name": "Harbour <b>", "hex": "#123456"}')
    assert taken["harbour-b"] == {"name": "Harbour <b>", "hex": "#123456"} and "<b>" not in client.get(f"{PIECE}/pattern").text
    assert act('palette-take:{"name": "Harbour <b>", "hex": "#123456"}') == taken  # once is enough
    assert act('palette-take:{"name": "x", "hex": "red"}') == act("palette-take:[[[") == taken
    shaded = act("palette-shades:harbour-b")
    lighter = contrast(act("palette-lighter:harbour-b")["harbour-b"]["hex"], "#000000").delta_e
    assert lighter > contrast("#123456", "#000000").delta_e
    client.post("/jobs/1/undo")
    lit, shadow = (contrast(shaded[key]["hex"], "#000000").delta_e for key in ("harbour-b-lit", "harbour-b-in-shadow"))
    assert lit > contrast("#123456", "#000000").delta_e > shadow
    assert list(act("palette-earlier:harbour-b"))[-4:-2] == ["harbour-b", list(before)[-1]]
    added = act("add-palette")
    new = next(key for key in added if key not in shaded)
    nearest = min(contrast(added[new]["hex"], value["hex"]).delta_e for key, value in added.items() if key != new)
    assert nearest > 8  # not to be mistaken for one that is there
    for key in [new, "harbour-b-lit", "harbour-b-in-shadow", "harbour-b"]:
        act(f"remove-palette:{key}")
    assert act(f"remove-palette:{next(iter(before))}") == before  # in use


def test_a_new_colour_takes_the_paint_that_most_of_a_piece_has(client):
    def paints(action):
        revision = re.search(r'name="revision" value="(\d+)"', client.get(f"{PIECE}/pattern").text)[1]
        client.post(f"{PIECE}/pattern", data={"revision": revision, "action": action})
        return [piece["method"].get("paint") for piece in json.loads(client.get("/jobs/1.json").text)["pieces"]]

    before = paints("palette-earlier:none-such")
    assert before[0]
    after = paints("add-palette")
    for was, now in zip(before, after, strict=True):
        new = {key: product for key, product in (now or {}).items() if key not in (was or {})}
        assert [list(was.values()).count(product) for product in new.values()] == ([max(map(list(was.values()).count, was.values()))] if was else [])  # fmt: skip
    [new] = set(after[0]) - set(before[0])
    page = client.get(f"{PIECE}/materials").text
    assert "Colour " not in page  # it isn't bought before it is used
    assert paints(f"remove-palette:{new}") == before


def test_a_colours_paint_is_chosen_with_the_colour_and_read_at_materials(client):
    def at_materials():
        page = client.get(f"{PIECE}/materials").text
        assert 'name="method.paint' not in page
        return re.search(r"<th scope=\"row\">\s*<svg[^>]*>\s*<rect[^>]*/>\s*</svg>\s*Curtain madder.*?</th>", page, re.S)[0]

    assert "cart enamel" in at_materials()
    revision = re.search(r'name="revision" value="(\d+)"', client.get(f"{PIECE}/pattern").text)[1]
    client.post(f"{PIECE}/pattern", data={"revision": revision, "method.paint.madder": ""})
    assert "cart enamel" not in at_materials()
    client.post("/jobs/1/undo")
    assert "cart enamel" in at_materials()


def test_two_colours_change_places_wherever_a_pattern_names_them(client):
    def turns():
        return json.loads(client.get("/jobs/1.json").text)["pieces"][0]["pattern"]

    def press(action):
        page = client.get(f"{PIECE}/pattern").text
        revision = re.search(r'name="revision" value="(\d+)"', page)[1]
        client.post(f"{PIECE}/pattern", data={"revision": revision, "action": action})

    press(f"use:{json.dumps({'pattern.pinstripe': '1', 'pattern.pinstripe_color': 'madder'})}")
    assert turns()["colors"] == ["madder", None]
    press("swap-colors:madder:")
    assert turns()["colors"] == [None, "madder"]
    assert "pinstripe_color" not in turns()
    press("swap-colors::brass")
    assert turns()["colors"] == ["brass", "madder"]
    assert turns()["pinstripe_color"] == "brass"
    assert "border_color" not in turns()


def test_marks_are_read_from_the_level_line_that_measure_advises(client):
    wall = "/jobs/1/foyer-wall"

    def press(action):
        revision = re.search(r'name="revision" value="(\d+)"', client.get(f"{wall}/measure").text)[1]
        client.post(f"{wall}/measure", data={"revision": revision, "action": action})

    page = client.get(f"{wall}/measure").text
    press(advised := re.search(r'value="(level:[^"]+)"', page)[1])
    marks = client.get(f"{wall}/marks").text
    assert "Level line, from top left: 1" in marks and "Left edge, from the level line, up and down" in marks
    assert 'class="level"' in marks
    struck = json.loads(client.get("/jobs/1.json").text)["pieces"][3]["method"]["level_line"]
    assert advised == f"level:{struck}" and "Read them from the corners again" in client.get(f"{wall}/measure").text
    press("level:")
    assert 'name="method.level_line"' in client.get(f"{wall}/marks").text
    assert 'name="method.level_line"' not in client.get("/jobs/1/stage-floor/marks").text
    assert "from the level line" not in client.get(f"{wall}/marks").text
