"""What a job file may hold, as data: each key stands once, with its kind, default, words and forms.

Most keys are declared on the model's own fields with `file_key`; objects that have no class of their own list theirs.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import MISSING, dataclass, fields, replace
from dataclasses import field as made_by
from typing import Any

from dividers.core.job.kinds import ByColor, Kind
from dividers.core.job.reader import Reader
from dividers.core.job.usual import Usual

Values = dict[str, Any]


@dataclass(frozen=True)
class Key:
    """One key of the job file.

    `title` and `help` are its words on forms and in the key table; `forms` has the section it stands in on each station's
    form. `needed` says what to do where it is missing. `default` is what holds then, of the `source` where that is a trade
    figure; `attribute` is its name in the model. `since` is the version that first read it.
    """

    key: str
    kind: Kind
    title: str = ""
    help: str = ""
    default: Any = None
    source: str = ""
    needed: str = ""
    forms: Mapping[str, str] = made_by(default_factory=dict)
    attribute: str = ""
    since: str = "0.1.0"

    def read(self, reader: Reader) -> Any:
        """Its value in an object of the job file. Faults go to the reader."""
        if self.needed:
            reader.need(self.key, self.needed)
        return self.kind.read(reader, self.key, self.default)


def file_key(
    kind: Kind,
    title: str = "",
    help: str = "",
    *,
    default: Any = MISSING,
    name: str = "",
    needed: str = "",
    forms: Mapping[str, str] | None = None,
    since: str = "0.1.0",
) -> Any:
    """A field of a model's dataclass that the job file has under `name`, or else under the field's own name."""
    source = default.source if isinstance(default, Usual) else ""
    plain = default.value if isinstance(default, Usual) else default
    entry = Key(name, kind, title, help, None if plain is MISSING else plain, source, needed, forms or {}, "", since)
    if isinstance(plain, dict):
        return made_by(default_factory=dict, metadata={"key": entry})
    return made_by(metadata={"key": entry}) if plain is MISSING else made_by(default=plain, metadata={"key": entry})


def keys_of(model: type) -> tuple[Key, ...]:
    """The keys that a dataclass declares on its fields, in order."""
    found = []
    for each in fields(model):
        if entry := each.metadata.get("key"):
            found.append(replace(entry, key=entry.key or each.name, attribute=each.name))
    return tuple(found)


def read_keys(keys: Sequence[Key], reader: Reader) -> Values:
    """What an object of the job file holds, by attribute. Faults and unknown keys go to the reader."""
    values = {each.attribute or each.key: each.read(reader) for each in keys}
    reader.close()
    return values


@dataclass(frozen=True)
class Object(Kind):
    """An object with keys of its own; `make` builds what it stands for from their values, and may fault them."""

    keys: tuple[Key, ...]
    make: Callable[[Reader, Values], Any] = lambda reader, values: values

    @classmethod
    def of(cls, model: type) -> "Object":
        """An object that is one of the model's dataclasses, and nothing more."""
        return cls(keys_of(model), lambda reader, values: model(**values))

    @property
    def allowed(self) -> str:
        return "object"

    def read(self, reader: Reader, key: str, default: Any) -> Any:
        return self.read_in(reader.child(key))

    def read_in(self, reader: Reader) -> Any:
        """What the object that the reader looks at stands for."""
        return self.make(reader, read_keys(self.keys, reader))

    def in_units(self, written: Any, old: str, new: str) -> Any:
        if not isinstance(written, dict):
            return written
        kinds = {each.key: each.kind for each in self.keys}
        return {
            name: kinds[name].in_units(value, old, new) if name in kinds and value is not None else value
            for name, value in written.items()
        }

    def key(self, name: str) -> Key | None:
        return next((each for each in self.keys if each.key == name), None)

    def inner(self, name: str) -> Kind | None:
        found = self.key(name)
        return found.kind if found else None


@dataclass(frozen=True)
class Objects(Kind):
    """A list of objects of one kind."""

    of: Object
    most: int
    needs: str = ""

    @property
    def allowed(self) -> str:
        return f"list of at most {self.most} objects"

    def read(self, reader: Reader, key: str, default: Any) -> tuple[Any, ...]:
        if self.needs and not reader.items(key, self.most) and isinstance(reader.get(key), list):
            reader.fault(key, self.needs)
        return tuple(self.of.read_in(child) for child in reader.children(key, self.most))

    def in_units(self, written: Any, old: str, new: str) -> Any:
        return [self.of.in_units(each, old, new) for each in written] if isinstance(written, list) else written

    def inner(self, name: str) -> Kind:
        return self.of


@dataclass(frozen=True)
class Named(Kind):
    """Objects by names that people give."""

    of: Kind
    most: int
    make: Callable[[str, Reader], Any]

    @property
    def allowed(self) -> str:
        return f"object of at most {self.most} names"

    def read(self, reader: Reader, key: str, default: Any) -> dict[str, Any]:
        return {name: self.make(name, entry) for name, entry in reader.named(key, self.most)}

    def in_units(self, written: Any, old: str, new: str) -> Any:
        return (
            {name: self.of.in_units(value, old, new) for name, value in written.items()}
            if isinstance(written, dict)
            else written
        )


@dataclass(frozen=True)
class Tagged(Kind):
    """An object whose other keys depend on the word under one of them."""

    tag: Key
    kinds: Mapping[str, Object] = made_by(hash=False)
    make: Callable[[str, Reader], Any] = made_by(compare=False)

    @property
    def allowed(self) -> str:
        return f"object, its keys by its {self.tag.key}"

    def read(self, reader: Reader, key: str, default: Any) -> Any:
        child = reader.child(key)
        return self.make(self.tag.read(child), child)

    def in_units(self, written: Any, old: str, new: str) -> Any:
        chosen = self.kinds.get(str(written.get(self.tag.key))) if isinstance(written, dict) else None
        return chosen.in_units(written, old, new) if chosen else written

    def key(self, name: str) -> Key | None:
        return next((found for kind in self.kinds.values() if (found := kind.key(name))), None)


def on_form(kind: Kind, form: str, path: str = "") -> Iterator[tuple[str, Key]]:
    """The keys that stand on a form, each with its path, in order; what is in lists is not among them."""
    for each in kind.keys if isinstance(kind, Object) else ():
        if form in each.forms:
            yield path + each.key, each
        yield from on_form(each.kind, form, f"{path}{each.key}.")


def find_key(kind: Kind, path: str) -> Key | None:
    """The key at a path of a document of that kind, such as ``surface.panels.0.width``; None where there is none.

    One value of those by colour has the key of them all. Names that people gave may hold dots.
    """
    name, _, rest = path.partition(".")
    if isinstance(kind, Named):
        return find_key(kind.of, path.rpartition(".")[2])
    if isinstance(kind, Object | Tagged):
        found = kind.key(name)
        if found is None or not rest:
            return found
        return replace(found, kind=found.kind.of) if isinstance(found.kind, ByColor) else find_key(found.kind, rest)
    inside = kind.inner(name)
    return find_key(inside, rest) if inside and rest else None
