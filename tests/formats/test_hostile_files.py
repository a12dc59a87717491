"""Archives and drawings that are broken, huge or hostile are refused with a message; good ones come back as they went."""

import io
import json
import zipfile

import ezdxf
import pytest
from PIL import Image

from dividers.core.base.errors import BadInput, BadJob
from dividers.formats.archive import JOB, LOGBOOK, read_archive
from dividers.formats.drawings.dxf import read_dxf
from dividers.formats.drawings.outline_svg import read_svg
from dividers.services.files import archives, unpacking
from dividers.services.jobs import editing
from dividers.services.jobs.demo import demo_document
from dividers.services.jobs.job_list import add_job, export_job
from dividers.services.logbook import logbook
from dividers.services.stations import outlines
from dividers.store import jobs
from dividers.store import logbook as store

SVG = b'<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="100mm" viewBox="0 0 200 100">%s</svg>'


def archive(**entries):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for name, content in ({JOB: json.dumps(demo_document())} | entries).items():
            made.writestr(name, content)
    return out.getvalue()


def test_a_whole_job_comes_back_as_it_went(connection, tmp_path):
    document = demo_document()
    document["pieces"] = document["pieces"][:2]
    job_id = add_job(connection, document, "a cart")
    picture = io.BytesIO()
    Image.new("RGB", (400, 300), "#335577").save(picture, "JPEG")
    logbook.add_finding(
        connection, job_id, {"round": "booth-front/1", "clean": "20", "bleed": "2", "x_mm": "455"}, picture.getvalue(), tmp_path
    )
    logbook.add_touch_up(connection, job_id, {"piece": "booth-front", "what": "third stripe"})
    logbook.sign_off(connection, job_id, {"piece": "prop-trunk", "name": "Wren"})
    logbook.add_used(connection, job_id, {"item": "Madder", "batch": "B7", "price": "9.5", "currency": "EUR"})
    packed = archives.pack(connection, job_id, tmp_path)
    content = packed.content
    assert packed.name == "the-lantern-cart.zip"
    assert archives.pack(connection, job_id, tmp_path) == packed
    other = unpacking.unpack(connection, content, tmp_path / "other").job_id
    assert json.loads(export_job(connection, other)) == json.loads(export_job(connection, job_id))
    for one, two in zip(store.list_findings(connection, job_id), store.list_findings(connection, other), strict=True):
        assert (one.clean, one.bleed, one.x_mm, one.seal) == (two.clean, two.bleed, two.x_mm, two.seal)
        with Image.open(logbook.photo_file(connection, two.photo_id, tmp_path / "other")) as picture:
            assert picture.size == (400, 300)
    assert [u.batch for u in store.list_used(connection, other)] == ["B7"]
    assert store.list_sign_offs(connection, other)[0].name == "Wren"
    assert store.list_touch_ups(connection, other)[0].what == "third stripe"


def picture():
    out = io.BytesIO()
    Image.new("RGB", (40, 30), "#335577").save(out, "JPEG")
    return out.getvalue()


def twice():
    return archive(**{"photos/1.jpg": "x", "photos/2.jpg": "x"}).replace(b"photos/2.jpg", b"photos/1.jpg")


def bomb():
    return archive(**{"photos/1.jpg": bytes(30_000_000)})


@pytest.mark.parametrize(
    ("content", "message"),
    [
        (lambda: b"", "Choose an archive first"),
        (lambda: b"PK\x03\x04 but no more", "not a complete archive"),
        (lambda: archive()[:-30], "not a complete archive"),
        (lambda: archive(**{"../../evil.txt": "x"}), "outside it"),
        (lambda: archive(**{"/etc/passwd": "x"}), "outside it"),
        (lambda: archive(**{"photos\\..\\..\\x": "x"}), "outside it"),
        (lambda: archive(**{f"photos/{n}.jpg": "x" for n in range(5100)}), "at most 5010"),
        (bomb, "too large when unpacked"),
        (lambda: archive(**{LOGBOOK: "[[["}), "logbook in this archive can't be read"),
        (lambda: archive(**{LOGBOOK: '{"findings": [{"piece": 3}]}'}), "othing was imported"),
        (
            lambda: archive(**{LOGBOOK: '{"photos": [{"id": 1, "file": "1.jpg"}], "used": [{}]}', "photos/1.jpg": picture()}),
            "othing was imported",
        ),
        (twice, "two files with the same name"),
    ],
)
def test_hostile_archives_are_refused_and_leave_nothing(connection, tmp_path, content, message):
    with pytest.raises(BadInput, match=message):
        unpacking.unpack(connection, content(), tmp_path)
    assert jobs.list_jobs(connection) == []
    assert connection.execute("select count(*) from jobs").fetchone()[0] == 0
    assert list(tmp_path.iterdir()) == []


def test_an_archive_with_a_bad_job_says_what_is_wrong(connection, tmp_path):
    with pytest.raises(BadJob, match="units"):
        unpacking.unpack(connection, archive(**{JOB: json.dumps(demo_document() | {"units": "ell"})}), tmp_path)
    with pytest.raises(BadInput, match="holds no job"):
        read_archive(archive(**{}).replace(b"job.json", b"jib.json"))


