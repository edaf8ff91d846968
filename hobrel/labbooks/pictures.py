"""Pictures in lab books: taken in as pixels and nothing else, kept once, and let go with the last that keeps them. See decision 34."""

from __future__ import annotations

import base64
import binascii
import hashlib
import io
import json
import threading
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any

from django.core.files.uploadedfile import UploadedFile
from PIL import Image, ImageOps, UnidentifiedImageError

from hobrel.core.document.lab_book import LabBook
from hobrel.core.document.plan_part import Picture
from hobrel.labbooks.models import Book, KeptPicture, PictureUse
from hobrel.plans.models import PlanVersion
from hobrel.server.problems import Problem, not_found
from hobrel.server.writing import writing

MOST_BYTES = 4 * 1024 * 1024
MOST_PIXELS = 40_000_000
LONGEST_SIDE = 2000
MOST_KEPT = 60
FORMATS = ("JPEG", "PNG", "WEBP")
_LARGEST_DRAWING = 500_000
_ONE_AT_A_TIME = threading.Lock()
Keeper = Book | PlanVersion
Document = Mapping[str, Any]


@dataclass(frozen=True)
class MadePicture:
    """A picture made anew from what was sent: its bytes and their digest, its size in pixels."""

    key: str
    kind: KeptPicture.Kind
    content: bytes
    width: int
    height: int


def make_picture(sent: bytes) -> MadePicture:
    """Take the pixels of a picture, upright, on white and no longer than is looked at, and write them anew.

    Raises
    ------
    Problem
        422 ``too_large``, ``bad_picture``.
    """
    refuse_larger(len(sent))
    try:
        with _ONE_AT_A_TIME:
            return _made(sent)
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as trouble:
        raise Problem(422, "bad_picture", "This is no picture that can be read here. JPEG, PNG and WEBP can.") from trouble


def refuse_larger(size: int) -> None:
    """Refuse more bytes than a picture is sent with.

    Raises
    ------
    Problem
        422 ``too_large``.
    """
    if size > MOST_BYTES:
        raise Problem(422, "too_large", f"This picture is larger than {MOST_BYTES // 1_048_576} MB. Make it smaller, or take it anew.")


def _made(sent: bytes) -> MadePicture:
    with Image.open(io.BytesIO(sent), formats=FORMATS) as opened:
        if opened.width * opened.height > MOST_PIXELS:
            raise Problem(422, "too_large", f"This picture has more than {MOST_PIXELS // 1_000_000} million pixels. Make it smaller.")
        drawn = opened.format == "PNG"
        opened.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
        upright = ImageOps.exif_transpose(opened).convert("RGBA")
    upright.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    clean = Image.new("RGB", upright.size, "white")
    clean.paste(upright, mask=upright.getchannel("A"))
    # what was drawn keeps its sharp edges, as long as that is not larger than a photograph
    content, kind = (_write(clean, "PNG", optimize=True), KeptPicture.Kind.PNG) if drawn else (b"", KeptPicture.Kind.JPEG)
    if not drawn or len(content) > _LARGEST_DRAWING:
        content, kind = _write(clean, "JPEG", quality=85, optimize=True), KeptPicture.Kind.JPEG
    return MadePicture(hashlib.sha256(content).hexdigest(), kind, content, *clean.size)


def _write(picture: Image.Image, form: str, **options: Any) -> bytes:
    out = io.BytesIO()
    picture.save(out, form, **options)
    return out.getvalue()


def keep_picture(book: Book, made: MadePicture) -> None:
    """Have a lab book keep a picture; the same twice is kept once.

    Raises
    ------
    Problem
        422 ``too_large`` for more than a lab book keeps.
    """
    with writing():
        if book.picture_uses.filter(picture=made.key).exists():
            return
        if book.picture_uses.count() >= MOST_KEPT:
            raise Problem(422, "too_large", f"This lab book keeps {MOST_KEPT} pictures already, those taken out of it among them.")
        KeptPicture.objects.get_or_create(key=made.key, defaults={"kind": made.kind, "content": made.content})
        PictureUse.objects.create(picture_id=made.key, book=book)


def take_picture_in(book: Book, file: UploadedFile) -> MadePicture:
    """Have a lab book keep a picture that is sent. It is shown once an edit names it.

    Raises
    ------
    Problem
        422 ``too_large``, ``bad_picture``.
    """
    refuse_larger(file.size or 0)
    made = make_picture(file.read())
    keep_picture(book, made)
    return made


def find_picture(book: Book, key: str) -> KeptPicture:
    """A picture that a lab book keeps.

    Raises
    ------
    Problem
        404.
    """
    found = KeptPicture.objects.filter(key=key, uses__book=book).first()
    if found is None:
        raise not_found()
    return found


def hand_pictures_on(document: Document, of: Keeper, to: Keeper) -> None:
    """Have what was made from a lab book or a version keep the pictures that its document names, as far as they were kept there."""
    keys = {picture["key"] for picture in _named(document)}
    if keys:
        kept = PictureUse.objects.filter(picture__in=keys, **_by(of)).values_list("picture", flat=True)
        PictureUse.objects.bulk_create([PictureUse(picture_id=key, **_by(to)) for key in kept], ignore_conflicts=True)


def take_pictures_out(book: LabBook) -> tuple[LabBook, list[MadePicture]]:
    """A lab book from a file, with the pictures that it holds made and named in their place. One that cannot be read leaves its words."""
    made: list[MadePicture] = []

    def take(picture: Picture) -> Picture:
        if not picture.data:
            return replace(picture, key="")
        try:
            made.append(found := make_picture(base64.b64decode(picture.data, validate=True)))
        except (Problem, binascii.Error):
            return replace(picture, key="", data="")
        return replace(picture, key=found.key, width=found.width, height=found.height, data="")

    pictures = {stage: tuple(take(p) for p in each) for stage, each in book.plan.pictures.items()}
    report = replace(book.report, pictures=tuple(take(p) for p in book.report.pictures))
    return replace(book, plan=replace(book.plan, pictures=pictures), report=report), made


def put_pictures_in(file: bytes, book: Book) -> bytes:
    """The file of a lab book with the pictures in it that the lab book keeps."""
    kept = {use.picture_id: bytes(use.picture.content) for use in book.picture_uses.select_related("picture")}
    if not kept:
        return file
    document = json.loads(file)
    for picture in _named(document):
        if picture["key"] in kept:
            picture["data"] = base64.b64encode(kept[picture["key"]]).decode()
    return json.dumps(document, ensure_ascii=False, indent=1).encode()


def _by(keeper: Keeper) -> dict[str, Keeper]:
    return {"book" if isinstance(keeper, Book) else "version": keeper}


def _named(document: Document) -> Iterator[dict[str, Any]]:
    for pictures in document.get("plan", {}).get("pictures", {}).values():
        yield from pictures
    yield from document.get("report", {}).get("pictures", ())
