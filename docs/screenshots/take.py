"""Takes a picture of each main view, from the demo data as of today: the board goes by the day."""

import os
import re
import subprocess
import sys
import time
import urllib.request
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from urllib.parse import urlsplit, urlunsplit

import environ
import psycopg
from playwright.sync_api import sync_playwright

HERE = Path(__file__).parent
ROOT = HERE.parents[1]
DAY = f"{datetime.now(UTC):%Y-%m-%d}"
PORT = 8097
SITE = f"http://127.0.0.1:{PORT}"
SCRATCH = "still_reed_shots"
CHROMIUM = "/usr/bin/chromium-headless-shell"
QUIET = ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking",
         "--disable-component-update", "--disable-sync"]  # fmt: skip
WIDE, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}


def wait_until_ready(page):
    """Wait until the screen accepts answers."""
    page.wait_for_selector("body[data-settled]", state="attached")


@contextmanager
def scratch_database():
    """Create a scratch database and return its address."""
    environ.Env.read_env(ROOT / ".local" / "database.env")
    parts = urlsplit(os.environ["DATABASE_URL"])
    admin = urlunsplit(parts._replace(scheme="postgresql", path="/postgres"))
    with psycopg.connect(admin, autocommit=True) as connection:
        connection.execute(f"drop database if exists {SCRATCH} with (force)")
        connection.execute(f"create database {SCRATCH}")
        try:
            yield urlunsplit(parts._replace(path=f"/{SCRATCH}"))
        finally:
            connection.execute(f"drop database {SCRATCH} with (force)")


@contextmanager
def served(database_url):
    """Serve the demo from that database."""
    settings = {"DATABASE_URL": database_url, "DJANGO_SETTINGS_MODULE": "web.config.settings.demo"}
    environment = {**os.environ, **settings}

    def manage(*words):
        subprocess.run([sys.executable, "manage.py", *words], env=environment, check=True, cwd=ROOT)  # noqa: S603

    manage("migrate", "--verbosity", "0")
    manage("load_demo", "--today", DAY)
    serve = [sys.executable, "-m", "uvicorn", "web.config.asgi:application", "--port", str(PORT),
             "--log-level", "error", "--lifespan", "off"]  # fmt: skip
    server = subprocess.Popen(serve, env=environment, cwd=ROOT)  # noqa: S603
    try:
        for _ in range(100):
            try:
                urllib.request.urlopen(SITE)
                break
            except OSError:
                time.sleep(0.2)
        yield
    finally:
        server.terminate()
        server.wait()


def open_client(page, name):
    """Open a client's results from the list, and wait for the last script."""
    page.goto(f"{SITE}/clients/")
    page.click(f"text={name}")
    page.wait_for_url(re.compile(r"/clients/\d+/$"))


def review_views(page, shot):
    """Take the pages of a client's results."""
    page.keyboard.press("c")
    page.wait_for_selector("[data-compared]")
    shot("compare")
    open_client(page, "Tamsin Orrell")
    page.keyboard.press("f")
    page.wait_for_selector(".voice-range-profile")
    shot("voice-range-profile")
    open_client(page, "Wenna Astley")
    page.keyboard.press("n")
    page.wait_for_selector("text=Notes and reports")
    page.keyboard.press("1")
    page.wait_for_selector("#part-said")
    shot("note")


def _hand_over(page):
    page.keyboard.press("h")
    page.locator("[data-confirm]").get_by_role("button", name="Prescribe").click()
    page.wait_for_selector("text=Handout, PDF")


