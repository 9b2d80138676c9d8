"""A real server, a real database, a real browser, and a connection that can be cut."""

import asyncio
import filecmp
import os
import subprocess
import threading
import time
from importlib import import_module
from pathlib import Path

import pytest
import uvicorn
from django.test import Client as DjangoBrowser
from django.utils import timezone
from playwright.sync_api import TimeoutError as Late
from playwright.sync_api import expect

from tests.documents import empty_document
from tests.factories import item, publish_anyway
from tests.rehearsing import until
from web.config.asgi import application, making_ready
from web.record.models import Trial

ROOT = Path(__file__).resolve().parents[2]

# Playwright runs an event loop in the test's thread, and Django would refuse ORM calls there.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"

#: Milliseconds to wait on a busy machine; an element that is already there costs nothing.
PATIENCE = int(os.environ.get("PATIENCE_MS", "60000"))
expect.set_options(timeout=PATIENCE)
CHROMIUM = "/usr/bin/chromium-headless-shell"
#: The full browser with windows, menus and permissions uses a third more processor time.
WHOLE_CHROMIUM = "/usr/bin/chromium"
#: On a closed network, the browser's background requests only cost time.
QUIET = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


@pytest.fixture(scope="session", autouse=True)
def _bundles_are_of_these_scripts(tmp_path_factory):
    """Fail if the bundles were not made from the current modules."""
    made, sent = tmp_path_factory.mktemp("bundles"), ROOT / "web/ui/static/ui/bundled"
    subprocess.run([ROOT / "bin/bundles", made], check=True)
    files = [str(each.relative_to(sent)) for each in sent.rglob("*") if each.is_file()]
    _, stale, missing = filecmp.cmpfiles(made / "bundled", sent, files, shallow=False)
    assert not stale + missing, "the scripts were changed: run make assets"


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {**browser_type_launch_args, "executable_path": CHROMIUM, "args": QUIET}


@pytest.fixture(scope="session")
def _server():
    """The ASGI application on its own port, in a thread of the test process."""
    # Or the first test is charged with what all of them use.
    making_ready.join()
    import_module("scipy.signal")  # Of the simulated voice.
    config = uvicorn.Config(
        application, host="127.0.0.1", port=0, log_level="error", lifespan="off"
    )
    server = uvicorn.Server(config)
    started = threading.Event()
    startup = server.startup

    async def startup_and_tell(*args, **kwargs):
        await startup(*args, **kwargs)
        started.set()

    server.startup = startup_and_tell
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    assert started.wait(60)
    server.port = server.servers[0].sockets[0].getsockname()[1]
    yield server
    server.should_exit = True
    thread.join(10)


def leave(browser, server):
    """Close every page and let the server finish, because deleting rows during a write
    deadlocks."""
    for context in browser.contexts:
        for page in context.pages:
            page.close()
    for _ in range(4500):
        if not server.server_state.tasks:
            return
        threading.Event().wait(0.02)
    raise AssertionError("the server is still at work")


@pytest.fixture
def site(_server, transactional_db, browser):
    """The address of the site."""
    yield f"http://127.0.0.1:{_server.port}"
    leave(browser, _server)


