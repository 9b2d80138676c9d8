"""Static files of one version: hashed down to each module, and known to the worker."""

import json
import re
from pathlib import Path

import pytest
from django.core.management import call_command
from django.test import override_settings
from django.urls import reverse

from web.practice.views import player

HASHED = re.compile(r"\.[0-9a-f]{12}\.(js|css|woff2)$")


@pytest.fixture(scope="module")
def collected_files(tmp_path_factory):
    """The static files as a clinic's site serves them, with their manifest."""

    root = tmp_path_factory.mktemp("collected")
    made = {"staticfiles": {"BACKEND": "web.ui.static_files.HashedStaticFiles"}}
    with override_settings(STATIC_ROOT=root, STORAGES=made):
        call_command("collectstatic", verbosity=0, interactive=False)
    return root


def test_every_script_asks_for_its_modules_by_their_hashed_names(collected_files):
    manifest = json.loads((collected_files / "staticfiles.json").read_text())["paths"]
    scripts = [name for name in manifest.values() if name.endswith(".js")]
    assert len(scripts) > 30
    for name in scripts:
        assert HASHED.search(name), name
        text = (collected_files / name).read_text()
        for imported in re.findall(r"""(?:from|import)\s*\(?\s*["'](\.[^"']+)["']""", text):
            assert HASHED.search(imported), f"{name} asks for {imported}"
            assert (collected_files / Path(name).parent / imported).resolve().exists(), imported


def test_the_worker_is_another_one_with_another_set_of_files(client, monkeypatch):
    url = reverse("practice:worker")
    assert 'const VERSION = "as it stands";' in client.get(url).content.decode()

    class ServedRequest:
        manifest_hash = "abc123def456"

    monkeypatch.setattr(player, "staticfiles_storage", ServedRequest)
    assert 'const VERSION = "abc123def456";' in client.get(url).content.decode()
