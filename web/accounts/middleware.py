"""What every request of a signed-in person gets."""

from zoneinfo import ZoneInfo

from django.utils import timezone


class ClinicTimeZoneMiddleware:
    """Shows and reads times as the clinic's clock has them."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        user = request.user
        if not user.is_authenticated:
            return self.get_response(request)
        with timezone.override(ZoneInfo(user.clinic.time_zone)):
            return self.get_response(request)


class NoStoreMiddleware:
    """Keeps health records out of the caches of shared devices."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        response = self.get_response(request)
        if not response.has_header("Cache-Control"):
            response["Cache-Control"] = "no-store"
        return response
