"""All pages, by the app that owns them."""

from django.urls import include, path

from web.config import health

watched = [
    path("health/live", health.live, name="live"),
    path("health/ready", health.ready, name="ready"),
    path("metrics", health.metrics, name="metrics"),
]
urlpatterns = [
    path("", include((watched, "watched"))),
    path("", include("web.accounts.urls")),
    path("", include("web.accounts.second.urls")),
    path("clients/", include("web.clients.urls")),
    path("clients/", include("web.screening.urls")),
    path("clients/", include("web.baseline.urls")),
    path("", include("web.record.urls")),
    path("clients/", include("web.clinic.urls")),
    path("clients/", include("web.programmes.urls")),
    path("calculators/", include("web.calculators.urls")),
    path("catalogue/", include("web.catalogue.urls")),
    path("", include("web.messages.urls")),
    path("", include("web.decisions.urls")),
    path("", include("web.results.urls")),
    path("", include("web.notes.urls")),
    path("", include("web.exports.urls")),
    path("practice/", include("web.practice.urls")),
    path("practice/", include("web.intake.urls")),
]

handler400 = "web.ui.views.bad_request"
handler403 = "web.ui.views.forbidden"
handler404 = "web.ui.views.not_found"
handler500 = "web.ui.views.server_error"
