"""What a page may use of the device, and who may embed what it serves."""

#: The pages that hear a voice: practice at home and in the clinic, and the baseline sheet.
LISTENING = ("/practice/", "/clients/baselines/")
_NONE = "microphone=(), camera=(), geolocation=()"
_MICROPHONE = "microphone=(self), camera=(), geolocation=()"


class DeviceHeadersMiddleware:
    """Let only pages that hear a voice ask for the microphone, and no other site read an answer."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        response = self.get_response(request)
        listens = request.path.startswith(LISTENING)
        response["Permissions-Policy"] = _MICROPHONE if listens else _NONE
        response["Cross-Origin-Resource-Policy"] = "same-origin"
        return response
