"""Small pictures are drawn anew where the look changed, and only there."""

import json

from dividers.services.jobs.demo import demo_document
from dividers.services.jobs.planning import ground_of, piece_plan
from dividers.services.stations.pictures import thumbnail


def test_a_change_shows_in_the_picture_where_it_changes_the_look():
    document = demo_document()
    piece, other = document["pieces"][0], document["pieces"][1]
    piece["name"] = "Planned by nobody yet"  # nothing of it is remembered from another test
    text = json.dumps(document)
    before = thumbnail(text, piece["id"])
    tape = document["products"][piece["method"]["tape"]]
    document["crew"] = (document.get("crew") or {}) | {"painters": 5}
    piece["name"] = "Another name"
    same = json.dumps(document)
    assert ground_of(same, 0) == ground_of(text, 0)
    assert piece_plan(same, piece["id"]).layouts is piece_plan(text, piece["id"]).layouts
    tape["width"] = "1 1/4 in"
    assert ground_of(json.dumps(document), 0) != ground_of(text, 0)
    text = json.dumps(document)
    piece["method"]["fit"] = "follow"  # a measured outline is followed or not: that is in the method
    assert ground_of(json.dumps(document), 0) != ground_of(text, 0)
    piece["surface"]["panels"][0]["width"] = "90 in"
    wider = json.dumps(document)
    assert thumbnail(wider, piece["id"]) != before
    assert thumbnail(wider, other["id"]) == thumbnail(text, other["id"])
    document["palette"]["cream"]["hex"] = "#123456"
    assert "#123456" in thumbnail(json.dumps(document), piece["id"])
    assert thumbnail(text, "nothing") == ""
