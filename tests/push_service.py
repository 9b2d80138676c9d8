"""A stand-in for a browser's push service, and a device that has subscribed to it."""

import json
import threading
from base64 import urlsafe_b64encode
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import http_ece
from cryptography.hazmat.primitives import serialization
from cryptography.hazmat.primitives.asymmetric import ec


def base64url(data):
    return urlsafe_b64encode(data).rstrip(b"=").decode()


class Device:
    """A device with its own key: only it can decrypt what the service holds for it."""

    def __init__(self, service, name):
        self.key = ec.generate_private_key(ec.SECP256R1())
        self.auth = name.encode().ljust(16, b".")[:16]
        self.endpoint = f"{service.site}/{name}"

    @property
    def subscription(self):
        point = self.key.public_key().public_bytes(
            serialization.Encoding.X962, serialization.PublicFormat.UncompressedPoint
        )
        keys = {"p256dh": base64url(point), "auth": base64url(self.auth)}
        return {"endpoint": self.endpoint, "expirationTime": None, "keys": keys}

    def read(self, body):
        text = http_ece.decrypt(
            body, private_key=self.key, auth_secret=self.auth, version="aes128gcm"
        )
        return json.loads(text)


class PushService:
    """Receives pushes and keeps them by device; answers with the given status."""

    def __init__(self):
        self.taken = []
        self.status = 201
        service = self

        class Handler(BaseHTTPRequestHandler):
            def do_POST(self):
                body = self.rfile.read(int(self.headers["Content-Length"]))
                headers = {name.lower(): value for name, value in self.headers.items()}
                service.taken.append((self.path.strip("/"), headers, body))
                self.send_response(service.status)
                self.end_headers()

            def log_message(self, *_):
                pass

        self.server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
        self.site = f"http://127.0.0.1:{self.server.server_port}"
        threading.Thread(target=self.server.serve_forever, daemon=True).start()

    def close(self):
        self.server.shutdown()
        self.server.server_close()
