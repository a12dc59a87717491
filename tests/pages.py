"""A client that reads pages as people do: runs of white space are one space."""

import re
import time

from flask.testing import FlaskClient

PLACES = re.compile(r"(<textarea.*?</textarea>)", re.DOTALL)


class PageClient(FlaskClient):
    def open(self, *args, **options):
        response = super().open(*args, **options)
        if response.mimetype == "text/html" and not response.direct_passthrough:
            parts = PLACES.split(response.get_data(as_text=True))
            response.set_data("".join(part if number % 2 else re.sub(r"\s+", " ", part) for number, part in enumerate(parts)))
        return response


def asking_again(client, address, seconds=300.0):
    """The answer to a GET that may first be 202: still being worked out."""
    end = time.monotonic() + seconds
    while (response := client.get(address)).status_code == 202 and time.monotonic() < end:
        assert response.headers["Refresh"] == "2" and b"asks again" in response.data
        time.sleep(0.1)
    return response


def until(client, address, holds, seconds=300.0):
    """The page at an address once something holds of it, asked for again until then."""
    end = time.monotonic() + seconds
    while not holds(page := client.get(address).text):
        assert time.monotonic() < end, page[:2000]
        time.sleep(0.1)
    return page


def reading(app):
    """The application with such a client, and without CSRF tokens to carry along."""
    app.config["WTF_CSRF_ENABLED"] = False
    app.test_client_class = PageClient
    return app
