"""Files, devices and the photo of a place over their pages."""

import io
import re
from datetime import datetime
from html import unescape

import pytest
from pages import asking_again, reading
from PIL import Image, ImageDraw
from pypdf import PdfReader

from dividers.core.base.errors import BadInput
from dividers.devices.protocol import DeviceMessage, read_lines
from dividers.devices.stand_ins import hygrometer, laser, range_finder
from dividers.services.files.exports import KINDS
from dividers.services.jobs.demo import load_demo
from dividers.services.opening import open_data
from dividers.web.app import create_app

PIECE = "/jobs/1/prop-trunk"
OUTLINE = b'<svg xmlns="http://www.w3.org/2000/svg" width="40in" height="10in" viewBox="0 0 40 10"><rect width="40" height="10"/></svg>'


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    folder = tmp_path_factory.mktemp("data")
    connection = open_data(folder)
    load_demo(connection, start="2026-10-13T08:00")
    connection.close()
    return reading(create_app(folder)).test_client()


def page(client, address, status=200):
    response = client.get(address)
    assert response.status_code == status
    return response.get_data(as_text=True)


@pytest.mark.parametrize("which", [which for which, (_, own) in KINDS.items() if own])
@pytest.mark.parametrize("piece", ["booth-front", "prop-trunk", "backdrop", "foyer-wall", "stage-floor", "poster", "cart-side"])
def test_every_file_of_every_demo_piece_is_made(client, piece, which):
    response = client.get(f"/jobs/1/{piece}/files/{which}")
    assert response.status_code == 200
    start = {"pdf": b"%PDF", "svg": b"<?xml", "dxf": b"  0\nSECTION", "png": b"\x89PNG", "csv": b"cell,mark,strip"}[which[-3:]]
    content = response.get_data()
    assert content.startswith(start) if which[-3:] != "csv" else content.split(b",")[0] in start.split(b",")
    assert which.split(".")[0] in response.headers["Content-Disposition"]


@pytest.mark.parametrize("which", [which for which, (_, own) in KINDS.items() if not own])
def test_every_file_of_the_job_is_made(client, which):
    assert asking_again(client, f"{PIECE}/files/{which}").status_code == 200


def test_what_is_no_file_is_said(client):
    assert client.get(f"{PIECE}/files/nothing.exe").status_code == 404
    assert client.get(f"{PIECE}/files/cutting-list.pdf?size=A9").status_code == 422
    shown = page(client, f"{PIECE}/files")
    for which in KINDS:
        assert f"/files/{which}" in shown


def test_an_archive_goes_out_and_in_by_the_shelf(client):
    content = client.get("/jobs/1/archive.zip").get_data()
    response = client.post(
        "/jobs/archive", data={"file": (io.BytesIO(content), "cart.zip")}, content_type="multipart/form-data"
    )
    assert response.headers["Location"] == "/jobs/2"
    client.post("/jobs/2/delete")
    client.post("/jobs/archive", data={"file": (io.BytesIO(b"PK junk"), "x.zip")}, content_type="multipart/form-data")
    assert "not a complete archive" in page(client, "/jobs")


def test_an_outline_is_looked_at_and_taken(client):
    data = {"file": (io.BytesIO(OUTLINE), "panel.svg"), "revision": "1"}
    looked = client.post(f"{PIECE}/outline", data=data, content_type="multipart/form-data").get_data(as_text=True)
    assert "The whole drawing is 1016.0 × 254.0 mm, one unit being 1 mm as the file says" in looked
    taken = {"kept": OUTLINE.decode(), "name": "panel.svg", "act": "take", "as": "panel", "chain": "1", "revision": "1"}
    assert client.post(f"{PIECE}/outline", data=taken).status_code == 303
    assert "The panel is 1016 mm × 254 mm now." in page(client, f"{PIECE}/measure")
    client.post("/jobs/1/undo", data={"station": "measure", "piece": "prop-trunk"})
    bad = client.post(f"{PIECE}/outline", data={"file": (io.BytesIO(b"<html/>"), "x.svg")}, content_type="multipart/form-data")
    assert bad.status_code == 422
    assert "not an SVG drawing" in bad.get_data(as_text=True)


