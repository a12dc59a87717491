"""A backup is one zip of the database and the photos with their check sums. It can be made while the program runs; restoring checks it first.

Left out are the secrets of this machine: the key that signs sessions, and the authority that phones trust.
"""

import hashlib
import json
import shutil
import sqlite3
import tempfile
import zipfile
import zlib
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

from dividers.core.base.errors import BadInput
from dividers.services import clock
from dividers.services.keeping.health import damage_in
from dividers.services.opening import DATABASE
from dividers.store.migrate import back_up, migrations

FORMAT, LIST = "dividers-backup/1", "backup.json"
PHOTOS = "photos"
COPY_SUFFIX = ".sqlite"  # of the daily copies and those before migrations: the photos stay as they are
BLOCK = 1 << 20
MOST_BYTES = 50_000_000_000


@dataclass(frozen=True)
class Made:
    """A backup that was made: where, of how many photos, and those that were missing."""

    path: Path
    photos: int
    missing: tuple[str, ...]


def backup(folder: Path, path: Path | None = None) -> Made:
    """Write a backup of a data folder; without a path beside the daily copies. It is there whole, or not at all. Raises BadInput, OSError."""
    if not (folder / DATABASE).exists():
        raise BadInput(f"There is nothing to back up: {folder} holds no {DATABASE}.")
    target = path or folder / "backups" / f"backup-{clock.moment():%Y%m%d-%H%M%S}.zip"
    target.parent.mkdir(parents=True, exist_ok=True)
    made = target.with_name(f".{target.name}.new")
    try:
        with tempfile.TemporaryDirectory(dir=target.parent) as place:
            copy = Path(place) / DATABASE
            with closing(sqlite3.connect(folder / DATABASE)) as connection:
                back_up(connection, copy)
            names, missing = _photos_of(copy, folder)
            with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED, allowZip64=True) as archive:
                sums = {DATABASE: _put(archive, copy, DATABASE)}
                sums |= {f"{PHOTOS}/{name}": _put(archive, folder / PHOTOS / name, f"{PHOTOS}/{name}") for name in names}
                schema = _schema(copy)
                about = {"format": FORMAT, "schema": schema, "made_at": clock.now(), "sums": sums, "missing": missing}
                archive.writestr(LIST, json.dumps(about, indent=1))
        made.chmod(0o600)
        made.replace(target)
    finally:
        made.unlink(missing_ok=True)
    return Made(target, len(names), tuple(missing))


def _photos_of(copy: Path, folder: Path) -> tuple[list[str], list[str]]:
    """The files of the photos that the database names: those that are there, and those that aren't."""
    with closing(sqlite3.connect(copy)) as connection:
        named = [str(file) for (file,) in connection.execute("select file from photos order by id")]
    there = [name for name in dict.fromkeys(named) if (folder / PHOTOS / name).is_file()]
    return there, [name for name in named if name not in set(there)]


def _schema(database: Path) -> int:
    with closing(sqlite3.connect(database)) as connection:
        return int(connection.execute("pragma user_version").fetchone()[0])


def _put(archive: zipfile.ZipFile, file: Path, name: str) -> str:
    """Put a file in; its check sum."""
    kind = zipfile.ZIP_DEFLATED if name == DATABASE else zipfile.ZIP_STORED  # photos are packed already
    total = hashlib.sha256()
    info = zipfile.ZipInfo(name)
    info.compress_type = kind
    with file.open("rb") as source, archive.open(info, "w", force_zip64=True) as into:
        while block := source.read(BLOCK):
            total.update(block)
            into.write(block)
    return total.hexdigest()


def restore(path: Path, folder: Path) -> Path | None:
    """Put a backup, or a copy of the database alone, in the place of what is in a data folder, once it is clear that it is sound.

    Returns where what was there is kept now, None where there was nothing. Raises BadInput, and nothing has changed then; OSError.
    """
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=folder, prefix=".restore-") as place:
        unpacked = Path(place)
        copied = path.suffix == COPY_SUFFIX
        if copied:
            shutil.copy(path, unpacked / DATABASE)
        else:
            _unpack(path, unpacked)
        if damage := damage_in(unpacked):
            raise BadInput(f"This backup is not sound, nothing was changed: {damage[0]}")
        if _schema(unpacked / DATABASE) > migrations()[-1][0]:
            raise BadInput("This backup was made by a newer version of Dividers. Start the newer one, and restore it there.")
        kept = _set_aside(folder, [] if copied else [PHOTOS])
        for name in (DATABASE, PHOTOS):
            if (unpacked / name).exists():
                shutil.move(unpacked / name, folder / name)
    (folder / DATABASE).chmod(0o600)
    return kept


def _unpack(path: Path, place: Path) -> None:
    try:
        with zipfile.ZipFile(path) as archive:
            about = json.loads(archive.read(LIST))
            sums = dict(about["sums"]) if about.get("format") == FORMAT else {}
            if DATABASE not in sums or sum(archive.getinfo(name).file_size for name in sums) > MOST_BYTES:
                raise BadInput(f"{path.name} is not a backup made by Dividers.")
            (place / PHOTOS).mkdir(mode=0o700)
            for name, wanted in sums.items():
                photo = name.removeprefix(f"{PHOTOS}/")
                if name != DATABASE and (photo == name or "/" in photo or photo.startswith(".") or "\\" in photo):
                    raise BadInput(f"{path.name} holds a file that would lie elsewhere: “{name[:60]}”. Nothing was changed.")
                if _take_out(archive, name, place / name) != wanted:
                    raise BadInput(f"{path.name} is damaged: the check sum of {name} is another one. Nothing was changed.")
    except (
        zipfile.BadZipFile,
        zlib.error,
        KeyError,
        ValueError,
        TypeError,
        EOFError,
        NotImplementedError,
        RuntimeError,
    ) as fault:
        raise BadInput(f"{path.name} is damaged, or not a backup made by Dividers. Nothing was changed.") from fault


def _take_out(archive: zipfile.ZipFile, name: str, file: Path) -> str:
    total = hashlib.sha256()
    with archive.open(name) as source, file.open("wb") as into:
        while block := source.read(BLOCK):
            total.update(block)
            into.write(block)
    return total.hexdigest()


def _set_aside(folder: Path, more: list[str]) -> Path | None:
    """Move the database that is there, with its log, and more into a folder of its own."""
    there = [name for name in (DATABASE, f"{DATABASE}-wal", f"{DATABASE}-shm", *more) if (folder / name).exists()]
    if not there:
        return None
    aside = folder / "backups" / f"before-restore-{clock.moment():%Y%m%d-%H%M%S}"
    aside.mkdir(parents=True)
    for name in there:
        shutil.move(folder / name, aside / name)
    return aside
