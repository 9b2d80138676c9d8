"""A clinic's library: programmes, lines, pictures, and its own tasks."""

from io import BytesIO

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client as Browser
from django.urls import reverse
from PIL import Image

from tests.factories import ClientFactory, ClinicianFactory, item, publish_anyway, simple_document
from tests.web.conftest import plan_shown
from tests.web.test_composer import send, type_edit
from web.catalogue.models import LibraryEntry, OwnTask, Picture
from web.programmes.drafting import save_draft
from web.programmes.queries import draft_document


def signed_in(user):
    browser = Browser()
    browser.force_login(user, "django.contrib.auth.backends.ModelBackend")
    return browser


def kept(as_clinician, person, name="Mixed", **more):
    url = reverse("programmes:keep_in_library", args=[person.pk])
    return as_clinician.post(url, {"name": name, "shared": "on", **more}, follow=True)


def use_entry(browser, person, code):
    return send(browser, person, {"do": "use", "code": code}).json()["not_made"]


def test_a_programme_is_kept_without_whose_it_was_and_refitted_to_whom_it_is_used_for(
    as_clinician, person, measured, clinician, clinic
):
    other = ClientFactory(clinic=clinic, voice="treble")
    document = simple_document(
        item(
            "straw_hold",
            notes=[40],
            meant="for Mrs Penrose",
            words=["As Mrs Penrose does."],
            lines=["Mrs Penrose?"],
            reason="Mrs Penrose tires",
        ),
        overrules={"x": "y"},
    )
    save_draft(other, document, by=clinician)
    assert "version 1" in kept(as_clinician, other).content.decode()
    # The same one is not the next one.
    assert "version 1" in kept(as_clinician, other).content.decode()
    document["items"][0]["notes"] = [41]
    save_draft(other, document, by=clinician)
    assert "version 2" in kept(as_clinician, other).content.decode()
    entry = LibraryEntry.objects.get(version=2)
    assert entry.data["overrules"] == {}
    (item_kept,) = entry.data["items"]
    # An item written for one client is in no library.
    assert [item_kept[name] for name in ("meant", "reason", "say_before")] == ["", "", ""]
    assert (item_kept["words"], item_kept["lines"]) == ([], [])
    assert "Mrs Penrose" not in str(entry.data)
    assert use_entry(as_clinician, measured, f"library:{entry.pk}") == []
    (made,) = draft_document(measured)["items"]
    assert (made["task"], made["notes"]) == ("straw_hold", [53])  # A bass: F3.
    assert made["reason"] == "Easy voice against a little back pressure."


def test_the_programme_of_another_client_is_copied_in_one_step(
    as_clinician, person, measured, clinician, clinic
):
    other = ClientFactory(clinic=clinic)
    publish_anyway(other, simple_document(item("hum_hold"), item("scalp")), by=clinician)
    assert use_entry(as_clinician, measured, f"client:{other.pk}") == []
    assert [each["task"] for each in draft_document(measured)["items"]] == ["hum_hold", "scalp"]


def test_a_private_entry_is_not_offered_to_others(as_clinician, measured, clinician, clinic):
    save_draft(measured, simple_document(), by=clinician)
    kept(as_clinician, measured, shared="")
    entry = LibraryEntry.objects.get()
    colleague = signed_in(ClinicianFactory(clinic=clinic))
    assert "Mixed" not in colleague.get(reverse("catalogue:library")).content.decode()
    assert (
        "This programme no longer exists"
        in use_entry(colleague, measured, f"library:{entry.pk}")[0]["sentence"]
    )
    answer = colleague.post(reverse("catalogue:put_away", args=[entry.pk]), follow=True)
    assert answer.status_code == 404
    assert "Mixed" not in answer.content.decode()
    as_clinician.post(reverse("catalogue:put_away", args=[entry.pk]))
    assert (
        "This programme no longer exists"
        in use_entry(as_clinician, measured, f"library:{entry.pk}")[0]["sentence"]
    )


def test_lines_of_ones_own_are_put_into_a_task(as_clinician, measured, clinician):
    lines = "Two, please.\n\nThe large one.\n"
    as_clinician.post(
        reverse("catalogue:add_lines"), {"name": "Market", "lines": lines, "shared": "on"}
    )
    entry = LibraryEntry.objects.get()
    save_draft(measured, simple_document(item("functional_phrases")), by=clinician)
    answer = send(
        as_clinician, measured, type_edit("functional-phrases", "fill", f"own:{entry.pk}")
    )
    assert answer.json()["not_made"] == []
    assert draft_document(measured)["items"][0]["lines"] == ["Two, please.", "The large one."]


def upload(as_clinician, data, name="Map", alt="The way from the station"):
    file = SimpleUploadedFile("map.png", data)
    return as_clinician.post(
        reverse("catalogue:upload_picture"), {"name": name, "alt": alt, "file": file}
    )


def drawn(size=(2400, 1200), kind="PNG"):
    written = BytesIO()
    Image.new("RGB", size, "navy").save(written, kind)
    return written.getvalue()


