"""Accessibility of every clinician screen."""

import pytest
from axe_playwright_python.sync_playwright import Axe

from tests.browser.conftest import sign_in
from tests.factories import trial


def violations(page):
    found = Axe().run(page).response["violations"]
    return [(each["id"], [node["html"][:90] for node in each["nodes"]]) for each in found]


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_the_client_screens_have_no_accessibility_violation(
    page, site, clinician, person, task, scheme
):
    page.emulate_media(color_scheme=scheme)
    trial(task)
    sign_in(page.context, site, clinician)
    for path in (
        "/clients/",
        f"/clients/{person.pk}/",
        f"/clients/{person.pk}/prescribe/",
        f"/clients/{person.pk}/practice-link/",
        f"/practice/logs/{person.pk}/",
        f"/practice/logs/{person.pk}/table/",
        "/no-such-page/",
    ):
        page.goto(f"{site}{path}")
        assert violations(page) == [], path
    page.context.clear_cookies()
    for path in ("/sign-in/", "/practice/code/", f"/practice/with/{person.practice_code}/"):
        page.goto(f"{site}{path}")
        assert violations(page) == [], path
