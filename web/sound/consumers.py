"""Live sound in, frames back, and one saved try at the end.

The page says ``begin``, sends numbered chunks, says ``stop``, and forgets its recording only on
``saved``. After a torn connection it begins again under the same key and sends everything again:
whichever connection gets there first saves the try, and the others are given that same try. Where
this process has too much to do already it says ``busy``: the page records, and uploads afterwards.
"""

from __future__ import annotations

import asyncio
import logging
from contextlib import suppress
from functools import partial
from importlib import import_module
from math import isfinite, log2
from typing import TYPE_CHECKING, Any
from uuid import UUID
from zoneinfo import ZoneInfo

import numpy as np
import orjson
from asgiref.sync import sync_to_async
from channels.auth import get_user
from channels.generic.websocket import AsyncWebsocketConsumer
from django.conf import settings
from django.db import DataError, IntegrityError, connection
from django.utils import timezone
from django.utils.translation import gettext

from reedcore.acoustics.holds.live_hold import Listening
from reedcore.errors import Refusal
from web.accounts.second.required_methods import lacks_second_step
from web.accounts.sessions import idle_minutes, is_idle, note_seen
from web.ui.faults import new_fault
from web.ui.request_body import Unreadable, read_json
from web.ui.wording import sentence

from . import capture
from .engine import ENGINE, TakeQueue
from .pool import PoolBusy
from .takes import BadChunk, MissingSound, Take

if TYPE_CHECKING:
    from web.accounts.models import User

logger = logging.getLogger(__name__)

NOT_YOURS, BAD_MESSAGE, TOO_MUCH = 4404, 4400, 4413
LIVE_SOURCES = ("microphone", "simulated")
#: Limits beyond normal use: messages and bytes of a take, bytes of a message, sockets at once.
MOST_MESSAGES, MOST_BYTES, LARGEST_WORD, MOST_SOCKETS = 24_000, 80_000_000, 16_384, 6
#: Unacknowledged answers; a page that accepts none is gone.
MOST_UNSENT = 200
#: Open sockets per person in this process.
_OPEN: dict[int, int] = {}


class KeyTaken(Exception):
    """The key belongs to a trial of another client or task."""


class InvalidMetadata(ValueError):
    """The metadata that a page sent with a take are not valid."""


class UnknownSocket(AsyncWebsocketConsumer):
    """An address that no page of ours opens."""

    async def connect(self) -> None:
        """Close it."""
        await self.close(NOT_YOURS)


def in_thread(work: Any) -> Any:
    """Query the database in a thread of its own, because takes must not wait for one another."""

    def run(*given: Any, **named: Any) -> Any:
        try:
            return work(*given, **named)
        finally:
            connection.close()

    return sync_to_async(run, thread_sensitive=False)