class Line:
    """A TCP proxy in front of the server: `cut` breaks every connection, `down` keeps them broken,
    and while `frozen` all stay open and transfer nothing."""

    def __init__(self, to_port):
        self.to_port = to_port
        self.is_down = self.frozen = False
        self.pipes = set()
        self.loop = asyncio.new_event_loop()
        started = threading.Event()
        threading.Thread(target=self._run, args=[started], daemon=True).start()
        assert started.wait(10)

    def _run(self, started):
        asyncio.set_event_loop(self.loop)
        serving = asyncio.start_server(self._connected, "127.0.0.1", 0)
        self.port = self.loop.run_until_complete(serving).sockets[0].getsockname()[1]
        started.set()
        self.loop.run_forever()

    async def _connected(self, reader, writer):
        if self.is_down:
            writer.transport.abort()
            return
        to_reader, to_writer = await asyncio.open_connection("127.0.0.1", self.to_port)
        self.pipes |= {writer, to_writer}
        await asyncio.gather(self._pipe(reader, to_writer), self._pipe(to_reader, writer))

    async def _pipe(self, reader, writer):
        try:
            while data := await reader.read(65536):
                while self.frozen:
                    await asyncio.sleep(0.05)
                writer.write(data)
                await writer.drain()
        except OSError:
            pass
        finally:
            self.pipes.discard(writer)
            writer.close()

    def cut(self):
        def abort_all():
            for writer in list(self.pipes):
                writer.transport.abort()

        self.loop.call_soon_threadsafe(abort_all)

    def down(self):
        self.is_down = True
        self.cut()

    def up(self):
        self.is_down = False

    def close(self):
        def end():
            for task in asyncio.all_tasks(self.loop):
                task.cancel()
            self.loop.call_later(0.2, self.loop.stop)

        self.loop.call_soon_threadsafe(end)


@pytest.fixture
def line(_server, transactional_db, browser):
    """The same site behind a connection that can be cut; `line.site` is its address."""
    line = Line(_server.port)
    line.site = f"http://127.0.0.1:{line.port}"
    yield line
    line.up()
    line.frozen = False
    leave(browser, _server)
    line.close()


class Server:
    """A separate server that can be killed and restarted behind a proxy."""

    def __init__(self):
        self.start()
        self.line = Line(self.port)
        self.line.site = f"http://127.0.0.1:{self.line.port}"

    def start(self):
        config = uvicorn.Config(
            application, host="127.0.0.1", port=0, log_level="error", lifespan="off"
        )
        self.server = uvicorn.Server(config)
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()
        while not self.server.started:
            assert self.thread.is_alive()
            threading.Event().wait(0.02)
        self.port = self.server.servers[0].sockets[0].getsockname()[1]

    def kill(self):
        self.server.force_exit = self.server.should_exit = True
        self.line.down()
        self.thread.join(15)
        assert not self.thread.is_alive()

    def restart(self):
        self.start()
        self.line.to_port = self.port
        self.line.up()


@pytest.fixture
def server(transactional_db, browser):
    own = Server()
    yield own
    leave(browser, own.server)
    own.line.close()
    own.server.force_exit = own.server.should_exit = True
    own.thread.join(15)


def sign_in(context, site, user):
    """Sign a user in to a browser context."""
    browser = DjangoBrowser()
    browser.force_login(user, "django.contrib.auth.backends.ModelBackend")
    cookie = browser.cookies["sessionid"]
    context.add_cookies([{"name": "sessionid", "value": cookie.value, "url": site}])


#: The browser's name for its simulated microphone.
DEVICE = "Fake Default Audio Input"
SOURCE = "localStorage.setItem('still-reed:source', '{}')"


def open_player(page, site, user, *, source="simulated", checked=True):
    """Open the player of a signed-in client, ready for the first press; ``checked`` skips the
    microphone check, as on a device used before."""
    page.add_init_script(SOURCE.format(source))
    if checked:
        page.add_init_script(f"localStorage.setItem('still-reed:microphone', '{DEVICE}')")
    sign_in(page.context, site, user)
    page.goto(f"{site}/practice/")
    page.locator("[data-ready]").wait_for(state="attached")
    return page


def at(page, screen, **more):
    """Wait until the player shows a screen."""
    page.locator(f"[data-screen={screen}]").wait_for(timeout=PATIENCE, **more)
    settled(page)


def settled(page):
    """Wait until the screen accepts answers, because a new one ignores double presses."""
    page.locator("body[data-settled]").wait_for(state="attached", timeout=PATIENCE)


def report_problem(page, name):
    """Report a problem and confirm it; return once the advice is shown."""
    page.get_by_role("button", name=name).click()
    at(page, "confirm")
    page.keyboard.press("y")
    at(page, "advice")