def test_a_photo_of_the_place_takes_the_pattern_and_leaves_openings_free(client):
    picture = io.BytesIO()
    Image.new("RGB", (800, 600), "#f0f0f0").save(picture, "JPEG", quality=95)
    place = "/jobs/1/booth-front/preview"
    client.post(f"{place}/photo", data={"photo": (io.BytesIO(picture.getvalue()), "x.jpg")}, content_type="multipart/form-data")
    corners = {"x0": "100", "y0": "100", "x1": "700", "y1": "100", "x2": "700", "y2": "500", "x3": "100", "y3": "500"}
    assert client.post(f"{place}/corners", data=corners).status_code == 303
    shown = page(client, place)
    assert shown.count('<path fill="#') > 10
    image = Image.open(io.BytesIO(client.get("/jobs/1/booth-front/preview.png").get_data())).convert("RGB")
    red, green, blue = image.getpixel((115, 300))  # the first madder stripe
    assert red > 120 > 100 > green and blue < 100
    assert image.getpixel((400, 290)) == pytest.approx((240, 240, 240), abs=3)  # the play window
    assert image.getpixel((50, 50)) == pytest.approx((240, 240, 240), abs=3)
    bad = client.post(f"{place}/corners", data=corners | {"x0": "650", "y0": "480"})
    assert bad.status_code == 422
    assert "clockwise round the panel from its top left" in bad.get_data(as_text=True)
    assert "needs two numbers" in client.post(f"{place}/corners", data=corners | {"y2": "low"}).get_data(as_text=True)
    assert client.get("/jobs/1/stage-floor/preview.png").status_code == 404
    assert "Choose a photo first" in client.post("/jobs/1/stage-floor/preview/photo", data={}).get_data(as_text=True)


