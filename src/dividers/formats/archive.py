"""A whole job as one zip: written with fixed times, so that the same job gives the same bytes; read with every way of harm shut."""

import io
import json
import struct
import zipfile
import zlib
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.base.texts import storable

MOST_BYTES = 250_000_000
MOST_ENTRIES = 5_010
MOST_UNPACKED = 350_000_000
MOST_ENTRY = 25_000_000
MANIFEST, JOB, LOGBOOK, HISTORY, PHOTOS = "dividers.json", "job.json", "logbook.json", "history.json", "photos/"
FORMAT = "dividers-archive/1"
MOMENT = (2000, 1, 1, 0, 0, 0)


@dataclass(frozen=True)
class Archive:
    """What an archive holds: the job file, the logbook, the history (b"" where there is none), photos by file name."""

    job: bytes
    logbook: Mapping[str, Any]
    history: bytes
    photos: Mapping[str, bytes]


def write_archive(job: str, logbook: Mapping[str, Any], history: bytes, photos: Mapping[str, bytes]) -> bytes:
    """The zip of a job file's text, its logbook, the job's history, and its photos by file name."""
    out = io.BytesIO()
    entries = {
        MANIFEST: json.dumps({"format": FORMAT}).encode(),
        JOB: job.encode(),
        LOGBOOK: json.dumps(logbook, ensure_ascii=False, indent=1).encode(),
        HISTORY: history,
        **{PHOTOS + name: content for name, content in sorted(photos.items())},
    }
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in entries.items():
            how = zipfile.ZIP_STORED if name.startswith(PHOTOS) else zipfile.ZIP_DEFLATED  # photos are packed already
            archive.writestr(zipfile.ZipInfo(name, MOMENT), content, how)
    return out.getvalue()


def read_archive(content: bytes) -> Archive:
    """What a zip holds. Raises BadInput for what is no such archive, too large or hostile.

    A photo whose bytes are damaged is there as b"", so that who reads it can say which one.
    """
    if not content:
        raise BadInput("Choose an archive first: a .zip saved by Dividers.", "file")
    if len(content) > MOST_BYTES:
        raise BadInput(
            f"This archive has {len(content) / 1e6:.0f} MB; at most {MOST_BYTES // 1_000_000} MB are allowed.", "file"
        )
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            entries = _entries(archive)
            return _read(archive, entries)
    except (
        zipfile.BadZipFile,
        zlib.error,
        EOFError,
        OSError,
        NotImplementedError,
        RuntimeError,
        ValueError,
        struct.error,
    ) as fault:
        raise BadInput("This is not a complete archive: it is damaged, or not a .zip.", "file") from fault


def _entries(archive: zipfile.ZipFile) -> dict[str, zipfile.ZipInfo]:
    """The entries by name, once it is clear that none of them does harm."""
    infos = [info for info in archive.infolist() if not info.is_dir()]
    if len(infos) > MOST_ENTRIES:
        raise BadInput(f"This archive holds {len(infos)} files; at most {MOST_ENTRIES} are allowed.", "file")
    if sum(info.file_size for info in infos) > MOST_UNPACKED or any(info.file_size > MOST_ENTRY for info in infos):
        raise BadInput("This archive is too large when unpacked.", "file")
    for info in infos:
        name = info.filename
        if name.startswith(("/", "\\")) or ".." in name.replace("\\", "/").split("/") or ":" in name:
            raise BadInput(f"This archive holds a file that would lie outside it: “{name[:60]}”. It was not imported.", "file")
    found = {info.filename: info for info in infos}
    if len(found) < len(infos):
        raise BadInput("This archive holds two files with the same name. It was not imported.", "file")
    if JOB not in found:
        raise BadInput("This archive holds no job: choose one saved by Dividers.", "file")
    return found


def _read(archive: zipfile.ZipFile, entries: Mapping[str, zipfile.ZipInfo]) -> Archive:
    def content(name: str) -> bytes:
        with archive.open(entries[name]) as file:
            found = file.read(MOST_ENTRY + 1)
        if len(found) > MOST_ENTRY:
            raise BadInput("This archive is too large when unpacked.", "file")
        return found

    def photo(name: str) -> bytes:
        try:
            return content(name)
        except (zipfile.BadZipFile, zlib.error):
            return b""

    try:
        logbook = json.loads(content(LOGBOOK)) if LOGBOOK in entries else {}
    except (ValueError, RecursionError) as fault:
        raise BadInput("The logbook in this archive can't be read.", "file") from fault
    photos = {name.removeprefix(PHOTOS): photo(name) for name in entries if name.startswith(PHOTOS)}
    if not storable(logbook):
        raise BadInput("The logbook in this archive holds half of a letter, which can't be stored.", "file")
    history = content(HISTORY) if HISTORY in entries else b""
    return Archive(content(JOB), logbook if isinstance(logbook, dict) else {}, history, photos)
