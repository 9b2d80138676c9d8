"""Builds the wheel that the tests of a release unpack: `python -m tests.release_wheel FOLDER`."""

import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
#: Large folders that are not part of a release.
BESIDE = (
    ".*",
    "node_modules",
    "test-results",
    "build",
    "dist",
    "collected",
    "__pycache__",
    "tests",
)


def build_wheel(into: Path) -> Path:
    """Build a wheel of the tree as it stands, from a copy, because building leaves files behind."""
    with tempfile.TemporaryDirectory() as place:
        tree = Path(place) / "tree"
        shutil.copytree(ROOT, tree, ignore=shutil.ignore_patterns(*BESIDE))
        build = [ROOT / ".local/tools/bin/uv", "build", "-q", "--wheel", "--no-build-isolation"]
        subprocess.run([*build, "--python", sys.executable, "--out-dir", into, tree], check=True)
    (wheel,) = into.glob("*.whl")
    return wheel


if __name__ == "__main__":
    sys.stdout.write(f"{build_wheel(Path(sys.argv[1]))}\n")
