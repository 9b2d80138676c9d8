"""The live connection, message by message, with the real consumer and the real database."""

import json
import uuid
from functools import cache

import numpy as np
import pytest
from channels.db import database_sync_to_async
from channels.testing import WebsocketCommunicator
from django.test import Client as Browser

from reedcore.synthvoice import HeldVoice, VoicedPart, speak
from tests.web.conftest import run
from web.config.asgi import application
from web.intake.consumers import TakeConsumer
from web.record.models import Trial

pytestmark = pytest.mark.django_db(transaction=True)

RATE = 16_000
BLOCK = 4_000
#: Seconds to wait on a busy machine; an answer that is already there costs nothing.
PATIENCE_S = 60


@cache
def clip():
    return speak(HeldVoice(VoicedPart(seconds=5.3, pitch_hz=174.61)), rate_hz=RATE)


@cache
def sound():
    return np.round(clip().samples * 32767).astype("<i2")


class Line:
    """A page's end of the connection."""

    def __init__(self, task, cookie):
        headers = [
            (b"origin", b"http://testserver"),
            (b"host", b"testserver"),
            (b"cookie", f"sessionid={cookie}".encode()),
        ]
        path = f"/practice/tasks/{task.pk}/take/"
        self.line = WebsocketCommunicator(application, path, headers)

    async def open(self, key, **changes):
        await self.line.connect(timeout=PATIENCE_S)
        await self.say(type="begin", **{"key": key, "rate": RATE, "source": "simulated", **changes})
        return self

    async def say(self, **message):
        await self.line.send_to(text_data=json.dumps(message))

    async def sound(self, first, after):
        header = np.array([first], "<u4").tobytes()
        await self.line.send_to(bytes_data=header + sound()[first:after].tobytes())

    async def hear(self, kind):
        """Return the next message of a kind; skip others."""
        while True:
            message = json.loads(await self.line.receive_from(timeout=PATIENCE_S))
            if message["type"] == kind:
                return message
            assert message["type"] in ("ready", "frames"), message

    async def tear(self):
        await self.line.disconnect(timeout=PATIENCE_S)

    async def send_all(self):
        for first in range(0, len(sound()), BLOCK):
            await self.sound(first, first + BLOCK)
        await self.say(type="stop", samples=len(sound()))


@pytest.fixture
def line(person, task):
    browser = Browser()
    browser.force_login(person.account, "django.contrib.auth.backends.ModelBackend")
    cookie = browser.cookies["sessionid"].value
    return lambda: Line(task, cookie)


@pytest.fixture
def key():
    return str(uuid.uuid4())


count_trials = database_sync_to_async(Trial.objects.count)


def test_a_streamed_hold_is_measured_and_saved(line, key):
    async def story():
        page = await line().open(key, capture={"autoGainControl": False, "device": "x" * 999})
        await page.hear("ready")
        await page.send_all()
        saved = await page.hear("saved")
        assert saved["key"] == key
        assert "on F3; target 5 s." in saved["stage"]
        await page.tear()

    run(story)
    trial = Trial.objects.get()
    assert str(trial.key) == key
    assert trial.total_s == pytest.approx(clip().truth.duration_s, abs=0.1)
    assert trial.capture == {"autoGainControl": "false", "device": "x" * 200}


def test_frames_come_back_while_it_sounds(line, key):
    async def story():
        page = await line().open(key)
        cents = []
        for first in range(0, 3 * RATE, BLOCK):
            await page.sound(first, first + BLOCK)
            frames = await page.hear("frames")
            cents += frames["cents"]
        assert cents[50] is None
        assert abs(cents[200]) < 20
        assert frames["hold"]["start_s"] == pytest.approx(clip().truth.start_s, abs=0.05)
        assert 1.5 < frames["hold"]["seconds"] < 1.9
        await page.tear()

    run(story)
    assert not Trial.objects.exists()


def test_a_line_that_tears_and_begins_again_saves_once(line, key):
    async def story():
        first = await line().open(key)
        await first.sound(0, 2 * RATE)
        await first.hear("frames")
        await first.tear()
        second = await line().open(key)
        await second.hear("ready")
        await second.send_all()
        await second.hear("saved")
        await second.tear()
        # The answer was lost: the page sends everything again.
        third = await line().open(key)
        await third.send_all()
        assert "on F3" in (await third.hear("saved"))["stage"]
        await third.tear()
        assert await count_trials() == 1

    run(story)


def test_a_gap_is_requested_again(line, key):
    async def story():
        page = await line().open(key)
        await page.sound(0, BLOCK)
        await page.sound(3 * BLOCK, 4 * BLOCK)
        assert (await page.hear("resend"))["from"] == BLOCK
        await page.say(type="stop", samples=len(sound()))
        assert (await page.hear("resend"))["from"] == BLOCK
        assert await count_trials() == 0
        await page.tear()

    run(story)


