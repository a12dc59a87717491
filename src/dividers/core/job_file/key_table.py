"""The key table of the job file, in Markdown, made from its schema."""

from collections.abc import Iterable, Iterator
from fractions import Fraction
from typing import Any

from dividers.core.base.lengths import write_exact
from dividers.core.job.kinds import Kind, LengthText
from dividers.core.job.schema import Key, Named, Object, Objects, Tagged
from dividers.core.job_file.hand_reader import HAND_LAYER
from dividers.core.job_file.job_reader import JOB
from dividers.core.job_file.layer_reader import ZONE, LayersKind, ZoneKind
from dividers.core.job_file.survey_reader import Readings
from dividers.core.patterns import PATTERNS

HEAD = "| key | allowed | without it | what it is |\n| --- | --- | --- | --- |\n"
Row = tuple[str, Key]


def key_table() -> str:
    """The keys of a job, and those of each pattern, as tables."""
    parts = [HEAD, *lines_of(JOB.keys)]
    for pattern in PATTERNS:
        parts.append(f"\n`pattern` of the kind `{pattern.key}`: {pattern.summary}\n\n{HEAD}")
        parts += [_line(key.key, key) for key in pattern.keys]
    return "".join(parts)


def lines_of(keys: Iterable[Key]) -> list[str]:
    """A line of the table for each key, and for those inside it."""
    return [_line(path, key) for path, key in _rows(keys, "")]


def _rows(keys: Iterable[Key], before: str) -> Iterator[Row]:
    """Every key with its path, each object's own keys behind it; patterns have tables of their own."""
    for key in keys:
        path = before + key.key
        yield path, key
        if path == "pieces[].pattern":
            continue
        yield from _inside(key.kind, path)


def _inside(kind: Kind, path: str) -> Iterator[Row]:
    match kind:
        case Object():
            yield from _rows(kind.keys, f"{path}.")
        case LayersKind():
            yield from _rows((key for key in kind.of.keys if key.key not in ("pattern", "method")), f"{path}[].")
            yield from ((f"{path}[].{key.key} (by hand)", key) for key in HAND_LAYER.keys)
        case ZoneKind():
            yield from _rows(ZONE.keys, f"{path}.")
        case Objects() | Readings():
            yield from _inside(kind.of, f"{path}[]")
        case Named():
            yield from _inside(kind.of, f"{path}.NAME")
        case Tagged():
            tag = kind.tag.key
            yield f"{path}.{tag}", kind.tag
            for word, each in kind.kinds.items():
                yield from ((f"{path}.{key.key} ({word})", key) for key in each.keys if key.key != tag)


def _line(path: str, key: Key) -> str:
    words = "; ".join(filter(None, (key.title, key.help)))
    since = "" if key.since == "0.1.0" else f" (since {key.since})"
    cells = (f"`{path}`", key.kind.allowed, _default(key), words + since)
    return "| " + " | ".join(cell.replace("|", "\\|").replace("\n", " ") for cell in cells) + " |\n"


def _default(key: Key) -> str:
    """What holds where the key is missing, with the source of a trade figure."""
    if key.needed:
        return "needed"
    said = _plain(key.default, key.kind)
    return " ".join(filter(None, (said, f"({key.source})" if key.source else "")))


def _plain(value: Any, kind: Kind) -> str:
    if value is None or isinstance(kind, Object) or value in ("", (), {}):
        return ""
    if isinstance(kind, LengthText) and isinstance(value, Fraction):
        return write_exact(value, "mm")
    if isinstance(value, tuple):
        return ", ".join("-".join(each) if isinstance(each, tuple) else str(each) for each in value)
    if isinstance(value, bool):
        return str(value).lower()
    return f"{float(value):g}" if isinstance(value, int | float | Fraction) else str(value)
