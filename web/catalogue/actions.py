"""Actions on a clinic's own tasks, library and pictures."""

import struct
import zlib
from io import BytesIO

from django.db import transaction
from django.utils import timezone
from django.utils.translation import gettext
from PIL import Image, ImageOps, UnidentifiedImageError

from web.accounts.models import Clinic, User

from .models import LibraryEntry, Picture

#: Pictures are reduced to the size of a tablet. Files with more bytes or pixels are rejected
#: unread, because a small file can expand to gigabytes.
LARGEST_SIDE, LARGEST_FILE, MOST_POINTS = 1400, 8_000_000, 4_000_000
#: Per clinic: far more than anyone needs.
MOST_PICTURES = 2000


class NotAPicture(ValueError):
    """An upload is refused; the message is shown to the user."""


FORMATS = ("PNG", "JPEG", "WEBP", "GIF")
#: The end marker of a JPEG; cameras may write a little after it, so search near the end.
_JPEG_ENDS, _NEAR_THE_END = b"\xff\xd9", 65_536


def _check_whole(data: bytes) -> None:
    """Refuse an incomplete picture: the PDF library makes Pillow accept such files silently."""
    with Image.open(BytesIO(data), formats=FORMATS) as image:
        if image.format == "JPEG" and _JPEG_ENDS not in data[-_NEAR_THE_END:]:
            raise OSError("torn")
        image.verify()


@transaction.atomic
def keep(
    clinic: Clinic, *, kind: str, name: str, data: object, shared: bool, by: User
) -> LibraryEntry:
    """Keep something under a name; under one of one's own that is there already, its
    next version."""
    Clinic.objects.select_for_update(of=("self",)).get(pk=clinic.pk)
    own = clinic.library.filter(kind=kind, name=name, author=by)
    newest = own.order_by("-version").first()
    if newest and (newest.data, newest.shared, newest.archived_at) == (data, shared, None):
        return newest  # Unchanged content is not a new version.
    return LibraryEntry.objects.create(
        clinic=clinic,
        kind=kind,
        name=name,
        version=newest.version + 1 if newest else 1,
        data=data,
        shared=shared,
        author=by,
    )


def put_away(entry: LibraryEntry) -> None:
    """Stop offering it; items made from it stay unchanged."""
    LibraryEntry.objects.filter(
        clinic=entry.clinic, kind=entry.kind, name=entry.name, author=entry.author, archived_at=None
    ).update(archived_at=timezone.now())


#: Errors that the library raises for damaged files.
DAMAGED = (
    UnidentifiedImageError,
    Image.DecompressionBombError,
    OSError,
    SyntaxError,
    ValueError,
    EOFError,
    struct.error,
    zlib.error,
)


def add_picture(clinic: Clinic, *, name: str, alt: str, data: bytes, by: User) -> Picture:
    """Store a picture rotated, reduced and encoded again, without the camera's metadata.

    Raises:
        NotAPicture: it is none, or too large, or one too many.
    """
    if clinic.pictures.count() >= MOST_PICTURES:
        raise NotAPicture(gettext("The picture limit is reached. Remove some pictures first."))
    if len(data) > LARGEST_FILE:
        raise NotAPicture(gettext("This file is larger than 8 MB. Use a smaller picture."))
    try:
        _check_whole(data)
        with Image.open(BytesIO(data), formats=FORMATS) as image:
            if image.width * image.height > MOST_POINTS:
                raise NotAPicture(
                    gettext("This picture has too many pixels. Use a smaller picture.")
                )
            turned = ImageOps.exif_transpose(image).convert("RGB")
            turned.thumbnail((LARGEST_SIDE, LARGEST_SIDE))
            # Remove comments, location and colour profile.
            upright = Image.new("RGB", turned.size)
            upright.paste(turned)
            written = BytesIO()
            upright.save(written, "JPEG", quality=84, optimize=True)
    except NotAPicture:
        raise
    except DAMAGED as error:
        raise NotAPicture(
            gettext("This file is not a picture. Use a PNG, JPEG, WebP or GIF file.")
        ) from error
    return Picture.objects.create(
        clinic=clinic,
        name=name,
        alt=alt,
        image=written.getvalue(),
        width=upright.width,
        height=upright.height,
        author=by,
    )