def open_more(page):
    page.get_by_role("button", name="More").click()


def to_first_task(page, voice="1"):
    """Answer the questions up to the first task."""
    at(page, "today")
    page.keyboard.press(voice)
    at(page, "safety")
    page.keyboard.press("Space")
    at(page, "task")


def to_first_try(page):
    """Go to the first try."""
    to_first_task(page)
    page.keyboard.press("Space")
    at(page, "try")


def result(page):
    """Return the sentence of the last try."""
    sentence = page.locator("[data-sentence]").last
    sentence.wait_for(timeout=PATIENCE)
    settled(page)
    return sentence.inner_text()


def the_trial():
    """Return the one stored trial; a busy machine stores it after the page has shown it."""
    assert until(lambda: Trial.objects.count() == 1, 60), list(Trial.objects.values())
    return Trial.objects.get()


@pytest.fixture
def practice(page, site, person, task):
    """The client's player, open."""
    return open_player(page, site, person.account)


def until_shown(page, seconds):
    """Wait until the clock of the try has reached this time."""
    page.wait_for_function(
        "least => Number(document.querySelector('[data-seconds]')?.textContent) >= least",
        arg=seconds,
        timeout=PATIENCE,
    )


def programme(person, clinician, *items, **more):
    document = {**empty_document(timezone.localdate()), "items": list(items), **more}
    return publish_anyway(person, document, by=clinician)


@pytest.fixture
def short_one(person, clinician):
    return programme(
        person, clinician,
        item("straw_hold", notes=[53], params={"seconds": 1.5, "reps": 1}),
        item("strong_ah", params={"seconds": 2, "reps": 1}, sip=True),
        item("descending_hum", params={"seconds": 2, "reps": 1}),
    )  # fmt: skip


#: The answer for each screen: a key, or a function of the page.
KEYS = {
    "task": "Space", "reps": "Space", "timed": "Space", "checklist": "Space", "sip": "Space",
    "rest": "Space", "after": "Space", "try_next": "Space", "air": "1", "felt": "y",
    "effort": "4", "strain": "n", "bother": "3", "reference": "Space",
}  # fmt: skip


#: The screen, its task, and whether a try has just been made.
STATE = """() => [
    document.querySelector('[data-screen]')?.dataset.screen,
    document.querySelector('h1').textContent,
    document.querySelector('[data-progress], .where')?.textContent,
    Boolean(document.querySelector('[data-result]')),
].join('|')"""


def through(page, press, *, until="done", seconds=300):
    """Go through the session, answering each screen once; return the results of the tries."""
    said, seen = [], ""
    ends = time.monotonic() + seconds
    while time.monotonic() < ends:
        try:
            page.wait_for_function(f"seen => ({STATE})() !== seen", arg=seen, timeout=PATIENCE)
        except Late as late:
            raise AssertionError(f"still at {seen}, after {said}") from late
        seen = page.evaluate(STATE)
        screen = seen.split("|")[0]
        if screen == until:
            return said
        settled(page)
        if screen == "try" and seen.endswith("true"):
            said.append(page.locator("[data-sentence]").last.inner_text())
            press("Space")
        elif screen == "count":
            page.locator("#count").fill("4")
            press("Space")
        elif screen in KEYS:
            press(KEYS[screen])
    raise AssertionError(f"still at {seen}")


#: Load the simulated microphone before going offline; a real one needs no download.
FETCH_VOICES = """async ([tasks]) => {
    const voices = new Map();
    const usual = window.fetch;
    for (const pk of tasks) {
        const path = `/practice/tasks/${pk}/simulated-voice.wav`;
        voices.set(path, await (await usual(`${path}?manner=even&seed=1`)).arrayBuffer());
    }
    window.fetch = (url, ...more) => {
        const kept = voices.get(String(url).split("?")[0]);
        return kept ? Promise.resolve(new Response(kept.slice(0))) : usual(url, ...more);
    };
}"""