def clinician_views(browser):
    page = browser.new_context(viewport=WIDE).new_page()

    def shot(name, *, whole=False):
        page.screenshot(path=HERE / f"{name}.png", full_page=whole)

    page.goto(SITE)
    page.fill("#id_username", "imre")
    page.fill("#id_password", "quiet-water-reed")
    page.keyboard.press("Enter")
    page.wait_for_selector("[data-line]")
    shot("board", whole=True)
    page.goto(f"{SITE}/clients/")
    shot("clients")
    open_client(page, "Wenna Astley")
    shot("client", whole=True)
    review_views(page, shot)
    open_client(page, "Tamsin Orrell")
    for key, name, there in (
        ("e", "record", "dl.facts"),
        ("t", "targets", "[data-target]"),
    ):
        page.keyboard.press(key)
        page.wait_for_selector(there)
        shot(name)
    page.click("text=baseline of")
    page.wait_for_selector("[data-step]")
    page.click('[data-go="vowel"]')
    page.wait_for_selector('[data-step="vowel"]')
    shot("baseline")
    open_client(page, "Fenn Abara")
    page.keyboard.press("s")
    page.wait_for_selector("[data-here]")
    for key in "nnny":
        page.keyboard.press(key)
    shot("screen")
    open_client(page, "Tamsin Orrell")
    page.keyboard.press("p")
    page.wait_for_selector("[data-item]")
    for _ in range(3):
        page.keyboard.press("ArrowDown")
    shot("composer")
    open_client(page, "Ilse Marrack")
    page.keyboard.press("p")
    page.wait_for_selector("[data-palette]", state="attached")
    page.keyboard.press("1")
    page.wait_for_selector("th:has-text('Power')")
    _hand_over(page)
    shot("handover")
    page.click("text=Print handout")
    page.wait_for_selector(".handout")
    shot("handout")
    page.click("text=Calculators")
    page.wait_for_selector("[data-tool]")
    page.select_option("#client", label="Tamsin Orrell")
    page.click("text=Show range")
    page.wait_for_selector(".inside")
    shot("calculators")


def to_straw(page):
    """Answer the questions and skip tasks up to the straw on its note."""
    page.evaluate("localStorage.setItem('still-reed:source', 'simulated')")
    page.reload()
    page.wait_for_selector("[data-screen=today], [data-screen=open_elsewhere]")
    wait_until_ready(page)
    # Wait until the previous picture is gone.
    if page.locator("[data-screen=open_elsewhere]").count():
        page.keyboard.press("1")
        page.wait_for_selector("[data-screen=today]")
        wait_until_ready(page)
    yield "today"
    wait_until_ready(page)
    page.keyboard.press("1")
    for screen in ("before", "safety"):
        page.wait_for_selector(f"[data-screen={screen}]")
        wait_until_ready(page)
        page.keyboard.press("Space")
    while True:
        page.wait_for_selector("[data-screen=task], [data-screen=reference]", timeout=60_000)
        if page.locator("[data-screen=reference]").count():
            wait_until_ready(page)
            page.keyboard.press("Space")
            page.wait_for_selector("[data-screen=task]", timeout=60_000)
        if "Straw" in page.inner_text("h1"):
            break
        wait_until_ready(page)
        page.keyboard.press("k")
        page.wait_for_selector("[data-screen=skip]")
        wait_until_ready(page)
        page.keyboard.press("3")
        page.wait_for_selector("[data-screen=skip]", state="detached")
    yield "task"


def sounding(page):
    """Wait for the middle of a hold."""
    page.wait_for_function(
        "() => Number(document.querySelector('[data-seconds]')?.textContent) > 4.5", timeout=60_000
    )


def client_views(browser):
    context = browser.new_context(viewport=WIDE)
    page = context.new_page()
    page.goto(f"{SITE}/practice/with/reed-f3aa/")
    page.fill("#id_pin", "246810")
    page.keyboard.press("Enter")
    page.wait_for_selector("[data-ready]", state="attached")
    for name in to_straw(page):
        if name == "today":
            page.screenshot(path=HERE / "practice-today.png")
    wait_until_ready(page)
    page.keyboard.press("Space")
    for _ in range(2):
        page.wait_for_selector("[data-result]", timeout=60_000)
        wait_until_ready(page)
        page.keyboard.press("Space")
        page.wait_for_selector("[data-result]", state="detached")
    sounding(page)
    page.screenshot(path=HERE / "practice-sounding.png")
    page.wait_for_selector("[data-result]", timeout=60_000)
    page.screenshot(path=HERE / "practice-result.png")
    wait_until_ready(page)
    page.keyboard.press("s")
    page.wait_for_selector("[data-screen=stop]")
    wait_until_ready(page)
    page.screenshot(path=HERE / "practice-stop.png")
    phone = browser.new_context(viewport=PHONE, storage_state=context.storage_state()).new_page()
    phone.goto(f"{SITE}/practice/")
    for _ in to_straw(phone):
        pass
    wait_until_ready(phone)
    phone.keyboard.press("Space")
    sounding(phone)
    phone.screenshot(path=HERE / "practice-phone.png")
    phone.goto(f"{SITE}/practice/my-practice/")
    phone.screenshot(path=HERE / "my-practice.png")


def main():
    with scratch_database() as url, served(url), sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=QUIET)
        clinician_views(browser)
        client_views(browser)
        browser.close()


if __name__ == "__main__":
    main()
