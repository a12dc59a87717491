"""The cookie that holds a session: by https it never goes out unencrypted."""

from flask import Flask, request
from flask.sessions import SecureCookieSessionInterface


class SessionCookies(SecureCookieSessionInterface):
    """Cookies go by name, not by port: two programs on one machine, and http beside https, keep theirs apart by the name.

    By https it is tied to its host and to encrypted connections (the prefix `__Host-`).
    """

    def get_cookie_name(self, app: Flask) -> str:
        name = f"dividers-{app.config['PLAIN_PORT']}" if app.config["PLAIN_PORT"] else "dividers"
        return f"__Host-{name}" if request.is_secure else name

    def get_cookie_secure(self, app: Flask) -> bool:
        return request.is_secure
