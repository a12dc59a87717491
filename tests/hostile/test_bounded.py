"""Small inputs that ask for hours or for all memory there is: each gets an answer in time, and a process of its own that is ended."""

import os
import struct
import time
import zlib
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime

import pytest

from dividers.core.base.errors import BadInput, BadJob
from dividers.core.job.crew import Span, read_hours
from dividers.core.job_file.job_reader import parse_document
from dividers.core.patterns.free.points import fill_from
from dividers.formats.drawings.dxf import read_dxf
from dividers.formats.drawings.outline_svg import read_svg
from dividers.formats.ics import read_busy
from dividers.formats.photos import cleaned
from dividers.services.careful import carefully


def svg(inside):
    return f'<svg xmlns="http://www.w3.org/2000/svg" width="9mm" viewBox="0 0 9 9">{inside}</svg>'.encode()


def busy(rule):
    return f"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART:19000101T000000Z\r\nRRULE:{rule}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n".encode()


def white_png(side):
    """A square picture of one bit a dot, in a few kB."""

    def chunk(kind, body):
        return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

    rows = zlib.compress((b"\0" + bytes((side + 7) // 8)) * side, 9)
    head = struct.pack(">IIBBBBB", side, side, 1, 0, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", rows) + chunk(b"IEND", b"")


NESTED = (
    "".join(f'<g id="g{i}">' + f'<use href="#g{i + 1}"/>' * 10 + "</g>" for i in range(12))
    + '<rect id="g12" width="5" height="5"/>'
)
CIRCLE = b"0\nSECTION\n2\nENTITIES\n0\nCIRCLE\n10\n0\n20\n0\n40\n1e13\n0\nENDSEC\n0\nEOF\n"


@pytest.mark.parametrize(
    ("work", "arguments", "words"),
    [
        (read_dxf, (CIRCLE, 0.5), "reaches further than"),
        (
            read_svg,
            (svg('<rect width="5" height="5" transform="' + "rotate(" * 140_000 + '"/>'), 0.5),
            "transform of more than",
        ),
        (read_svg, (svg(NESTED), 0.5), "uses its shapes again"),
        (read_svg, (svg('<g id="a"><use href="#a"/></g>'), 0.5), "uses its shapes again"),
        (read_svg, (svg("<g>" * 5000 + "</g>" * 5000), 0.5), "groups in groups"),
        (read_svg, (svg('<path d="M0 0' + "A5 5 0 0 1 9 9" * 60_000 + '"/>'), 0.5), "longer than 2 s"),
        (read_busy, (busy("FREQ=SECONDLY"), datetime(2026, 10, 13), 60), "repeats every second"),
        (read_busy, (busy("FREQ=HOURLY"), datetime(2026, 10, 13), 60), "longer than 2 s"),
        (cleaned, (white_png(8900),), "too many"),
    ],
)
def test_a_small_file_that_asks_for_too_much_is_given_up_in_time(work, arguments, words):
    carefully(len, ())  # the first one loads the readers
    began = time.monotonic()
    with pytest.raises(BadInput, match=words):
        carefully(work, *arguments, seconds=2)
    assert time.monotonic() - began < 8


def test_memory_and_sudden_ends_are_said():
    with pytest.raises(BadInput, match="too much memory"):
        carefully(bytearray, 2_000_000_000)
    assert len(carefully(bytearray, 50_000_000)) == 50_000_000
    with pytest.raises(BadInput, match="too much time or memory") as fault:
        carefully(os.abort, path="photo")
    assert fault.value.path == "photo"
    with pytest.raises(BadInput, match="damaged, or of another kind"):
        carefully(int, "x")
    with pytest.raises(BadInput, match="Choose a photo first"):
        carefully(cleaned, b"")


def test_four_large_photos_at_once_are_made_small_two_by_two():
    photo = white_png(6900)
    with ThreadPoolExecutor(4) as threads:
        made = list(threads.map(lambda _: carefully(cleaned, photo), range(4)))
    assert [size for _, size in made] == [(1600, 1600)] * 4


@pytest.mark.parametrize(
    "text",
    [" " * 60_000 + "x", "a" + " " * 60_000, " in stripes of 1" * 4000, "08:00" + " " * 60_000 + "-" + " " * 60_000 + "9"],
)
def test_reading_a_line_takes_no_more_than_linear_time(text):
    began = time.process_time()
    fill_from(f"1, 1: {text}", {})
    Span(read_hours).taken(text)
    assert time.process_time() - began < 1


def test_what_json_readers_let_pass_is_refused():
    for text in ('{"title":"\\ud800"}', '{"a":' * 500 + "1" + "}" * 500, '{"a":NaN}', '{"a":1,"a":2}'):
        with pytest.raises(BadJob):
            parse_document(text)
