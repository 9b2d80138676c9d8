"""The screening: its questions, its consequences, and the letter."""

from datetime import timedelta
from io import BytesIO

import pytest
from django.urls import reverse
from django.utils import timezone

from reedcore.safety import ASKED, SCREENED, Caution, larynx_seen
from tests.factories import ClientFactory
from web.programmes.actions import NotCleared, publish_programme
from web.record.models import PrescribedTask
from web.screening.models import Screen


@pytest.fixture
def person(clinic):
    """A client without a screening."""
    return ClientFactory(clinic=clinic, name="Tamsin Orrell", complaint="", screened=False)


def answers(*yes):
    asked = [
        "complaint",
        *(f"flag_{f.value}" for f in SCREENED),
        *(f"caution_{c.value}" for c in ASKED),
    ]
    return {name: "yes" if name in yes else "no" for name in asked}


def ask(as_clinician, person, *yes, **more):
    return as_clinician.post(
        reverse("screening:screen", args=[person.pk]), {**answers(*yes), **more}, follow=True
    )


def page_of(as_clinician, name, person):
    return as_clinician.get(reverse(name, args=[person.pk])).content.decode()


def task():
    return PrescribedTask(sound="oh", note_midi=53, target_s=5.0, tries=3)


def test_a_clear_screen_blocks_nothing(as_clinician, person, clinician):
    page = ask(as_clinician, person).content.decode()
    assert "No red flags reported." in page
    assert publish_programme(person, by=clinician, task=task()).version == 1


def test_a_question_left_open_is_not_a_no(as_clinician, person):
    typed = answers("flag_neck_lump")
    del typed["flag_choking"]
    page = as_clinician.post(reverse("screening:screen", args=[person.pk]), typed).content.decode()
    assert page.count("Not answered yet.") == 1
    assert not Screen.objects.exists()


def test_a_red_flag_blocks_prescribing_until_a_reason_is_written(as_clinician, person, clinician):
    page = ask(as_clinician, person, "flag_neck_lump").content.decode()
    assert "A lump in the neck" in page
    with pytest.raises(NotCleared):
        publish_programme(person, by=clinician, task=task())
    good = {"sound": "oh", "note": "F3", "target_s": "15", "counts": "total", "tries": "5"}
    refused = as_clinician.post(reverse("programmes:prescribe", args=[person.pk]), good)
    assert refused.status_code == 409
    assert "A red flag is open" in refused.content.decode()
    assert 'value="15"' in refused.content.decode()
    url = reverse("screening:declare_safe", args=[person.pk])
    short = as_clinician.post(url, {"because": "ok"}).content.decode()
    assert "Enter a full sentence. The next reader of the record must be able to judge it." in short
    as_clinician.post(url, {"because": "A known cyst of the skin, seen by the surgeon in May."})
    assert (
        as_clinician.post(reverse("programmes:prescribe", args=[person.pk]), good).status_code
        == 302
    )
    assert "A known cyst of the skin" in page_of(as_clinician, "screening:screen", person)
    assert person.screens.get().safe_by == clinician


def test_an_emergency_names_the_clinics_number_and_comes_first(as_clinician, person):
    person.clinic.emergency_number = "999"
    person.clinic.save()
    page = ask(as_clinician, person, "flag_weight_loss", "flag_breathing").content.decode()
    assert "call 999 now" in page
    assert page.index("call 999 now") < page.index("Clarify before you prescribe any exercise.")


def test_a_new_screen_counts_and_the_old_one_stays(as_clinician, person, clinician):
    ask(as_clinician, person, "flag_hoarser")
    ask(as_clinician, person)
    assert person.screens.count() == 2
    assert publish_programme(person, by=clinician, task=task())


