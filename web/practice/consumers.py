"""Live sound in, frames back, and one saved try at the end.

The page says ``begin``, sends numbered chunks, says ``stop``, and forgets its recording only on
``saved``. After a torn connection it begins again under the same key and sends everything anew:
whichever connection gets there first saves the try, and the others are given that same try.
"""

import asyncio
import json
from math import isfinite, log2
from uuid import UUID
from zoneinfo import ZoneInfo

from channels.db import database_sync_to_async
from channels.generic.websocket import AsyncWebsocketConsumer
from django.utils import timezone

from reedcore.errors import Refusal
from web.programmes.queries import note_hz, tasks_of
from web.ui.wording import sentence

from .actions import PROCESSING, KeyTaken, record_sound
from .models import Trial
from .takes import BadChunk, MissingSound, Take
from .views import rendered_stage

NOT_YOURS, BAD_MESSAGE = 4404, 4400
LIVE_SOURCES = {Trial.Source.MICROPHONE, Trial.Source.SIMULATED}
#: What a browser may tell about how it recorded, and how much of it is believed.
CAPTURE_FIELDS = (*PROCESSING, "device", "browser")


class TakeConsumer(AsyncWebsocketConsumer):
    """One take of one try."""

    async def connect(self):
        self.take = self.task = None
        user = self.scope["user"]
        if user.is_authenticated and user.is_client:
            self.task = await _task(user, self.scope["url_route"]["kwargs"]["pk"])
        await self.accept()  # a code can only be given on an open connection
        if self.task is None:
            await self.close(NOT_YOURS)

    async def receive(self, text_data=None, bytes_data=None):
        if self.task is None:
            return
        try:
            if bytes_data is not None:
                await self._sound(bytes_data)
            else:
                await self._word(json.loads(text_data))
        except (ValueError, TypeError, KeyError, AttributeError):
            await self.close(BAD_MESSAGE)

    async def _word(self, message):
        if message["type"] == "begin":
            await self._begin(message)
        elif message["type"] == "stop":
            await self._stop(int(message["samples"]))
        else:
            raise ValueError(message["type"])

    async def _begin(self, message):
        self.key = UUID(message["key"])
        self.source = Trial.Source(message["source"])
        if self.source not in LIVE_SOURCES:
            raise ValueError(self.source)
        said = message.get("capture") or {}
        self.capture = {name: _told(said[name]) for name in CAPTURE_FIELDS if name in said}
        try:
            self.take = Take(int(message["rate"]))
        except Refusal as refusal:
            await self._say(type="refused", sentence=sentence(refusal))
            return
        await self._say(type="ready")

    async def _sound(self, chunk):
        if self.take is None:
            raise BadChunk("before begin")
        try:
            frames = await asyncio.to_thread(self.take.add, chunk)
        except MissingSound as missing:
            await self._say(type="resend", **{"from": missing.wanted})
            return
        hold = self.take.hold
        await self._say(
            type="frames",
            cents=_cents(frames, self.task),
            hold={
                "start_s": hold.start_s,
                "seconds": round(hold.seconds, 2),
                "ended": hold.ended,
                "silent_s": round(hold.silent_s, 2),
                "centre_cents": self._centre(hold),
            },
            full=self.take.full,
        )

    def _centre(self, hold):
        """Where the picture's middle line lies: on the note, or where the voice is without one."""
        if note_hz(self.task) or not isfinite(hold.median_hz):
            return 0.0
        return round(1200.0 * log2(hold.median_hz / 440.0), 1)

    async def _stop(self, samples):
        if self.take is None:
            raise ValueError("stop before begin")
        if self.take.samples_in < samples and not self.take.full:
            await self._say(type="resend", **{"from": self.take.samples_in})
            return
        try:
            stage = await database_sync_to_async(self._save)()
        except Refusal as refusal:
            await self._say(type="refused", sentence=sentence(refusal))
        except KeyTaken:
            await self._say(
                type="refused",
                sentence="This try could not be told from another one. Load the page again.",
            )
        else:
            await self._say(type="saved", key=str(self.key), stage=stage)

    def _save(self):
        # the time zone of a request's middleware does not reach a stream
        with timezone.override(ZoneInfo(self.task.programme.client.clinic.time_zone)):
            record_sound(
                self.task,
                key=self.key,
                source=self.source,
                samples=self.take.samples(),
                rate_hz=self.take.rate_hz,
                capture=self.capture,
            )
            return rendered_stage(self.task)

    async def _say(self, **message):
        await self.send(text_data=json.dumps(message))


@database_sync_to_async
def _task(user, pk):
    return tasks_of(user).filter(pk=pk).first()


def _told(value):
    """What the browser said, as a short text: true and false in JavaScript's own words.

    Without NULs, which the database cannot keep: a device's odd name must not cost a try.
    """
    text = json.dumps(value) if isinstance(value, bool) else str(value)
    return text.replace("\x00", "")[:200]


def _cents(frames, task):
    """Each frame's cents from the note (from A4 without one), null where no pitch was."""
    zero = note_hz(task) or 440.0
    return [round(1200.0 * log2(hz / zero), 1) if isfinite(hz) else None for hz in frames.pitch_hz]
