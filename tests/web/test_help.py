"""Help is a visible word on every page, and says the words as the glossary does."""

import re
from html import unescape
from pathlib import Path

import pytest

GLOSSARY = Path(__file__).parents[2] / "docs" / "glossary.md"


def test_help_says_the_words_of_the_glossary(client):
    words = dict(re.findall(r"^\| (.+?) \| (.+?) \|$", GLOSSARY.read_text(), re.MULTILINE))
    said = re.findall(r"<dt>(.*?)</dt>\s*<dd>(.*?)</dd>", client.get("/help").text)
    assert len(said) > 40
    for word, meaning in said:
        assert words[unescape(word)].replace("`", "") == " ".join(unescape(meaning).split()), word


@pytest.mark.parametrize(
    "address",
    ["/jobs", "/new", "/new/wall", "/sums", "/supplies", "/devices", "/practice", "/patches", "/logbook", "/phones", "/jobs/1/history",
     "/jobs/1/logbook", "/jobs/1/wall", "/year", "/jobs/1/quote", "/jobs/1/record/client", "/jobs/1/booth-front/files", *(f"/jobs/1/booth-front/{s}" for s in ("measure", "pattern", "marks", "tape", "schedule", "materials"))],
)  # fmt: skip
def test_help_is_a_visible_word_on_every_page(client, address):
    shown = client.get(address).text
    at = re.search(r'href="/help(#[a-z]+)?"[^>]*>Help</a>', shown)
    assert at, address
    assert not at[1] or f'id="{at[1][1:]}"' in client.get("/help").text
