"""A client's session is open in one place: another tab or device says where, and can take it
over."""

from django.utils import timezone
from playwright.sync_api import expect

from tests.browser.conftest import at, open_player, to_first_task, until
from tests.web.signing_in import signed_in
from web.record.models import Session


def in_a_session(page, site, person):
    open_player(page, site, person.account)
    to_first_task(page)
    assert until(lambda: Session.objects.filter(claimed_at__isnull=False).exists(), 60)


def test_a_second_tab_says_where_the_session_is_and_takes_it_over(page, site, person, short_one):
    in_a_session(page, site, person)
    second = page.context.new_page()
    second.goto(f"{site}/practice/")
    at(second, "open_elsewhere")
    expect(
        second.get_by_text("It is open in another tab or window on this device.")
    ).to_be_visible()
    second.keyboard.press("1")
    at(second, "resume")
    second.keyboard.press("1")
    at(second, "task")
    at(page, "elsewhere")
    expect(page.get_by_text("Everything you did here is saved.")).to_be_visible()
    # And back again.
    page.keyboard.press("Space")
    at(page, "open_elsewhere")
    page.keyboard.press("1")
    at(page, "resume")
    page.keyboard.press("1")
    at(second, "elsewhere")
    assert Session.objects.count() == 1


def test_a_second_device_says_so_and_the_first_learns_it_from_the_clinic(
    page, site, person, short_one, browser
):
    in_a_session(page, site, person)
    other = browser.new_context(locale="en-GB").new_page()
    open_player(other, site, person.account)
    at(other, "open_elsewhere")
    expect(other.get_by_text("It was opened on another device at")).to_be_visible()
    other.keyboard.press("1")
    to_first_task(other)
    assert until(lambda: Session.objects.count() == 2, 60)
    assert until(lambda: Session.objects.filter(claimed_at__isnull=True).count() == 0, 60)
    # The first page's next request is answered with it.
    page.keyboard.press("k")
    at(page, "skip")
    page.keyboard.press("1")
    at(page, "elsewhere")
    other.context.close()


def test_an_ended_session_is_open_nowhere(page, site, person, short_one):
    Session.objects.create(
        key="5f0c0f53-7c54-4ab2-a6d0-b4c3f3a2f001", client=person, programme=short_one,
        sort="full", day="usual", begun_at=timezone.now(), claimed_at=timezone.now(),
        ended_at=timezone.now(), end_received_at=timezone.now(),
    )  # fmt: skip
    plan = signed_in(person.account).get("/practice/").context["plan"]
    assert plan["open_session"] is None
    open_player(page, site, person.account)
    at(page, "today")
