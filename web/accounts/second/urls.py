"""The second step's addresses, by the names that the accounts package looks them up by."""

from allauth.account.views import reauthenticate
from allauth.mfa.base import views as base
from allauth.mfa.recovery_codes import views as spare
from allauth.mfa.totp import views as codes
from allauth.mfa.webauthn import views as passkeys
from django.urls import path

from .. import views
from ..access import working_here
from .trusted_devices import RememberView

urlpatterns = [
    path("sign-in/", views.SignIn.as_view(), name="account_login"),
    path("sign-in/closed/", views.deactivated_account, name="account_inactive"),
    path("sign-in/second/", base.authenticate, name="mfa_authenticate"),
    path("sign-in/remember/", RememberView.as_view(), name="mfa_trust"),
    path("sign-in/passkey/", passkeys.login_webauthn, name="mfa_login_webauthn"),
    path("account/again/", working_here(reauthenticate), name="account_reauthenticate"),
    path("account/again/code/", working_here(base.reauthenticate), name="mfa_reauthenticate"),
    path(
        "account/again/passkey/",
        working_here(passkeys.reauthenticate_webauthn),
        name="mfa_reauthenticate_webauthn",
    ),
    path("account/", views.own, name="mfa_index"),
    path("account/", views.own, name="mfa_list_webauthn"),
    path("account/codes/add/", working_here(codes.activate_totp), name="mfa_activate_totp"),
    path("account/codes/remove/", working_here(codes.deactivate_totp), name="mfa_deactivate_totp"),
    path("account/spare/", working_here(spare.view_recovery_codes), name="mfa_view_recovery_codes"),
    path(
        "account/spare/new/",
        working_here(spare.generate_recovery_codes),
        name="mfa_generate_recovery_codes",
    ),
    path(
        "account/spare/file/",
        working_here(spare.download_recovery_codes),
        name="mfa_download_recovery_codes",
    ),
    path("account/passkeys/add/", working_here(passkeys.add_webauthn), name="mfa_add_webauthn"),
    path(
        "account/passkeys/<int:pk>/remove/",
        working_here(views.RemovePasskey.as_view()),
        name="mfa_remove_webauthn",
    ),
]
