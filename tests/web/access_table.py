"""Access to every address of the site, by role."""

IN, AWAY, NOT_THERE = "in", "to the sign-in page", "not there"
#: A client is redirected to the practice link; a device's data request gets an answer instead.
DOOR, SHUT = "to the practice door", "signed out"

#: Path → (method, signed out, the client, another client, another clinic's clinician, the
#: clinician)
EVERYBODY = (IN, IN, IN, IN, IN)
CLINICIANS_OWN = (AWAY, NOT_THERE, NOT_THERE, NOT_THERE, IN)
CLINICIANS = (AWAY, NOT_THERE, NOT_THERE, IN, IN)
CLIENTS = (DOOR, IN, IN, NOT_THERE, NOT_THERE)
CLIENTS_SEND = (SHUT, IN, IN, SHUT, SHUT)
CLINICIANS_SEND = (SHUT, SHUT, SHUT, SHUT, IN)
BOTH = (AWAY, IN, NOT_THERE, NOT_THERE, IN)
NOBODY = (NOT_THERE,) * 5
SECOND_STEP = [
    "mfa_index",
    "mfa_list_webauthn",
    "mfa_activate_totp",
    "mfa_deactivate_totp",
    "mfa_view_recovery_codes",
    "mfa_generate_recovery_codes",
    "mfa_download_recovery_codes",
    "mfa_add_webauthn",
    "account_reauthenticate",
    "mfa_reauthenticate",
    "mfa_reauthenticate_webauthn",
]
ACCESS = {
    "watched:live": ("get", EVERYBODY),
    # Open to anyone with the token, which belongs to no account.
    "watched:ready": ("get", NOBODY),
    "watched:metrics": ("get", NOBODY),
    "accounts:home": ("get", EVERYBODY),
    "accounts:sign_in": ("get", EVERYBODY),
    "accounts:unsaved": ("post", CLINICIANS),
    "accounts:forgotten": ("get", EVERYBODY),
    "accounts:own": ("get", CLINICIANS),
    "accounts:end_others": ("post", CLINICIANS),
    # The token in the link grants access.
    "accounts:choose_password": ("get", EVERYBODY),
    # The second step: staff set it up, and people who sign in answer it.
    **dict.fromkeys(SECOND_STEP, ("get", CLINICIANS)),
    "mfa_remove_webauthn": ("get", CLINICIANS_OWN),
    **dict.fromkeys(
        [
            "account_login",
            "account_inactive",
            "mfa_authenticate",
            "mfa_trust",
            "mfa_login_webauthn",
        ],
        ("get", EVERYBODY),
    ),
    "results:count_trial": ("post", CLINICIANS_OWN),
    "results:leave_out_trial": ("post", CLINICIANS_OWN),
    "results:write_message": ("post", CLINICIANS_OWN),
    "clinic:people": ("get", CLINICIANS),
    "clinic:invite": ("post", CLINICIANS),
    "clinic:new_link": ("post", CLINICIANS_OWN),
    "clinic:reset_second_step": ("post", CLINICIANS_OWN),
    "clinic:deactivate": ("post", CLINICIANS_OWN),
    "clinic:reactivate": ("post", CLINICIANS_OWN),
    "clinic:role": ("post", CLINICIANS_OWN),
    "clinic:cover": ("post", CLINICIANS),
    "clinic:end_cover": ("post", CLINICIANS_OWN),
    "clinic:shared": ("post", CLINICIANS_OWN),
    # For the lead; for any clinician while a clinic has no lead, as here.
    "practice:tablets": ("get", CLINICIANS),
    "practice:change_tablet": ("post", CLINICIANS_OWN),
    "clinic:opened": ("get", CLINICIANS),
    "clinic:erased": ("get", CLINICIANS),
    "clinic:erase": ("get", CLINICIANS_OWN),
    "clinic:keep": ("post", CLINICIANS_OWN),
    "accounts:sign_out": ("post", (IN, DOOR, DOOR, IN, IN)),
    "clients:list": ("get", CLINICIANS),
    "clients:new": ("get", CLINICIANS),
    "clinic:clinic": ("get", CLINICIANS),
    "clinic:add_reference": ("post", CLINICIANS),
    "clinic:remove_reference": ("post", CLINICIANS_OWN),
    "record:summary": ("get", CLINICIANS_OWN),
    "notes:letter": ("get", CLINICIANS_OWN),
    "notes:letter_pdf": ("get", CLINICIANS_OWN),
    **{
        f"{space}:{name}": (method, CLINICIANS_OWN)
        for space, method, names in (
            ("clients", "get", "record practice_link helper"),
            ("clients", "post", "add_helper archive restore"),
            ("screening", "get", "screen"),
            ("screening", "post", "declare_safe refer clear_stop"),
            ("baseline", "get", "all targets sheet simulated"),
            (
                "baseline",
                "post",
                "decide_target close calibrate spirometer typed entries recording trial",
            ),
        )
        for name in names.split()
    },
    "calculators:all": ("get", CLINICIANS),
    "calculators:pattern_midi": ("get", CLINICIANS),
    "calculators:pattern_wav": ("get", CLINICIANS),
    "programmes:schema": ("get", CLINICIANS),
    **{
        f"programmes:{name}": (method, CLINICIANS_OWN)
        for method, names in {
            "get": "prescribe compose versions version handout handout_pdf calendar tones_midi"
            " sound_wav as_json bring_in confirm",
            "post": "edit publish accept_file withdraw again keep_in_library from_calculator",
        }.items()
        for name in names.split()
    },
    "catalogue:all": ("get", CLINICIANS),
    "catalogue:add_own": ("post", CLINICIANS),
    "catalogue:hide": ("post", CLINICIANS),
    "catalogue:add_plain": ("post", CLINICIANS),
    "catalogue:library": ("get", CLINICIANS),
    "catalogue:add_lines": ("post", CLINICIANS),
    "catalogue:upload_picture": ("post", CLINICIANS),
    "catalogue:put_away": ("post", CLINICIANS_OWN),
    "record:picture": ("get", CLINICIANS_OWN),
    "decisions:board": ("get", CLINICIANS),
    "decisions:overview": ("get", CLINICIANS),
    "decisions:undo_last": ("post", CLINICIANS),
    "decisions:rules": ("get", CLINICIANS_OWN),
    # The signed link grants access, and the page names nobody.
    "messages:reminders_off": ("get", EVERYBODY),
    "exports:without_names": ("get", CLINICIANS),
    "exports:without_names_columns": ("get", CLINICIANS),
    "exports:practice_schema": ("get", CLINICIANS),
    **{
        f"{space}:{name}": (method, CLINICIANS_OWN)
        for space, method, names in (
            ("results", "get", "client compare voice_range_profile"),
            (
                "exports",
                "get",
                "client tries_csv sessions_csv programme_csv practice_json fhir_json archive",
            ),
            ("notes", "get", "notes note note_pdf"),
            ("notes", "post", "new_note sign_note discard_note add_to_note"),
            ("decisions", "post", "decide undo"),
        )
        for name in names.split()
    },
    # The PIN protects it, and the page itself shows no client.
    "practice:enter": ("get", EVERYBODY),
    "practice:today": ("get", CLIENTS),
    "practice:my_practice": ("get", CLIENTS),
    "practice:progress": ("get", CLIENTS),
    "messages:device": ("post", CLIENTS),
    "practice:pin": ("get", CLIENTS),
    # Only a device set up as a shared tablet receives the names shown there.
    "practice:tablet": ("get", (DOOR,) * 5),
    "practice:tablet_enter": ("get", (DOOR,) * 5),
    "practice:code": ("get", EVERYBODY),
    # A script that is the same for everyone.
    "practice:worker": ("get", EVERYBODY),
    "practice:manifest": ("get", EVERYBODY),
    # The page's own token grants access.
    "intake:stop": ("post", EVERYBODY),
    # Reports the end of a sign-in to a device without a network.
    "practice:door": ("get", EVERYBODY),
    "intake:entries": ("post", CLIENTS_SEND),
    "intake:opened_entry": ("post", CLIENTS_SEND),
    "practice:in_clinic": ("get", CLINICIANS_OWN),
    "intake:clinic_entries": ("post", CLINICIANS_SEND),
    "intake:clinic_opened_entry": ("post", CLINICIANS_SEND),
    "practice:simulated_voice": ("get", BOTH),
    "practice:comfortable_voice": ("get", CLIENTS),
    "intake:paper": ("get", CLINICIANS_OWN),
    "intake:table": ("get", CLINICIANS_OWN),
    "intake:recordings": ("post", CLINICIANS_OWN),
}
#: Pages of clinicians that assistants and viewers can open, and actions that assistants can take.
LOOKED_AT = set(SECOND_STEP) | {
    f"{space}:{name}"
    for space, names in {
        "accounts": "unsaved own end_others",
        "clients": "list",
        "record": "summary picture",
        "baseline": "all sheet targets",
        "programmes": "schema versions version handout handout_pdf calendar tones_midi sound_wav",
        "catalogue": "all library",
        "calculators": "all pattern_midi pattern_wav",
        "decisions": "board",
        "results": "client compare voice_range_profile",
        "notes": "notes note note_pdf letter letter_pdf",
        "practice": "simulated_voice",
    }.items()
    for name in names.split()
}
MEASURED = {
    f"{space}:{name}"
    for space, names in {
        "baseline": "close calibrate spirometer typed entries recording trial simulated",
        "practice": "in_clinic",
        "intake": "clinic_entries clinic_opened_entry paper table recordings",
    }.items()
    for name in names.split()
}
