"""Publishing: handout, calendar, sounds, and a programme file for another clinic."""

import json
import re
from io import BytesIO

import jsonschema
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from icalendar import Calendar
from mido import MidiFile
from pypdf import PdfReader

from reedcore.formats.wav import read_wav
from tests.factories import item, publish_anyway, simple_document
from web.programmes.actions import publish_document


@pytest.fixture
def programme(person, clinician):
    person.cautions = ["aspiration"]
    person.save()
    own = item(
        "functional_phrases", lines=["Last ferry, all aboard <now>!"], floor=6.0, ceiling=16.0
    )
    document = simple_document(
        item("sit_tall"),
        item("straw_hold", notes=[53, 55], short=True),
        own,
        item("descending_hum"),
    )
    return publish_document(person, document, by=clinician)


def get(as_clinician, name, programme, *more, **query):
    url = reverse(f"programmes:{name}", args=[programme.client_id, programme.version, *more])
    return as_clinician.get(url, query)


def test_a_version_shows_every_task_and_lets_it_be_heard(as_clinician, person, clinician):
    reset = {
        "sort": "reset", "school": "soft", "name": "",
        "dose": {**simple_document()["dose"], "kind": "on_demand", "a_day": 6, "trigger": "a call"},
    }  # fmt: skip
    beside = item("hum_hold", notes=[57], strand="reset")
    items = [beside, item("sit_tall"), item("straw_hold", notes=[53])]
    made = publish_anyway(person, simple_document(*items, beside={"reset": reset}), by=clinician)
    page = get(as_clinician, "version", made).content.decode()
    for name in ("Seated tall", "Straw in air, one note", "Hum, one note", "Reset on a trigger"):
        assert name in page
    heard = re.findall(r"/sounds/(\d)\.wav", page)
    assert heard == ["3", "1"]  # By its place in the document, wherever it is listed.
    for number in heard:
        assert get(as_clinician, "sound_wav", made, int(number)).status_code == 200


def test_the_handout_marks_the_word_to_stretch_in_each_line(as_clinician, person, clinician):
    lines = ["Last ferry home", "Mind the step"]
    stretched = item("stretched_words", lines=lines)
    made = publish_anyway(person, simple_document(stretched), by=clinician)
    page = get(as_clinician, "handout", made).content.decode()
    marked = re.findall(r'<strong\s+class="stretched">([^<]+)</strong>', page)
    # Each line is spoken twice: the last word is stretched, then the first.
    assert [word.strip() for word in marked] == ["home", "Last", "step", "Mind"]


def test_the_handout_says_what_to_do_in_the_clients_words(as_clinician, programme):
    page = get(as_clinician, "handout", programme).content.decode()
    for words in (
        "Lips closed round the straw.", "F3 G3", "8 s", "Last ferry, all aboard &lt;now&gt;!",
        "call 112", "Stop if it hurts", "never suck", "also on a short day", "On paper",
        "practice/with/", "<svg",
    ):  # fmt: skip
        assert words in page


@pytest.mark.parametrize(
    ("query", "width"), [({}, 595), ({"paper": "letter"}, 612), ({"large": "1"}, 595)]
)
def test_the_pdf_has_text_that_can_be_selected_and_is_tagged(as_clinician, programme, query, width):
    response = get(as_clinician, "handout_pdf", programme, **query)
    read = PdfReader(BytesIO(response.content))
    assert round(float(read.pages[0].mediabox.width)) == width
    text = " ".join(page.extract_text() for page in read.pages)
    assert "Lips closed round the straw." in text
    root = read.trailer["/Root"]
    assert root["/MarkInfo"]["/Marked"]
    assert "/StructTreeRoot" in root
    assert root["/Lang"].lower() == "en-gb"


def test_an_unknown_paper_is_not_there(as_clinician, programme):
    assert get(as_clinician, "handout_pdf", programme, paper="napkin").status_code == 404


def test_the_calendar_keeps_its_events_over_versions(as_clinician, programme, person, clinician):
    def events(version):
        data = get(as_clinician, "calendar", version).content
        return {event["uid"]: event for event in Calendar.from_ical(data).walk("VEVENT")}

    first = events(programme)
    assert len(first) == 60  # Two a day, five days, six weeks.
    fewer = simple_document(dose={**programme.document["dose"], "a_day": 1})
    second = events(publish_document(person, fewer, by=clinician))
    assert set(second) == set(first)
    kept = [event for event in second.values() if event["status"] == "CONFIRMED"]
    assert len(kept) == 30
    assert all(event.decoded("sequence") == 2 for event in second.values())


