"""The clients of the live benchmark: each speaks one take after another in real time, as the page
does.

A process of its own, for what it costs is not the server's. Reads a plan as JSON from standard
input and writes what it saw as JSON to standard output.
"""

from __future__ import annotations

import asyncio
import json
import ssl
import struct
import sys
import time
import uuid
from dataclasses import asdict, dataclass, field
from typing import Any

import numpy as np
import websockets

from reedcore.synthvoice import HeldVoice, Room, VoicedPart, speak

RATE = 48_000
#: Sent at once by the page: three blocks of the recorder.
CHUNK = 3 * 1024
FRAME_S = 0.01
#: After this long the take has failed.
PATIENCE_S = 30.0


@dataclass
class ClientLags:
    """Lags of the clients in ms from the sound to its frame, and the ending of each take."""

    lags_ms: list[float] = field(default_factory=list)
    saved_ms: list[float] = field(default_factory=list)
    saved: int = 0
    busy: int = 0
    failed: int = 0
    torn: int = 0


#: Number of different voices; further clients share them.
VOICES = 8


def held_voices(count: int, seconds: float) -> list[bytes]:
    """Return a held voice for each client."""
    made: list[bytes] = []
    for number in range(min(count, VOICES)):
        hz = 110.0 * 2 ** (number / 4)
        voice = HeldVoice(VoicedPart(seconds=seconds - 1.5, pitch_hz=hz), room=Room(-65.0))
        samples = np.round(speak(voice, rate_hz=RATE).samples * 32767).astype("<i2")
        made.append(samples[: int(seconds * RATE)].tobytes())
    return [made[number % VOICES] for number in range(count)]


async def one(plan: dict[str, Any], number: int, sound: bytes, seen: ClientLags) -> None:
    """Run one client until the time is over."""
    cookie, task = plan["clients"][number]
    headers = {"Cookie": f"sessionid={cookie}", "Origin": plan["site"]}
    address = f"wss://{plan['host']}/practice/tasks/{task}/take/"
    ends = time.monotonic() + plan["seconds"]
    # Clients begin at different times.
    await asyncio.sleep(plan["take_s"] * number / len(plan["clients"]))
    while time.monotonic() < ends:
        try:
            async with asyncio.timeout(plan["take_s"] + PATIENCE_S):
                await take(address, headers, sound, seen)
        except (websockets.WebSocketException, OSError):
            seen.torn += 1
        except TimeoutError:
            seen.failed += 1


async def take(address: str, headers: dict[str, str], sound: bytes, seen: ClientLags) -> None:
    """Run one take from its beginning to its answer."""
    options = {"ssl": TLS, "compression": None, "max_size": 2**20, "ping_interval": None}
    async with websockets.connect(address, additional_headers=headers, **options) as line:
        key = str(uuid.uuid4())
        begin = {"type": "begin", "key": key, "rate": RATE, "source": "simulated"}
        await line.send(json.dumps(begin))
        first = json.loads(await line.recv())
        if first["type"] == "busy":
            seen.busy += 1
            await asyncio.sleep(len(sound) / 2 / RATE)
            return
        began = time.monotonic()
        speaking = asyncio.create_task(speak_into(line, sound, began))
        covered, stopped = 0.0, None
        async for text in line:
            now = time.monotonic()
            message = json.loads(text)
            if message["type"] == "frames":
                if message["cents"]:
                    # The oldest frame of the message waited longest.
                    seen.lags_ms.append(1000 * (now - began - covered - FRAME_S))
                    covered += FRAME_S * len(message["cents"])
            elif message["type"] == "saved":
                seen.saved += 1
                stopped = await speaking
                seen.saved_ms.append(1000 * (now - stopped))
                return
            else:
                seen.failed += 1
                speaking.cancel()
                return


async def speak_into(line: Any, sound: bytes, began: float) -> float:
    """Send the sound in the rhythm of a microphone; return the time of its end."""
    samples = len(sound) // 2
    for at in range(0, samples, CHUNK):
        part = sound[2 * at : 2 * (at + CHUNK)]
        due = began + (at + len(part) // 2) / RATE
        await asyncio.sleep(max(0.0, due - time.monotonic()))
        await line.send(struct.pack("<I", at) + part)
    await line.send(json.dumps({"type": "stop", "samples": samples}))
    return time.monotonic()


async def main(plan: dict[str, Any]) -> ClientLags:
    """Run all clients."""
    seen = ClientLags()
    sounds = held_voices(len(plan["clients"]), plan["take_s"])
    print("ready", file=sys.stderr, flush=True)
    everybody = (one(plan, number, sound, seen) for number, sound in enumerate(sounds))
    await asyncio.gather(*everybody)
    return seen


TLS = ssl.create_default_context()
TLS.check_hostname = False
TLS.verify_mode = ssl.CERT_NONE  # The benchmark uses its own certificate on loopback.

if __name__ == "__main__":
    print(json.dumps(asdict(asyncio.run(main(json.load(sys.stdin))))))
