"""Recipes by their page: laid with a sentence of what was changed, undone, kept under a name, let go; patterns and recipes seen on the very surface."""

import json
import re

PIECE = "/jobs/1/foyer-wall"


def act(client, **form):
    revision = re.search(r'name="revision" value="(\d+)"', client.get(f"{PIECE}/pattern").text)[1]
    answer = client.post(f"{PIECE}/recipes", data={"revision": revision} | form)
    assert answer.status_code == 303
    return client.get(answer.headers["Location"]).text


def test_a_recipe_is_laid_kept_and_let_go(client):
    shown = act(client, lay="begin-1")
    assert "“Awning” is laid here." in shown and 'value="stripes" checked' in shown and "Undo: Laid Awning" in shown
    assert "Give the look a name" in act(client, name=" ")
    shown = act(client, name="My <awning>")
    assert "My &lt;awning&gt;" in shown and "<awning>" not in shown
    [key] = re.findall(r'name="lay" value="(kept-\d+)"', shown)
    assert "“My &lt;awning&gt;” is laid here. Nothing had to be changed" in act(client, lay=key)
    assert key not in act(client, **{"let-go": key})
    assert client.post(f"{PIECE}/recipes", data={"lay": key, "revision": "1"}).status_code == 404
    client.post("/jobs/1/undo")
    assert 'value="chevron" checked' in client.get(f"{PIECE}/pattern?layer=0").text


def test_a_look_of_several_layers_is_kept_and_laid_with_all_of_them(client):
    shown = act(client, name="Wall with its pinstripe")
    [key] = re.findall(r'name="lay" value="(kept-\d+)"', shown)
    other = "/jobs/1/booth-front"
    revision = re.search(r'name="revision" value="(\d+)"', client.get(f"{other}/pattern").text)[1]
    assert client.post(f"{other}/recipes", data={"revision": revision, "lay": key}).status_code == 303
    [front] = [piece for piece in json.loads(client.get("/jobs/1.json").text)["pieces"] if piece["id"] == "booth-front"]
    assert [layer["name"] for layer in front["layers"]] == ["chevrons", "pinstripe"]
    assert "pattern" not in front
    ((_, one), (_, other_end)) = front["layers"][1]["pattern"]["along"]
    assert one == other_end  # level still, lower down by as much as this front is lower
    assert "Round 2 (pinstripe)" in client.get(f"{other}/tape?round=2").text
    client.post("/jobs/1/undo")
    act(client, **{"let-go": key})


def test_patterns_and_recipes_are_seen_on_the_very_surface_with_its_door(client):
    page = client.get(f"{PIECE}/pattern").text
    looks = re.findall(r'src="([^"]+\.svg\?v=[^"]+)"', page)
    assert len(looks) == 1 + 18 + 13  # the one that is laid, the patterns, the recipes
    for address in looks[::5]:
        picture = client.get(address.replace("&amp;", "&"))
        assert picture.mimetype == "image/svg+xml" and picture.text.startswith("<svg")
        assert 'fill="#f5f1e8"' in picture.text  # the door stays free
    other = re.findall(r'src="([^"]+\.svg\?v=[^"]+)"', client.get("/jobs/1/booth-front/pattern").text)
    assert client.get(other[0]).text != client.get(looks[0]).text
    assert client.get(f"{PIECE}/looks/nothing.svg").status_code == 404
