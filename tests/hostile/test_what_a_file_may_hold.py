"""Harmful files: rejected quickly, or stored without their harmful parts."""

import struct
from io import BytesIO

import pytest
from PIL import Image

from reedcore.errors import NotARecording
from reedcore.formats.table_csv import _cell
from reedcore.formats.wav import MOST_CHUNKS, read_wav, write_wav
from tests.core.sounds import held
from web.catalogue.actions import NotAPicture, add_picture


def file_with_chunks(count):
    """Return a WAV file with this many empty chunks before its samples."""
    whole = write_wav(held(196.0, 0.3, rate=16_000), 16_000)
    head, rest = whole[:12], whole[12:]
    return head + b"junk\0\0\0\0" * count + rest


def test_a_recording_of_a_few_chunks_more_is_read():
    assert read_wav(file_with_chunks(20)).rate_hz == 16_000


def test_a_recording_of_three_million_empty_chunks_is_refused_unread():
    data = file_with_chunks(3_000_000)
    with pytest.raises(NotARecording, match=str(MOST_CHUNKS)):
        read_wav(data)


@pytest.mark.parametrize(
    "text",
    ["=1+1", "+1", "-1", "@sum", "\t=1", "\r=1", " =1+1", "  -1", "＝1+1", " ＠sum", "\u3000=1"],
)
def test_a_cell_that_a_spreadsheet_would_run_is_quoted(text):
    assert _cell(text) == f"'{text}"


@pytest.mark.parametrize("text", ["", " ", "a=1", "steady", " steady"])
def test_any_other_cell_stays_as_it_is(text):
    assert _cell(text) == text


def picture(kind, size=(40, 30), **more):
    out = BytesIO()
    Image.new("RGB", size, "white").save(out, kind, **more)
    return out.getvalue()


def stored_picture(clinic, by, data):
    return bytes(add_picture(clinic, name="Map", alt="A map", data=data, by=by).image)


def test_metadata_of_a_picture_is_not_kept(clinic, clinician):
    data = picture("JPEG", comment=b"Tamsin Orrell, 4 Quay Street")
    assert b"Orrell" in data
    assert b"Orrell" not in stored_picture(clinic, clinician, data)


def damage(data, at):
    """Return the same file with a changed chunk length."""
    return data[:at] + struct.pack(">I", 7) + data[at + 4 :]


@pytest.mark.parametrize("at", [8, 33, 40])
def test_a_damaged_picture_is_refused_with_a_reason(clinic, clinician, at):
    with pytest.raises(NotAPicture):
        stored_picture(clinic, clinician, damage(picture("PNG"), at))


def test_a_picture_of_more_than_four_million_points_is_not_unfolded(clinic, clinician):
    with pytest.raises(NotAPicture, match="This picture has too many pixels"):
        stored_picture(clinic, clinician, picture("PNG", size=(1, 4_000_001)))