def test_cautions_go_on_the_record_and_say_what_they_mean(as_clinician, person):
    page = ask(as_clinician, person, "caution_pressure", "caution_latex").content.decode()
    person.refresh_from_db()
    assert person.cautions == ["latex", "pressure"]
    assert "breath holds, emptying the lungs" in page
    again = (
        page_of(as_clinician, "screening:screen", person)
        + as_clinician.get(
            reverse("screening:screen", args=[person.pk]) + "?again=1"
        ).content.decode()
    )
    assert (
        again.count("checked") == 3
    )  # With no complaint, the answer on record is the starting value.


def test_a_permission_is_stored_with_its_author_or_not_at_all(as_clinician, person):
    said_so = {"who_pressure": "Dr. Wen", "on_pressure": "2026-10-01"}
    page = ask(as_clinician, person, "caution_pressure", **said_so).content.decode()
    assert "Enter who, when and what, or leave all three empty." in page
    assert 'value="Dr. Wen"' in page  # The typed text is kept.
    assert not Screen.objects.exists()
    late = {**said_so, "what_pressure": "short holds", "on_pressure": "2199-01-01"}
    assert (
        "This date is in the future."
        in ask(as_clinician, person, "caution_pressure", **late).content.decode()
    )
    said_so["what_pressure"] = "short <b>holds</b>"
    page = ask(as_clinician, person, "caution_pressure", **said_so).content.decode()
    assert "Allowed by Dr. Wen on 2026-10-01: short &lt;b&gt;holds&lt;/b&gt;" in page
    person.refresh_from_db()
    assert person.said_so == {Caution.PRESSURE}
    ask(as_clinician, person, **said_so)  # The caution itself is removed.
    person.refresh_from_db()
    assert person.said_so == set()


def test_whether_the_larynx_was_seen_is_asked(as_clinician, person):
    ask(as_clinician, person, "complaint", examined_on="2026-10-01")
    person.refresh_from_db()
    assert (person.complaint, str(person.examined_on)) == ("yes", "2026-10-01")
    assert larynx_seen(person.safety_case())


def test_an_unexamined_change_of_voice_blocks_by_the_clinics_own_limit(
    as_clinician, person, clinician
):
    person.voice_changed_on = timezone.localdate() - timedelta(days=20)
    person.save()
    ask(as_clinician, person)
    assert "Prescribing is blocked." not in page_of(as_clinician, "record:summary", person)
    person.clinic.unexamined_limit_days = 14
    person.clinic.save()
    assert "longer than the clinic’s limit" in page_of(as_clinician, "record:summary", person)
    with pytest.raises(NotCleared):
        publish_programme(person, by=clinician, task=task())


def test_the_letter_is_filled_from_the_record_and_is_one_page(as_clinician, person):
    pdf = pytest.importorskip("pypdf")
    person.voice_demands = "Forty announcements a shift."
    person.laryngeal_finding = "Not seen & not <b>known</b>."
    person.save()
    ask(as_clinician, person, "flag_ear_pain", note="left side")
    sent = as_clinician.post(
        reverse("screening:refer", args=[person.pk]), {"to": "Dr. Wen"}, follow=True
    )
    page = sent.content.decode()
    for words in (
        "To Dr. Wen",
        "one-sided ear pain",
        "left side",
        "Forty announcements",
        "not &lt;b&gt;known",
    ):
        assert words in page
    response = as_clinician.get(reverse("notes:letter_pdf", args=[person.pk]))
    assert response["Content-Type"] == "application/pdf"
    read = pdf.PdfReader(BytesIO(response.content))
    assert len(read.pages) == 1
    text = read.pages[0].extract_text()
    assert "one-sided ear pain" in text
    assert "Tamsin Orrell" in text
    assert read.trailer["/Root"]["/MarkInfo"]["/Marked"]


def test_a_referred_flag_stays_open(as_clinician, person, clinician):
    ask(as_clinician, person, "flag_ear_pain")
    as_clinician.post(reverse("screening:refer", args=[person.pk]), {"to": "Dr. Wen"})
    with pytest.raises(NotCleared):
        publish_programme(person, by=clinician, task=task())