def test_a_picture_is_made_small_and_shown_to_its_clinicians(
    as_clinician, as_client, person, clinician
):
    assert upload(as_clinician, drawn()).status_code == 302
    picture = Picture.objects.defer("image").get()
    assert (picture.width, picture.height) == (1400, 700)
    url = reverse("record:picture", args=[picture.pk])
    assert as_client.get(url).status_code == 404
    document = simple_document(item("describe_map", picture=picture.pk))
    publish_anyway(person, document, by=clinician)
    (block,) = plan_shown(as_client)["blocks"]
    assert block["picture"] == {"url": url, "alt": "The way from the station"}
    shown = as_client.get(url)
    assert Image.open(BytesIO(shown.content)).format == "JPEG"
    stranger = signed_in(ClinicianFactory())
    assert stranger.get(url).status_code == 404


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (
            b"<svg onload=alert(1)>",
            "This file is not a picture. Use a PNG, JPEG, WebP or GIF file.",
        ),
        (
            drawn(kind="JPEG")[:2000],
            "This file is not a picture. Use a PNG, JPEG, WebP or GIF file.",
        ),
        (b"", "empty"),
        (drawn()[:200], "This file is not a picture. Use a PNG, JPEG, WebP or GIF file."),
    ],
    ids=["markup", "half a photograph", "nothing", "half of one"],
)
def test_an_invalid_picture_is_refused_beside_its_field(as_clinician, data, says, monkeypatch):
    # The state that the PDF library leaves once it was loaded.
    monkeypatch.setattr("PIL.ImageFile.LOAD_TRUNCATED_IMAGES", True)
    response = upload(as_clinician, data)
    assert response.status_code == 422
    assert says in response.content.decode()
    assert not Picture.objects.exists()


def test_a_clinic_has_room_for_so_many_pictures(as_clinician, monkeypatch):
    monkeypatch.setattr("web.catalogue.actions.MOST_PICTURES", 1)
    assert upload(as_clinician, drawn()).status_code == 302
    response = upload(as_clinician, drawn())
    assert "The picture limit is reached. Remove some pictures first." in response.content.decode()
    assert Picture.objects.count() == 1


ANSWERS = {
    "name": "Call to the lamp", "family": "onset", "purpose": "A strong, easy call.",
    "told": "Call “hoy”.\nTwo notes.", "way": "hold", "amount": "4", "tries": "3", "sound": "hoy",
    "voiced": "on", "hazards": ["loud"], "felt": "Was it easy?", "if_not": "Softer.",
}  # fmt: skip


def test_a_task_from_plain_answers_is_a_task_like_any_other(as_clinician, measured):
    assert as_clinician.post(reverse("catalogue:add_plain"), ANSWERS).status_code == 302
    own = OwnTask.objects.get()
    assert own.code == "own_call_to_the_lamp"
    sent = {"do": "add_item", "id": "a", "task": own.code, "after": None}
    assert (
        send(as_clinician, measured, sent, {"do": "climb_rung", "item": "a", "by": 1}).json()[
            "not_made"
        ]
        == []
    )
    (made,) = draft_document(measured)["items"]
    assert (made["params"]["seconds"], made["notes"]) == (4.5, [53])


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"told": ""}, "This field is required"),
        ({"told": "1\n2\n3\n4"}, "Enter 1 to 3 lines."),
        ({"amount": "500"}, "Enter 0.5 to 120 s"),
        ({"way": "ticks", "items": ""}, "Enter checklist items, one per line."),
        ({"if_not": ""}, "Enter both the felt check question and the advice."),
        ({"hazards": ["dragons"]}, "dragons"),
    ],
)
def test_an_invalid_answer_is_reported_beside_it(as_clinician, change, says):
    response = as_clinician.post(reverse("catalogue:add_plain"), {**ANSWERS, **change})
    assert says in response.content.decode()
    assert not OwnTask.objects.exists()


@pytest.mark.parametrize(
    "way", ["hiss", "glide_up", "glide_both", "lines", "minutes", "times", "count", "ticks"]
)
def test_every_way_makes_a_task(as_clinician, way):
    answers = {**ANSWERS, "way": way, "items": "Rested\nDrank"}
    assert as_clinician.post(reverse("catalogue:add_plain"), answers).status_code == 302
    assert OwnTask.objects.count() == 1


@pytest.mark.parametrize("amount", ["nan", "inf", "ten", ""])
def test_an_amount_is_a_number_with_an_accessible_name(as_clinician, amount):
    page = as_clinician.post(reverse("catalogue:add_plain"), {**ANSWERS, "amount": amount})
    shown = page.content.decode()
    assert 'aria-describedby="id_amount_error"' in shown
    assert not OwnTask.objects.exists()


def test_half_a_second_is_typed_with_a_comma_too(as_clinician):
    as_clinician.post(reverse("catalogue:add_plain"), {**ANSWERS, "amount": "4,5"})
    assert OwnTask.objects.get().data["parameters"]["seconds"]["default"] == 4.5
