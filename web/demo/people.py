"""Saltmarsh Voice Clinic and its people: all made up.

Each story says what the fortnights before today held. A day is (days ago, tries); what each try was
like is drawn from the story by a seed of its own, so that two loads give the same data.
"""

from dataclasses import dataclass

CLINIC = {"name": "Saltmarsh Voice Clinic", "time_zone": "Europe/Lisbon"}

#: (username, first name, last name)
CLINICIANS = (("imre", "Imre", "Halloran"), ("odalys", "Odalys", "Brandt"))
CLINICIAN_PASSWORD = "quiet-water-reed"
CLIENT_PIN = "246810"


@dataclass(frozen=True)
class Stage:
    """A stretch of the story under one target.

    Attributes:
        from_day, to_day: days ago, the earlier one first.
        target_s: what was asked.
        held_s: what was held at its start and at its end.
        error_cents: how far off the note, start and end.
        shaky_cents: slow wandering of the pitch.
        breaks: how many of ten tries break once.
        skipped: days ago on which nothing was done.
    """

    from_day: int
    to_day: int
    target_s: float
    held_s: tuple[float, float]
    error_cents: tuple[float, float]
    shaky_cents: float
    breaks: int = 0
    skipped: tuple[int, ...] = ()
    tries: int = 4


@dataclass(frozen=True)
class DemoClient:
    """A demo client."""

    name: str
    occupation: str
    voice: str
    code: str
    sound: str = "oh"
    note: str | None = None
    stages: tuple[Stage, ...] = ()


PEOPLE = (
    DemoClient(
        "Tamsin Orrell",
        "ferry announcer",
        "bass",
        "reed-f3aa",
        note="F3",
        stages=(
            Stage(19, 9, 10, (8.4, 10.8), (-32, -14), 9, breaks=2, skipped=(18, 13, 12)),
            Stage(8, 1, 12, (10.6, 12.9), (-12, 4), 5, breaks=1, skipped=(6,)),
        ),
    ),
    DemoClient(
        "Bram Okonjo-Hale",
        "chart-maker, retired",
        "bass",
        "tide-b2aa",
        sound="ah",
        note="B2",
        stages=(Stage(13, 1, 8, (6.2, 8.3), (-8, -6), 14, breaks=4, skipped=(9, 5, 4)),),
    ),
    DemoClient(
        "Ilse Marrack",
        "lighthouse guide",
        "treble",
        "lamp-d4aa",
        note="D4",
        stages=(Stage(14, 1, 15, (15.6, 16.4), (6, 3), 4, skipped=(10, 7, 3), tries=3),),
    ),
    DemoClient(
        "Sorrel Vane",
        "trainee harbour pilot",
        "own",
        "pilot-f3s",
        note="F#3",
        stages=(Stage(11, 1, 12, (9.0, 11.4), (70, 22), 11, skipped=(8, 4), tries=3),),
    ),
    DemoClient(
        "Dov Penhallow",
        "net-mender",
        "bass",
        "nets-anya",
        sound="oo",
        stages=(Stage(9, 6, 6, (4.0, 4.6), (0, 0), 16, breaks=3, tries=3),),
    ),
    DemoClient("Fenn Abara", "baker on nights", "treble", "loaf-g4aa", note="G4"),
    DemoClient("Wenna Astley", "choir alto, after surgery", "treble", "alto-e4a", note="E4"),
    DemoClient("Casimir Thole", "auctioneer, fish market", "bass", "gavel-b2", note="B2"),
    DemoClient("Perpetua Lowe", "swimming coach", "treble", "swim-g4", note="G4"),
    DemoClient("Jory Pascoe", "net-loft foreman", "bass", "loft-c3", note="C3"),
    DemoClient("Hale Trevanion", "ferryman", "bass", "ferry-d3", note="D3"),
    DemoClient("Ottilie Brandreth", "lens-keeper", "treble", "lens-d4", note="D4"),
    DemoClient("Mabyn Crewe", "rope-maker", "bass", "rope-c3", note="C3"),
    DemoClient("Kit Lanyon", "rowing trainer", "bass", "oars-a2", note="A2"),
    DemoClient("Gideon Farrow", "harbour master, retired", "bass", "tower-a2", sound="ah"),
    DemoClient("Isolde Quill", "choir leader", "treble", "choir-f4", note="F4"),
    DemoClient("Rafe Tolland", "bell-ringer", "bass", "bell-c3", note="C3"),
    DemoClient("Nessa Coombe", "fog-signal keeper", "bass", "horn-b2", sound="ah"),
    DemoClient("Aldous Finch", "quayside reader", "bass", "quay-e3", note="E3"),
    DemoClient("Brisa Navarro", "kite teacher", "own", "kite-g3", note="G3"),
    DemoClient("Corin Vey", "mast-rigger", "bass", "mast-d3", note="D3"),
    DemoClient("Edda Marsh", "sailmaker", "own", "sail-a3", note="A3"),
    DemoClient("Tobin Rourke", "crane driver", "bass", "wharf-c3", note="C3"),
    DemoClient("Una Selwyn", "dune warden", "treble", "dune-e4", note="E4"),
)