def test_a_photo_is_seen_from_straight_ahead_to_draw_over_it(client):
    seen = Image.new("RGB", (900, 700), "#808080")
    corners = [(120, 90), (760, 40), (820, 640), (60, 560)]
    middle = (398.32, 308.68)  # where the diagonals of the four corners cross: the panel's middle in perspective
    pens = ImageDraw.Draw(seen)
    pens.polygon(corners, fill="#f0f0f0")
    pens.ellipse((middle[0] - 20, middle[1] - 20, middle[0] + 20, middle[1] + 20), fill="#c00000")
    pens.polygon([corners[1], (700, 70), (730, 110)], fill="#0000c0")
    picture = io.BytesIO()
    seen.save(picture, "JPEG", quality=95)
    place = "/jobs/1/booth-front/preview"
    assert client.get("/jobs/1/stage-floor/preview/flat.jpg").status_code == 404
    client.post(f"{place}/photo", data={"photo": (io.BytesIO(picture.getvalue()), "x.jpg")}, content_type="multipart/form-data")
    client.post(f"{place}/corners", data={f"{axis}{n}": str(corner[axis == "y"]) for n, corner in enumerate(corners) for axis in "xy"})  # fmt: skip
    flat = Image.open(io.BytesIO(client.get(f"{place}/flat.jpg").get_data()))
    wide, high = flat.size
    red, green, blue = flat.getpixel((wide // 2, high // 2))
    assert red > 150 > 60 > green and blue < 60
    assert flat.getpixel((wide - 10, 6))[2] > 130 > flat.getpixel((wide - 10, 6))[0]
    assert min(flat.getpixel((20, high - 20))) > 200  # no place beside the panel is left in it


def test_devices_are_let_in_by_their_token_alone(client):
    assert "There is none yet" in page(client, "/devices")
    made = client.post("/devices/token").get_data(as_text=True)
    token = re.search(r"Bearer ([\w-]+)", made).group(1)
    assert token not in page(client, "/devices")  # it is shown once
    client.application.config["WTF_CSRF_ENABLED"] = True
    try:
        for given, status in ((None, 401), ("wrong", 401), (token, 200)):
            headers = {"Authorization": f"Bearer {given}"} if given else {}
            assert client.post("/device", data="length 2413.5 mm\nair 21.3 C 55 %", headers=headers).status_code == status
        bad = client.post("/device", data="length 12 furlongs", headers={"Authorization": f"Bearer {token}"})
    finally:
        client.application.config["WTF_CSRF_ENABLED"] = False
    assert bad.status_code == 422
    assert "is not a reading; write length 2413.5 mm" in bad.get_data(as_text=True)
    assert client.post("/jobs/1/devices/length").get_json() == {"text": "95 in", "read": "2413.5 mm"}
    assert client.post("/jobs/1/devices/length").get_json() == {}
    client.post("/devices/token")
    old = [
        client.post("/device", data="length 1 mm", headers={"Authorization": f"Bearer {token}"}).status_code for _ in range(20)
    ]
    assert set(old[:17]) == {401} and old[-1] == 429  # 20 wrong ones in a quarter of an hour, and nobody is listened to


def test_the_laser_puts_level_readings_into_the_survey(client):
    client.post(f"{PIECE}/devices/offsets")
    assert "The laser has sent nothing" in page(client, f"{PIECE}/measure")
    client.post("/devices/pretend", data={"device": "laser", "length": "31 in"})
    client.post(f"{PIECE}/devices/offsets", data={"panel": "0"})
    shown = page(client, f"{PIECE}/measure")
    assert "7 level readings added from the laser." in shown
    assert shown.count("by laser; ") == 7
    assert client.post("/devices/pretend", data={"device": "sundial"}).status_code == 422


@pytest.mark.parametrize("reading", [range_finder(2413, 5), hygrometer(datetime(2026, 10, 13, 15)), *laser(3000, 2)])
def test_what_stand_ins_send_is_read_as_it_was_sent(reading):
    assert read_lines(reading.line) == [reading]


@pytest.mark.parametrize(
    "line",
    [
        "length -3 mm",
        "length 12",
        "air 21 55",
        "air 99 C 50 %",
        "offset 1 mm 9999 mm",
        "hello",
        "length 1e5 mm",
        "length 999999 mm",
    ],
)
def test_lines_that_are_no_readings_are_refused(line):
    with pytest.raises(BadInput, match="Line 1"):
        read_lines(line)


def test_the_range_finder_is_off_by_a_little_and_now_and_then_by_much():
    off = [abs(range_finder(2413, seed).first - 2413) for seed in range(600)]
    blunders = sum(each > 20 for each in off)
    assert 20 < blunders < 90
    assert max(each for each in off if each <= 20) < 4
    assert range_finder(2413, 7) == range_finder(2413, 7)
    assert DeviceMessage("length", 2413.5).line == "length 2413.5 mm"


@pytest.mark.parametrize("size", ["A4", "Letter across"])
@pytest.mark.parametrize("piece", ["booth-front", "poster", "stage-floor"])
def test_the_files_page_says_how_many_sheets_there_will_be(client, piece, size):
    shown = page(client, f"/jobs/1/{piece}/files?size={size}")
    said = [int(many) for many in re.findall(r">(\d+) sheets? of", shown)]

    def pages(address):
        return len(PdfReader(io.BytesIO(client.get(address).get_data())).pages)

    assert pages(f"/jobs/1/{piece}/story-poles.pdf?size={size}") == said[0]
    alone = re.findall(r'href="([^"]*story-poles.pdf\?[^"]*line=\d+)"', shown)
    for address, many in zip(alone[:3], said[1:4], strict=False):
        assert pages(unescape(address)) == many
    templates = pages(f"/jobs/1/{piece}/files/templates.pdf?size={size}")
    assert templates in said or templates == 120 or sum(said) > 120  # what is too many for one file is said in it
    [first, *_] = re.findall(r'href="([^"]*templates.pdf\?[^"]*shape=1)"', shown) or [None]
    if first:
        assert pages(unescape(first)) == int(re.search(r"shape=1\"[^>]*>[^<]*</a> <span[^>]*>(\d+) sheet", shown)[1])
