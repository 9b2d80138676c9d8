"""A mail server for tests that accepts letters, or does not answer."""

import email
import socketserver
import threading


class Letters(socketserver.ThreadingTCPServer):
    """`letters` contains the received ones; while `mute` is set nothing is answered; `slow_s` is
    its delay."""

    allow_reuse_address = daemon_threads = True

    def __init__(self, port=0):
        self.letters, self.talks = [], 0
        self.mute, self.leaves = threading.Event(), threading.Event()
        self.thinks = threading.Event()
        self.thinks.set()
        super().__init__(("127.0.0.1", port), Talk)
        threading.Thread(target=self.serve_forever, daemon=True).start()

    @property
    def url(self):
        return f"smtp://127.0.0.1:{self.server_address[1]}"

    def close(self):
        self.leaves.set()
        self.thinks.set()
        self.shutdown()
        self.server_close()


class Talk(socketserver.StreamRequestHandler):
    def handle(self):
        server = self.server
        server.talks += 1
        if server.mute.is_set():
            server.leaves.wait(60)
            return
        self.say("220 here")
        while line := self.rfile.readline():
            word = line.split()[0].upper() if line.split() else b""
            if word == b"DATA":
                self.say("354 go on")
                data = b"".join(iter(self.rfile.readline, b".\r\n"))
                server.thinks.wait(60)
                if self.say("250 kept"):
                    server.letters.append(email.message_from_bytes(data))
            elif word == b"QUIT":
                self.say("221 bye")
                return
            else:
                self.say("250 ok")

    def say(self, words):
        try:
            self.wfile.write(f"{words}\r\n".encode())
        except OSError:
            return False
        # A client killed while it waited accepts no answer.
        self.connection.settimeout(60)
        return True
