"""Every page of a clinician at every width: no page is wider than its window."""

import pytest

from tests.browser.conftest import sign_in
from tests.web.test_access import ACCESS, address
from tests.web.test_every_text import lived
from web.clients.actions import add_helper

__all__ = ["lived"]

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


@pytest.mark.parametrize("part", range(2))
def test_no_page_is_wider_than_its_window(page, site, person, task, clinician, lived, part):
    add_helper(person, name="Ana", relation="daughter")
    sign_in(page.context, site, clinician)
    # Pages of two-step verification lead to one form until the password is confirmed.
    pages = [
        name for name, (method, _) in ACCESS.items()
        if method == "get" and not name.startswith("mfa_")
    ]  # fmt: skip
    wide, shown = {}, 0
    for name in pages[part::2]:
        page.set_viewport_size({"width": 1280, "height": 800})
        url = site + address(name, person, task)
        if "text/html" not in page.request.get(url).headers.get("content-type", ""):
            continue
        page.goto(url, wait_until="domcontentloaded")
        shown += 1
        for width in WIDTHS:
            page.set_viewport_size({"width": width, "height": 800})
            if found := page.evaluate(OVERFLOW):
                wide[name, width] = found
    assert shown > 20
    assert wide == {}