def test_two_lines_at_once_save_one_trial(line, key):
    async def story():
        one, other = await line().open(key), await line().open(key)
        await one.send_all()
        await other.send_all()
        assert (await one.hear("saved"))["key"] == (await other.hear("saved"))["key"]
        assert await count_trials() == 1
        await one.tear()
        await other.tear()

    run(story)


def test_a_save_that_loses_the_race_gives_back_the_one_that_won(task, key, monkeypatch):
    from web.intake import actions
    from web.intake.actions import takes

    measure = takes.POOL.run

    def measured_while_another_saves(*given):
        actions.record_by_hand(task, key=key, seconds=3.0)
        return measure(*given)

    monkeypatch.setattr(takes.POOL, "run", measured_while_another_saves)
    saved = actions.record_sound(
        task, key=key, source=Trial.Source.SIMULATED, samples=sound(), rate_hz=RATE
    )
    assert Trial.objects.count() == 1
    assert saved.source == Trial.Source.STOPWATCH


@pytest.mark.parametrize("name", ["echoCancellation", "noiseSuppression", "autoGainControl"])
def test_sound_that_the_browser_changed_has_no_level_on_record(line, key, name):
    async def story():
        page = await line().open(key, capture={name: True})
        await page.send_all()
        said = " ".join((await page.hear("saved"))["more"])
        assert "so level was not judged" in said
        await page.tear()

    run(story)
    trial = Trial.objects.get()
    assert trial.level_mean_dbfs is None
    assert trial.spread_cents is not None


BAD = {
    "no json": {"text_data": "{"},
    "no object": {"text_data": "[1]"},
    "no type": {"text_data": "{}"},
    "an unknown word": {"text_data": '{"type": "format"}'},
    "stop before begin": {"text_data": '{"type": "stop", "samples": 4}'},
    "sound before begin": {"bytes_data": bytes(12)},
    "no key": {"text_data": '{"type": "begin", "rate": 16000, "source": "microphone"}'},
    "a file over the line": {
        "text_data": json.dumps(
            {"type": "begin", "key": str(uuid.uuid4()), "rate": 16000, "source": "file"}
        )
    },
}


@pytest.mark.parametrize("message", BAD.values(), ids=BAD.keys())
def test_nonsense_closes_the_line_and_saves_nothing(line, message):
    async def story():
        page = line().line
        await page.connect(timeout=PATIENCE_S)
        await page.send_to(**message)
        assert (await page.receive_output())["code"] == 4400
        await page.disconnect(timeout=PATIENCE_S)

    run(story)
    assert not Trial.objects.exists()


def test_a_rate_that_cannot_be_measured_is_refused_in_a_sentence(line, key):
    async def story():
        page = await line().open(key, rate=192_000)
        refused = await page.hear("refused")
        assert "192000" in refused["sentence"]
        await page.tear()

    run(story)


def test_a_device_with_an_odd_name_is_stored(line, key):
    async def story():
        page = await line().open(key, capture={"device": "mic\x00rophone", "browser": {"a": [1]}})
        await page.send_all()
        await page.hear("saved")
        await page.tear()

    run(story)
    assert Trial.objects.get().capture["device"] == "microphone"


def test_signing_out_during_a_take_saves_nothing(line, key, person):
    def sign_out():
        person.account.set_password("another-pin-77")
        person.account.save()

    async def story():
        page = await line().open(key)
        await page.hear("ready")
        await page.sound(0, BLOCK)
        await page.hear("frames")
        await database_sync_to_async(sign_out)()
        await page.say(type="stop", samples=BLOCK)
        while (heard := await page.line.receive_output(timeout=PATIENCE_S))[
            "type"
        ] != "websocket.close":
            pass
        assert heard["code"] == 4404
        await page.tear()

    run(story)
    assert not Trial.objects.exists()


def test_a_take_too_many_is_refused_kindly(line, key, settings):
    settings.LIVE_TAKES = 1

    async def story():
        first = await line().open(key)
        await first.hear("ready")
        second = await line().open(str(uuid.uuid4()))
        assert json.loads(await second.line.receive_from(timeout=PATIENCE_S)) == {"type": "busy"}
        await first.tear()
        await second.tear()
        again = await line().open(str(uuid.uuid4()))
        await again.hear("ready")
        await again.tear()

    run(story)


def test_one_person_holds_only_so_many_lines_open(line):
    async def story():
        lines = [line() for _ in range(8)]
        codes = []
        for each in lines:
            await each.line.connect(timeout=PATIENCE_S)
            quiet = await each.line.receive_nothing(timeout=0.2)
            codes.append(None if quiet else (await each.line.receive_output(timeout=5))["code"])
        for each in lines:
            await each.tear()
        assert codes == [None] * 6 + [4413] * 2

    run(story)


def test_an_answer_to_a_connection_that_has_gone_is_dropped():
    async def gone(**message):
        raise BrokenPipeError

    consumer = TakeConsumer()
    consumer.unsent, consumer._send = 1, gone
    run(lambda: consumer._send_counted({"type": "frames"}))
    assert consumer.unsent == 0
