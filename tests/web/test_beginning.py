"""Laying out something with a photo of its place."""

import io

from PIL import Image

SIZES = {"width": "120", "height": "96", "units": "in", "base": "on"}


def picture():
    out = io.BytesIO()
    Image.new("RGB", (400, 300), "#557799").save(out, "JPEG")
    return io.BytesIO(out.getvalue()), "wall.jpg"


def test_a_wall_begun_with_a_photo_is_seen_on_it_and_goes_on_at_pattern(client):
    made = client.post("/new/wall", data=SIZES | {"photo": picture()})
    assert made.status_code == 303 and made.headers["Location"].endswith("/preview")
    page = client.get(made.headers["Location"]).text
    assert 'data-wide="400"' in page and "/pattern" in page.split("Next:")[0].rpartition("href=")[2]
    assert client.get(made.headers["Location"].replace("/preview", "/pattern")).status_code == 200


def test_what_is_no_photo_or_no_size_makes_nothing_and_is_said_at_its_field(client):
    before = client.get("/jobs").text.count("/archive.zip")
    refused = client.post("/new/wall", data=SIZES | {"photo": (io.BytesIO(b"no picture"), "wall.jpg")})
    assert refused.status_code == 422 and "not a photo" in refused.text.split('id="photo-fault"')[1][:200]
    assert 'value="120"' in refused.text
    refused = client.post("/new/wall", data=SIZES | {"height": "", "photo": picture()})
    assert "Choose the photo once more" in refused.text.split('id="photo-fault"')[1][:200]
    assert client.get("/jobs").text.count("/archive.zip") == before
