"""Records of the demo clients, and settings of the demo clinic."""

from typing import Any

CLINIC_SETTINGS = {
    "address": "Two Rooms, Net Loft Stairs\nSaltmarsh Harbour",
    "questionnaire": "Harbour voice questions",
}
#: The clinic's reference table: (measure, age band, voice, from, to, source).
REFERENCE = (
    ("longest_vowel_s", "", "", 10.0, None, "convention of this clinic"),
    ("longest_s_s", "", "", 12.0, None, "convention of this clinic"),
    ("longest_z_s", "", "", 12.0, None, "convention of this clinic"),
    ("quotient", "", "", 120.0, 200.0, "convention of this clinic"),
    ("span_st", "", "", 18.0, None, "convention of this clinic"),
    ("speaking_hz", "", "bass", 90.0, 140.0, "convention of this clinic"),
    ("speaking_hz", "", "treble", 165.0, 240.0, "convention of this clinic"),
)

#: By practice code: record, cautions, and baselines (days ago).
RECORDS: dict[str, dict[str, Any]] = {
    "reed-f3aa": {
        "age_band": "40-59",
        "pronouns": "she, her",
        "voice_demands": "Forty announcements a shift, half of them against wind and engines.",
        "goals": "To get to the last ferry with a voice left.",
        "referrer": "Dr. Wen, Saltmarsh Infirmary",
        "referral_reason": "Voice tires by noon.",
        "laryngeal_finding": "No lesion; slight gap behind on closure.",
        "examined_days_ago": 41,
        "changed_days_ago": 160,
        "cautions": ["reflux"],
        "props": ["straw_6mm", "straw_4mm", "tube", "bottle", "mirror"],
        "baselines_days_ago": (20, 6),
    },
    "tide-b2aa": {
        "age_band": "75+",
        "pronouns": "he, him",
        "voice_demands": "Talk with his grandchildren; the choir of old pilots on Thursdays.",
        "goals": "To be heard at table without being asked twice.",
        "referral_reason": "Quiet voice.",
        "laryngeal_finding": "Folds thin, closure incomplete.",
        "examined_days_ago": 33,
        "changed_days_ago": 400,
        "cautions": ["pressure", "tremor"],
        "said_so": {
            "pressure": {
                "who": "Dr. Wen, Saltmarsh Infirmary",
                "on": "2026-10-01",
                "what": "controlled; straw and held voice, no long breath holds",
            }
        },
        "props": ["straw_6mm", "mirror"],
        "baselines_days_ago": (14,),
    },
    "lamp-d4aa": {
        "age_band": "18-39",
        "goals": "Three tours a day without clearing my throat.",
        "referral_reason": "Hoarse after tours.",
        "laryngeal_finding": "Normal.",
        "examined_days_ago": 60,
        "props": ["straw_5mm", "bottle"],
    },
    "pilot-f3s": {
        "age_band": "18-39",
        "pronouns": "she, her",
        "goals": "To be called “captain” on the radio before they see me.",
        "referral_reason": "Wishes to work on the pitch of her own voice.",
        "props": ["metronome"],
    },
    "nets-anya": {
        "age_band": "60-74",
        "referral_reason": "Weak voice since the spring.",
        "laryngeal_finding": "One fold moves less than the other.",
        "examined_days_ago": 95,
        "changed_days_ago": 210,
        "cautions": ["hearing"],
    },
    "loaf-g4aa": {
        "age_band": "18-39",
        "referral_reason": "Loses her voice at weekends.",
        "complaint": "yes",
        "changed_days_ago": 45,
    },
    **{
        code: {
            "age_band": band,
            "diagnosis": diagnosis,
            "laryngeal_finding": finding,
            "examined_days_ago": 100,
            "contact": "mail" if mail else "phone",
            "contact_detail": f"{code}@post.example" if mail else "0555 0100",
            "goals": goals,
        }
        for code, band, diagnosis, finding, mail, goals in (
            (
                "alto-e4a",
                "40-59",
                "surgery",
                "Healed after a small cyst.",
                True,
                "The Easter solo.",
            ),
            (
                "gavel-b2",
                "40-59",
                "tension",
                "Pressed closure, no lesion.",
                False,
                "A whole market day.",
            ),
            (
                "swim-g4",
                "18-39",
                "lesion",
                "Small swellings, both sides.",
                True,
                "To be heard over the pool.",
            ),
            (
                "loft-c3",
                "60-74",
                "thin",
                "Folds slightly bowed.",
                False,
                "To call across the loft.",
            ),
            ("ferry-d3", "40-59", "tension", "Normal.", True, "Less tired by the last crossing."),
            (
                "lens-d4",
                "18-39",
                "paresis",
                "Left fold moves less, closes.",
                True,
                "To read to visitors.",
            ),
            (
                "rope-c3",
                "60-74",
                "paresis",
                "Right fold moves less.",
                True,
                "To talk on the telephone.",
            ),
            ("oars-a2", "18-39", "tension", "Normal.", True, "To shout less, and be heard."),
            (
                "tower-a2",
                "75+",
                "quiet",
                "Folds close; soft voice.",
                False,
                "To be understood at table.",
            ),
            ("choir-f4", "40-59", "working", "Normal.", True, "Two rehearsals an evening."),
            (
                "bell-c3",
                "60-74",
                "thin",
                "Folds bowed, gap in the middle.",
                True,
                "To call the changes.",
            ),
            ("horn-b2", "60-74", "quiet", "Normal; soft voice.", True, "To order at the counter."),
            ("quay-e3", "75+", "thin", "Folds thin, close.", True, "To go on reading aloud."),
            ("kite-g3", "18-39", "working", "Normal.", True, "A term without losing my voice."),
            ("mast-d3", "18-39", "tension", "Normal.", True, "To call from the mast."),
            ("sail-a3", "40-59", "pitch", "Normal.", True, "A pitch that is mine."),
            (
                "wharf-c3",
                "40-59",
                "tension",
                "Pressed, no lesion.",
                True,
                "To talk without pushing.",
            ),
            (
                "dune-e4",
                "60-74",
                "tremor",
                "Even tremor of both folds.",
                False,
                "To lead the bird walks.",
            ),
        )
    },
}

#: By practice code: the starting programme in the composer's draft.
DRAFTS = {"tide-b2aa": "occluded"}
#: By practice code: the starting programme published this morning.
HANDED_OVER = {"reed-f3aa": "loud"}
#: Shared tablets: location and the names shown.
TABLETS = [("group room", ["tower-a2", "quay-e3", "gavel-b2"])]
