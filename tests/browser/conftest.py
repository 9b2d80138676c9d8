"""A real server, a real database, a real browser, and a line between them that can be cut."""

import asyncio
import os
import threading

import pytest
import uvicorn
from django.test import Client as DjangoBrowser

from web.config.asgi import application

# Playwright keeps an event loop in the test's thread, and Django would refuse the ORM beside it
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"

CHROMIUM = "/usr/bin/chromium"
#: A closed network: whatever the browser tries in the background only costs time.
QUIET = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {**browser_type_launch_args, "executable_path": CHROMIUM, "args": QUIET}


@pytest.fixture(scope="session")
def _server():
    """The ASGI application on a port of its own, in a thread of the tests' process."""
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
    assert started.wait(20)
    yield server.servers[0].sockets[0].getsockname()[1]
    server.should_exit = True
    thread.join(10)


@pytest.fixture
def site(_server, transactional_db):
    """Where the site is."""
    return f"http://127.0.0.1:{_server}"


class Line:
    """A TCP proxy in front of the server: `cut` breaks every connection, `down` keeps it broken."""

    def __init__(self, to_port):
        self.to_port = to_port
        self.is_down = False
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
        self.cut()
        self.loop.call_soon_threadsafe(self.loop.stop)


@pytest.fixture
def line(_server, transactional_db):
    """The same site behind a line that can be cut; `line.site` is where."""
    line = Line(_server)
    line.site = f"http://127.0.0.1:{line.port}"
    yield line
    line.close()


def sign_in(context, site, user):
    """Gives a browser context the session of a signed-in person."""
    browser = DjangoBrowser()
    browser.force_login(user, "django.contrib.auth.backends.ModelBackend")
    cookie = browser.cookies["sessionid"]
    context.add_cookies([{"name": "sessionid", "value": cookie.value, "url": site}])


@pytest.fixture
def practice(page, site, person, task):
    """The client's practice screen, open."""
    sign_in(page.context, site, person.account)
    page.goto(f"{site}/practice/")
    return page


def until_shown(page, seconds):
    """Waits until the practice screen's clock has come so far."""
    page.wait_for_function(
        "least => Number(document.querySelector('[data-seconds]').textContent) >= least",
        arg=seconds,
        timeout=20_000,
    )