def test_the_calendar_is_in_the_clients_own_time_zone(as_clinician, programme, person):
    person.time_zone = "America/Halifax"
    person.save()
    data = get(as_clinician, "calendar", programme).content
    event = Calendar.from_ical(data).walk("VEVENT")[0]
    assert str(event.decoded("dtstart").tzinfo) == "America/Halifax"
    assert event.decoded("dtstart").hour == 9


def test_tones_as_midi_and_as_sound(as_clinician, programme):
    midi = MidiFile(file=BytesIO(get(as_clinician, "tones_midi", programme).content))
    assert [m.note for m in midi if m.type == "note_on"] == [53, 55]
    wav = read_wav(get(as_clinician, "sound_wav", programme, 2).content)
    assert wav.samples.shape[0] / wav.rate_hz == pytest.approx(2 * (2.0 + 1.0))
    assert get(as_clinician, "sound_wav", programme, 1).status_code == 404  # Sitting upright.
    assert get(as_clinician, "sound_wav", programme, 99).status_code == 404


def test_patterns_are_exported_to_midi_as_sung(as_clinician, person, clinician):
    scale = item("five_note", notes=[48])
    growing = item("growing_numbers", notes=[48], params={"rounds_down": 1, "rounds_up": 0})
    programme = publish_document(person, simple_document(scale, growing), by=clinician)
    midi = MidiFile(file=BytesIO(get(as_clinician, "tones_midi", programme).content))
    notes = [m.note for m in midi if m.type == "note_on"]
    assert notes[:9] == [48, 50, 52, 53, 55, 53, 52, 50, 48]
    assert len(notes) == 9 + 50
    assert notes[9 + 25] == 47


def bring_in(as_clinician, person, data):
    file = SimpleUploadedFile(
        "programme.json", data if isinstance(data, bytes) else json.dumps(data).encode()
    )
    return as_clinician.post(
        reverse("programmes:bring_in", args=[person.pk]), {"file": file}
    ).content.decode()


def test_a_programme_goes_to_another_client_and_fits_its_schema(as_clinician, programme, clinic):
    from tests.factories import ClientFactory

    sent = get(as_clinician, "as_json", programme).content
    schema = as_clinician.get(reverse("programmes:schema")).json()
    jsonschema.Draft202012Validator(schema).validate(json.loads(sent))
    assert b"Tamsin" not in sent
    other = ClientFactory(clinic=clinic)
    page = bring_in(as_clinician, other, sent)
    assert "4 items can be taken in" in page
    assert not hasattr(other, "draft")
    as_clinician.post(
        reverse("programmes:accept_file", args=[other.pk]), {"text": json.dumps(json.loads(sent))}
    )
    other.refresh_from_db()
    assert [each["task"] for each in other.draft.document["items"]] == [
        each["task"] for each in programme.document["items"]
    ]


def many(count):
    return simple_document(*[item("hum_hold", id=f"i{n}") for n in range(count)])


HOSTILE = {
    "no JSON": (b"{", "not valid JSON"),
    "not a number": (b'{"items": [], "dose": NaN}', "not valid JSON"),
    "very deep": (b"[" * 100_000, "not valid JSON"),
    "a list": ([], "not a programme"),
    "ten thousand items": (many(10_000), "A session can have at most"),
    "an unknown task": (simple_document({**item("scalp"), "task": "<img src=x>"}), "task “&lt;img"),
    "wrong units": (simple_document(item("straw_hold", params={"seconds": 8000})), "outside 1 to 45 s"),
    "a dose without days": ({**simple_document(), "dose": {**simple_document()["dose"], "weekdays": []}}, "Dose, Days of the week: at least 1 is needed."),
    "no such date": ({**simple_document(), "dose": {**simple_document()["dose"], "start": "soon"}}, "Dose, start: "),
    "an unknown field": ({**simple_document(), "script": "alert(1)"}, "script"),
}  # fmt: skip


@pytest.mark.django_db
@pytest.mark.parametrize("case", HOSTILE)
def test_an_invalid_file_is_reported_by_line_and_changes_nothing(as_clinician, person, case):
    data, says = HOSTILE[case]
    page = bring_in(as_clinician, person, data)
    assert says in page
    assert "<img src=x>" not in page
    assert not hasattr(person, "draft")


def test_the_valid_part_of_a_file_can_be_imported(as_clinician, person):
    document = simple_document(item("scalp"), {**item("water"), "task": "horoscope"})
    page = bring_in(as_clinician, person, document)
    assert "Item 2: task" in page
    assert "1 item can be taken in" in page
