"""Pictures and links that come by the clipboard or a drag, and not as files."""

from __future__ import annotations

from pathlib import Path

from platformdirs import user_pictures_path
from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QMimeData
from PyQt6.QtGui import QImage

from aptandum.core.atomic import write_atomic
from aptandum.core.file.free_name import free
from aptandum.ui.strings import t

KINDS = (
    ("image/png", ".png"),
    ("image/jpeg", ".jpg"),
    ("image/tiff", ".tif"),
    ("image/webp", ".webp"),
    ("image/avif", ".avif"),
    ("image/gif", ".gif"),
    ("image/bmp", ".bmp"),
)
"""What is taken as it comes, the first that there is."""


def picture_of(data: QMimeData | None) -> tuple[bytes, str] | None:
    """The bytes of a picture and the ending of its kind; ``None`` where there is none. What is there as a file's bytes
    is taken as it is; a bare picture becomes a PNG."""
    if data is None or any(url.isLocalFile() for url in data.urls()):
        return None
    for kind, ending in KINDS:
        held = data.data(kind).data() if data.hasFormat(kind) else b""
        if held:
            return held, ending
    image = data.imageData() if data.hasImage() else None
    if isinstance(image, QImage) and not image.isNull():
        made = QByteArray()
        buffer = QBuffer(made)
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        image.save(buffer, "PNG")
        return made.data(), ".png"
    return None


def link_of(data: QMimeData | None) -> str:
    """A link into the network; empty where there is none."""
    if data is None:
        return ""
    links = [
        url.toDisplayString() for url in data.urls() if url.scheme() in ("http", "https", "ftp")
    ]
    return links[0] if links else ""


def kept_picture(held: tuple[bytes, str], docket: Path | None, name: str = "") -> Path:
    """Keep a picture as a file beside the docket, or in a folder of ours among the person's pictures.

    Args:
        docket: the docket's own file; ``None`` where it has none yet.
        name: of the file, without its ending; empty: what says that it was pasted.

    Raises:
        OSError: it could not be written.
    """
    data, ending = held
    folder = docket.parent if docket is not None else user_pictures_path() / "Aptandum"
    folder.mkdir(parents=True, exist_ok=True)
    path = free(folder / f"{name or t('pasted')}{ending}")
    write_atomic(path, data)
    return path
