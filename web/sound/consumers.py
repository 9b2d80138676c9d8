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

import numpy as np
from channels.db import database_sync_to_async
from channels.generic.websocket import AsyncWebsocketConsumer
from django.utils import timezone

from reedcore.acoustics.live_hold import Listening
from reedcore.errors import Refusal
from web.ui.wording import sentence

from . import capture
from .takes import BadChunk, MissingSound, Take

NOT_YOURS, BAD_MESSAGE = 4404, 4400
LIVE_SOURCES = ("microphone", "simulated")


class KeyTaken(Exception):
    """The key belongs to a try of somebody or something else."""


class BadAbout(ValueError):
    """What the page says of the take besides its sound is not so."""


class LiveTake(AsyncWebsocketConsumer):
    """One take of one try. Who it is for is said by the three methods at the end."""

    async def connect(self):
        self.take = self.subject = None
        user = self.scope["user"]
        if user.is_authenticated:
            kwargs = self.scope["url_route"]["kwargs"]
            self.subject = await database_sync_to_async(self.find)(user, **kwargs)
        await self.accept()  # a code can only be given on an open connection
        if self.subject is None:
            await self.close(NOT_YOURS)

    async def receive(self, text_data=None, bytes_data=None):
        if self.subject is None:
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
        self.source = str(message["source"])
        if self.source not in LIVE_SOURCES:
            raise ValueError(self.source)
        self.capture = capture.told(message.get("capture") or {})
        self.about = message.get("about") or {}
        self.reference_hz = self.target_hz()
        self.band = await database_sync_to_async(self.level_band)()
        try:
            self.take = Take(int(message["rate"]), self.listens_for())
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
            cents=self._cents(frames),
            hold={
                "start_s": hold.start_s,
                "seconds": round(hold.seconds, 2),
                "ended": hold.ended,
                "silent_s": round(hold.silent_s, 2),
                "centre_cents": self._centre(hold),
            },
            full=self.take.full,
            level=self._level(frames),
        )

    def _level(self, frames):
        """The voice's level now against the comfortable one, and where it stands in its band."""
        if self.band is None or not len(frames):
            return None
        zero, floor, ceiling = self.band
        levels = frames.level_dbfs[np.isfinite(frames.level_dbfs)]
        if not levels.size:
            return None
        db = float(np.median(levels)) - zero
        under, over = floor is not None and db < floor, ceiling is not None and db > ceiling
        return {"db": round(db, 1), "head": "under" if under else "over" if over else "within"}

    def _cents(self, frames):
        """Each frame's cents from the note (from A4 without one), null where no pitch was."""
        zero = self.reference_hz or 440.0
        return [
            round(1200.0 * log2(hz / zero), 1) if isfinite(hz) else None for hz in frames.pitch_hz
        ]

    def _centre(self, hold):
        """Where the picture's middle line lies: on the note, or where the voice is without one."""
        if self.reference_hz or not isfinite(hold.median_hz):
            return 0.0
        return round(1200.0 * log2(hold.median_hz / 440.0), 1)

    async def _stop(self, samples):
        if self.take is None:
            raise ValueError("stop before begin")
        if self.take.samples_in < samples and not self.take.full:
            await self._say(type="resend", **{"from": self.take.samples_in})
            return
        try:
            stage = await database_sync_to_async(self._save_in_zone)()
        except Refusal as refusal:
            await self._say(type="refused", sentence=sentence(refusal))
        except KeyTaken:
            await self._say(
                type="refused",
                sentence="This try could not be told from another one. Load the page again.",
            )
        else:
            shown = stage if isinstance(stage, dict) else {"stage": stage}
            await self._say(type="saved", key=str(self.key), **shown)

    def _save_in_zone(self):
        # the time zone of a request's middleware does not reach a stream
        with timezone.override(ZoneInfo(self.clinic().time_zone)):
            return self.save()

    async def _say(self, **message):
        await self.send(text_data=json.dumps(message))

    def find(self, user, **kwargs):
        """What the take is of, None where this person has no such thing; becomes ``subject``."""
        raise NotImplementedError

    def clinic(self):
        """Whose clock counts."""
        raise NotImplementedError

    def target_hz(self):
        """The note that is asked for, None where any will do."""
        raise NotImplementedError

    def level_band(self):
        """(comfortable dBFS on this device, floor dB, ceiling dB); None where it is not judged."""
        return

    def listens_for(self):
        """What the live picture shows as the try so far."""
        return Listening.HOLD

    def save(self):
        """Saves the take once, and gives the HTML that shows it, or a dict of what to say."""
        raise NotImplementedError
