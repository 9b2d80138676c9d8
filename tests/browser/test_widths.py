"""Every page of a clinician at every width: no page is wider than its window."""

import pytest

from tests.browser.conftest import sign_in
from tests.browser.test_screens import violations
from tests.sizes import every, short
from tests.web.test_access import ACCESS, address
from tests.web.test_every_text import full_record
from web.clients.actions import add_helper

__all__ = ["full_record"]

#: Phones, a tablet, two laptops and a desk; 640 and 320 are also 1280 at 200 % and 400 % zoom.
WIDTHS = (320, 390, 640, 768, 1024, 1280, 1920)
#: How far the page is wider than the window, and the widest element that no frame cuts off.
OVERFLOW = """() => {
  const page = document.documentElement;
  if (page.scrollWidth <= page.clientWidth) return null;
  const beyond = [...document.body.querySelectorAll("*")]
    .filter((each) => each.getBoundingClientRect().right > page.clientWidth + 1)
    .map((each) => `${each.tagName}.${each.className} ${each.textContent.trim().slice(0, 40)}`);
  return [page.scrollWidth - page.clientWidth, beyond.pop() ?? ""];
}"""


#: The pages of most days: in the short run they are checked on a phone in the dark.
MAIN = (
    "decisions:board",
    "results:client",
    "programmes:compose",
    "baseline:sheet",
    "clinic:people",
)
LARGE_TEXT = "document.documentElement.style.fontSize = '150%'"


def pages_of_clinicians():
    """Return the names of the pages, without those of two-step verification, which all lead to one form."""
    return [
        name for name, (method, _) in ACCESS.items()
        if method == "get" and not name.startswith("mfa_")
    ]  # fmt: skip


@pytest.fixture
def desk(page, site, person, clinician, full_record):
    add_helper(person, name="Ana", relation="daughter")
    sign_in(page.context, site, clinician)
    return page


def is_page(desk, url):
    response = desk.request.get(url)
    is_html = "text/html" in response.headers.get("content-type", "")
    return is_html and "</html>" in response.text()


def violations_of(desk, url, *, width, look):
    desk.set_viewport_size({"width": width, "height": 800})
    desk.emulate_media(color_scheme="dark" if look == "dark" else "light")
    desk.goto(url)
    if look == "large text":
        desk.evaluate(LARGE_TEXT)
    return violations(desk)


@pytest.mark.parametrize("name", short(MAIN, takes=every(2)))
def test_main_pages_are_accessible_on_a_phone_in_the_dark(desk, site, person, task, name):
    assert violations_of(desk, site + address(name, person, task), width=390, look="dark") == []


@pytest.mark.long
@pytest.mark.parametrize("look", ["light", "dark", "large text"])
@pytest.mark.parametrize("width", [320, 390, 768, 1024, 1280, 1920])
def test_every_page_is_accessible(desk, site, person, task, width, look):
    found = {}
    for name in pages_of_clinicians():
        url = site + address(name, person, task)
        if is_page(desk, url) and (wrong := violations_of(desk, url, width=width, look=look)):
            found[name] = wrong
    assert found == {}


@pytest.mark.parametrize("part", short(range(4), takes=every(4)))
def test_no_page_is_wider_than_its_window(desk, site, person, task, part):
    wide, shown = {}, 0
    for name in pages_of_clinicians()[part::4]:
        url = site + address(name, person, task)
        if not is_page(desk, url):
            continue
        desk.goto(url, wait_until="domcontentloaded")
        shown += 1
        for width in WIDTHS:
            desk.set_viewport_size({"width": width, "height": 800})
            if found := desk.evaluate(OVERFLOW):
                wide[name, width] = found
    assert shown > 8
    assert wide == {}