class LiveTake(AsyncWebsocketConsumer):
    """A live take of a trial. Subclasses define its subject by their last three methods."""

    async def connect(self) -> None:
        """Accept the connection; close it with a reason if the user may not record here."""
        self.subject: Any = None
        self.take: Take | None = None
        self.line: TakeQueue | None = None
        self._tasks: set[asyncio.Task[Any]] = set()
        self.messages = self.bytes = self.unsent = 0
        #: Minutes of inactivity before closing, and the timer.
        self.minutes = self.closing = None
        self.loop = asyncio.get_running_loop()
        user = self.scope["user"]
        self.person = user.pk if user.is_authenticated else None
        is_full = self.person is not None and not self._may_open(self.person)
        if self.person is not None and not is_full:
            self.subject = await self._find_subject()
        await self.accept()  # A close code can only be sent on an open connection.
        if self.subject is None:
            await self.close(TOO_MUCH if is_full else NOT_YOURS)
        else:
            self._wait()

    def _may_open(self, person: int) -> bool:
        if _OPEN.get(person, 0) >= MOST_SOCKETS:
            self.person = None
            return False
        _OPEN[person] = _OPEN.get(person, 0) + 1
        return True

    async def disconnect(self, code: Any) -> None:
        """End the recording and free its place."""
        self._leave()
        if self.closing is not None:
            self.closing.cancel()
        if self.person is None:
            return
        left = _OPEN.pop(self.person, 1) - 1
        if left > 0:
            _OPEN[self.person] = left

    def _leave(self) -> None:
        if self.line is not None:
            ENGINE.leave(self.line)
        self.line = self.take = None

    async def _find_subject(self) -> Any:
        """Return the subject of the take, loaded again: a user signed out meanwhile has none."""
        sessions = import_module(settings.SESSION_ENGINE)
        self.scope["session"] = sessions.SessionStore(self.scope["session"].session_key)
        user = await in_thread(get_user.func)(self.scope)
        if not user.is_authenticated or user.pk != self.person:
            return None
        self.minutes = await in_thread(self._minutes_left)(user)
        if self.minutes == 0:
            return None
        if await in_thread(lacks_second_step)(user):
            return None
        self.scope["user"] = user
        return await in_thread(self.find)(user, **self.scope["url_route"]["kwargs"])

    def _minutes_left(self, user: User) -> Any:
        """Return the minutes that this connection may stay open without a take; 0 after the session
        timeout. A take counts as activity."""
        session = self.scope["session"]
        if is_idle(user, session):
            return 0
        minutes = idle_minutes(user, session)
        if minutes is not None:
            note_seen(session)
            session.save()
        return minutes

    def _wait(self) -> None:
        """Close the connection after the session timeout without activity."""
        if self.closing is not None:
            self.closing.cancel()
        self.closing = None
        if self.minutes:
            end = partial(self._spawn_end, NOT_YOURS)
            self.closing = self.loop.call_later(60 * self.minutes, end)

    def _spawn_end(self, code: Any) -> None:
        self._spawn(self._end(code))

    async def receive(self, text_data: Any = None, bytes_data: Any = None) -> None:
        """Take a part of the recording, or a message about it."""
        if self.subject is None:
            return
        self.messages += 1
        self.bytes += len(bytes_data or text_data or "")
        if text_data is not None:
            self._wait()
        if self.messages > MOST_MESSAGES or self.bytes > MOST_BYTES:
            await self._end(TOO_MUCH)
            return
        try:
            if bytes_data is not None:
                self._sound(bytes_data)
            else:
                await self._word(read_json(text_data, most_bytes=LARGEST_WORD, should_clean=True))
        except (ValueError, TypeError, KeyError, AttributeError) as bad:
            logger.info("take_message_rejected", extra={"error": type(bad).__name__})
            await self._end(BAD_MESSAGE)

    async def _end(self, code: Any) -> None:
        self.subject = None
        self._leave()
        await self.close(code)

    async def _word(self, message: Any) -> None:
        if message["type"] == "begin":
            await self._begin(message)
        elif message["type"] == "stop":
            await self._stop(int(message["samples"]))
        else:
            raise Unreadable("no such word")

    async def _begin(self, message: Any) -> None:
        self.key = UUID(message["key"])
        self.source = str(message["source"])
        if self.source not in LIVE_SOURCES:
            raise Unreadable("no such source")
        self.capture = capture.capture_details(message.get("capture") or {})
        self.about = message.get("about") or {}
        if (found := await self._find_subject()) is None:
            await self._end(NOT_YOURS)
            return
        self.subject = found
        self.reference_hz, self.band, listens = await in_thread(self._current_goal)()
        self._leave()
        try:
            self.take = Take(int(message["rate"]), listens)
        except Refusal as refusal:
            await self._send(type="refused", sentence=sentence(refusal))
            return
        self.line = ENGINE.admit(self.take, partial(self._round, self.take))
        if self.line is None:
            self.take = None
            await self._send(type="busy")
            return
        await self._send(type="ready")

    def _current_goal(self) -> Any:
        return self.target_hz(), self.level_band(), self.listens_for()

    def _sound(self, chunk: Any) -> None:
        if self.line is None:
            raise BadChunk("before begin")
        ENGINE.add(self.line, chunk)

    def _round(self, take: Any, added: Any) -> None:
        """Measure the sound since the last round; runs in the engine's thread."""
        message = None
        if added is not None and isinstance(added.trouble, MissingSound):
            message = {"type": "resend", "from": added.trouble.expected}
        elif added is not None and added.trouble is None:
            message = self._frames_message(take, added.frames)
        self.loop.call_soon_threadsafe(self._answer, take, message)

    def _answer(self, take: Any, message: Any) -> None:
        """Send the results of a round, unless the take is over or disconnected."""
        if take is not self.take:
            return
        if message is None or self.unsent > MOST_UNSENT:
            self._spawn(self._end(BAD_MESSAGE))
            return
        self.unsent += 1
        self._spawn(self._send_counted(message))

    def _spawn(self, coroutine: Any) -> None:
        task = asyncio.ensure_future(coroutine)
        self._tasks.add(task)
        task.add_done_callback(self._tasks.discard)

    async def _send_counted(self, message: Any) -> None:
        try:
            # If the connection has gone, `disconnect` follows and ends the take.
            with suppress(OSError):
                await self._send(**message)
        finally:
            self.unsent -= 1

    def _frames_message(self, take: Any, frames: Any) -> Any:
        hold = take.hold
        return {
            "type": "frames",
            "cents": self._cents(frames),
            "hold": {
                "start_s": hold.start_s,
                "seconds": round(hold.seconds, 2),
                "ended": hold.has_ended,
                "silent_s": round(hold.silent_s, 2),
                "centre_cents": self._centre(hold),
            },
            "full": take.is_full or take.is_unanswered,
            "level": self._level(frames),
        }

    def _level(self, frames: Any) -> Any:
        """Return the current level relative to the comfortable voice, and its position in the
        band."""
        if self.band is None or not len(frames):
            return None
        zero, floor, ceiling = self.band
        levels = frames.level_dbfs[np.isfinite(frames.level_dbfs)]
        if not levels.size:
            return None
        db = float(np.median(levels)) - zero
        under, over = floor is not None and db < floor, ceiling is not None and db > ceiling
        return {"db": round(db, 1), "head": "under" if under else "over" if over else "within"}

    def _cents(self, frames: Any) -> Any:
        """Return each frame's cents from the note (from A4 without one), null without a pitch."""
        zero = self.reference_hz or 440.0
        return [
            round(1200.0 * log2(hz / zero), 1) if isfinite(hz) else None
            for hz in frames.pitch_hz.tolist()
        ]

    def _centre(self, hold: Any) -> Any:
        """Return the middle line of the picture: the note, or the voice's pitch without one."""
        if self.reference_hz or not isfinite(hold.median_hz):
            return 0.0
        return round(1200.0 * log2(hold.median_hz / 440.0), 1)

    async def _stop(self, samples: Any) -> None:
        if self.take is None:
            raise Unreadable("stop before begin")
        if await self._await_samples(samples):
            await self._save()

    async def _await_samples(self, samples: Any) -> Any:
        """Wait for the engine; request missing samples."""
        while self.line is not None and not self.line.idle:
            await asyncio.sleep(0.01)
        if self.take is None:
            return False
        if self.take.samples_in < samples and not self.take.is_full:
            await self._send(type="resend", **{"from": self.take.samples_in})
            return False
        return True

    async def _save(self) -> None:
        if (found := await self._find_subject()) is None:
            await self._end(NOT_YOURS)
            return
        self.subject = found
        try:
            stage = await in_thread(self._save_in_zone)()
        except Refusal as refusal:
            await self._send(type="refused", sentence=sentence(refusal))
        except PoolBusy:
            await self._send(type="busy")
        except KeyTaken:
            await self._send(
                type="refused",
                sentence=gettext("This try has no valid ID. Reload the page."),
            )
        except (DataError, IntegrityError):
            logger.exception("take_not_saved", extra={"fault": new_fault()})
            await self._send(
                type="refused", sentence=gettext("This try does not fit your programme.")
            )
        else:
            shown = stage if isinstance(stage, dict) else {"stage": stage}
            await self._send(type="saved", key=str(self.key), **shown)
        finally:
            self._leave()

    def _save_in_zone(self) -> Any:
        # The request middleware's time zone does not apply to a WebSocket.
        with timezone.override(ZoneInfo(self.clinic().time_zone)):
            return self.save()

    async def _send(self, **message: Any) -> None:
        await self.send(text_data=orjson.dumps(message).decode())

    def find(self, user: User, *args: Any, **kwargs: Any) -> Any:
        """Return the subject of the take, None if this user has none; becomes ``subject``."""
        raise NotImplementedError

    def clinic(self) -> Any:
        """Return the clinic whose settings apply."""
        raise NotImplementedError

    def target_hz(self) -> Any:
        """Return the target note, None for any note."""
        raise NotImplementedError

    def level_band(self) -> Any:
        """Return (comfortable dBFS on this device, floor dB, ceiling dB); None if levels are not
        judged."""
        return

    def listens_for(self) -> Any:
        """Return the part of the try that the live picture shows."""
        return Listening.HOLD

    def whole_take(self) -> Take:
        """Return the take that is being saved."""
        if self.take is None:
            raise Unreadable("no take")
        return self.take

    def save(self) -> Any:
        """Save the take once, and return the HTML that shows it, or a dict with a message."""
        raise NotImplementedError