@pytest.mark.parametrize(
    ("content", "message"),
    [
        (b"<svg", "not a readable SVG file"),
        (b"<html><body/></html>", "not an SVG drawing"),
        (b'<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><svg>&b;</svg>', "XML entities"),
        (b'<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg><text>&x;</text></svg>', "XML entities"),
        (b" " * 3_000_000, "at most 2 are read"),
    ],
)
def test_hostile_drawings_are_refused(content, message):
    with pytest.raises(BadInput, match=message):
        read_svg(content, 0.5)


@pytest.mark.parametrize(
    "content",
    [b"no dxf at all", b"0\nSECTION\n2\nENTITIES\n0\nLINE\n", bytes(range(256)) * 40, b"a binary drawing\r\n\x1a\x00"],
)
def test_broken_dxf_is_refused_or_empty(content):
    try:
        assert read_dxf(content, 0.5).chains == ()
    except BadInput as fault:
        assert "DXF" in fault.message


def test_lines_of_no_points_and_of_one_are_left_out():
    drawing, text = ezdxf.new(), io.StringIO()
    for points in ([], [(1, 1)], [(0, 0), (2, 1)]):
        drawing.modelspace().add_lwpolyline(points)
    drawing.write(text)
    drawn = read_dxf(text.getvalue().encode(), 0.5)
    assert [len(points) for _, _, points in drawn.chains] == [2] and drawn.said


def test_shapes_of_an_svg_come_in_millimetres_with_transforms_and_curves():
    drawn = read_svg(
        SVG
        % b'<g transform="translate(10 20) scale(2)"><rect width="40" height="30"/></g><circle cx="100" cy="50" r="10"/><text>no</text>',
        0.1,
    )
    (_, closed, rectangle), (_, _, circle) = drawn.chains
    assert closed
    assert sorted({round(x, 2) for x, _ in rectangle}) == [10, 90]
    assert sorted({round(y, 2) for _, y in rectangle}) == [20, 80]
    assert all(abs(((x - 100) ** 2 + (y - 50) ** 2) ** 0.5 - 10) < 0.1 for x, y in circle)
    assert drawn.mm_a_unit == 1.0
    assert any("flattened to within 0.1 mm" in said for said in drawn.said)
    assert read_svg(b'<svg xmlns="http://www.w3.org/2000/svg"><rect width="40" height="30"/></svg>', 0.5).mm_a_unit is None


@pytest.fixture
def opened(connection):
    document = demo_document()
    document["pieces"] = document["pieces"][1:2]
    return editing.open_job(connection, add_job(connection, document, "a cart"))


ROOM = SVG % b'<rect width="200" height="100"/><rect x="120" y="40" width="30" height="60"/><path d="M20 0L80 100M0 50H200"/>'


def test_an_outline_becomes_a_panel_an_opening_or_facets(connection, opened):
    looked = outlines.look(ROOM, "room.svg", "10 mm", opened.job.units)
    assert (round(looked.width), round(looked.height)) == (2000, 1000)
    panel, opening = looked.chains[0].number, next(c.number for c in looked.chains if round(c.width) == 300)
    outlines.take(connection, opened, "prop-trunk", looked, {"as": "panel", "chain": str(panel), "revision": "1"})
    opened = editing.open_job(connection, opened.id)
    outlines.take(
        connection, opened, "prop-trunk", looked, {"as": "opening", "chain": str(opening), "called": "hatch", "revision": "2"}
    )
    own = editing.open_job(connection, opened.id).job.pieces[0].surface.panels[0]
    assert (float(own.width_mm), float(own.height_mm)) == pytest.approx((2000, 1000), abs=0.02)
    box = own.openings[-1].box
    assert (float(box.left), float(box.top), float(box.width), float(box.height)) == pytest.approx(
        (1200, 400, 300, 600), abs=0.02
    )
    opened = editing.open_job(connection, opened.id)
    said = outlines.take(connection, opened, "prop-trunk", looked, {"as": "facets", "revision": "3"})
    assert said.startswith("4 lines between 8 points are now facets")
    assert editing.open_job(connection, opened.id).job.pieces[0].pattern.kind == "facets"


def test_any_closed_outline_can_be_the_panel(connection, opened):
    skew = outlines.look(SVG % b'<path d="M0 0L90 10L80 60L5 50Z"/>', "x.svg", "", "mm")
    outlines.take(connection, opened, "prop-trunk", skew, {"as": "panel", "chain": "1", "revision": "1"})
    [panel] = editing.open_job(connection, opened.id).job.pieces[0].surface.panels
    assert panel.contour
    (left, _), (right, _) = min(panel.contour.outline), max(panel.contour.outline)
    assert (round(right - left, 3), round(float(panel.height_mm), 3)) == (90, 60)


@pytest.mark.parametrize(
    ("typed", "message"),
    [
        ({"as": "panel", "chain": "99"}, "Choose one of the outlines"),
        ({"as": "window", "chain": "1"}, "Say what the outline is"),
        ({"as": "panel", "chain": "3"}, "is open"),
    ],
)
def test_what_an_outline_cannot_be_is_said(connection, opened, typed, message):
    looked = outlines.look(ROOM, "room.svg", "", opened.job.units)
    with pytest.raises(BadInput, match=message):
        outlines.take(connection, opened, "prop-trunk", looked, typed | {"revision": "1"})
    with pytest.raises(BadInput, match="allowed are"):
        outlines.look(ROOM, "room.svg", "0 mm", "mm")
