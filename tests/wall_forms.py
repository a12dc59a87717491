"""What the forms of the page at the wall send, and what it shows then."""

import re

WALL = "/jobs/1/wall"


def page(client, address=WALL, **asked):
    response = client.get(address, query_string=asked or None)
    assert response.status_code == 200, response.get_data(as_text=True)[:500]
    return response.get_data(as_text=True)


def steps(client):
    return [key.replace("&#39;", "'") for key in re.findall(r'data-step="([^"]+)"', page(client))]


def kind(client, name):
    return next(key for key in steps(client) if f"/{name}/" in key)


def state(client):
    return client.get(f"{WALL}/state").get_json()


def record(client, **data):
    return client.post(f"{WALL}/record", data=data)
