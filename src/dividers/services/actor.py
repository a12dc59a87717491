"""Who is acting: whoever a request or a command is from, for the record. "" for this machine's own browser or command line."""

from contextvars import ContextVar

_actor: ContextVar[str] = ContextVar("actor", default="")


def actor() -> str:
    return _actor.get()


def act_as(name: str) -> None:
    """From now on, in this request, what is done is done by somebody."""
    _actor.set(name)
