"""The product calls every public function of the core, because an unused rule has no effect.
Functions for the command line or for synthetic sound are checked by their own entry points."""

import ast
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
#: Tests and the demo call the simulated voice by its public names; the rules of a check are called
#: through their registry.
BY_ANOTHER_DOOR = ("reedcore/synthvoice/", "reedcore/checks/")

#: Single cases, single proposals and refusals are called by tests and developers only.
FOR_TESTS = {"case_of", "refusal_classes"}


def trees():
    for folder in ("reedcore", "web", "bench"):
        for path in sorted((ROOT / folder).rglob("*.py")):
            if "migrations" not in path.parts:
                yield path.relative_to(ROOT).as_posix(), ast.parse(path.read_text())


def used_in(tree):
    """Return the names that are used; an import or a line of ``__all__`` is not a use."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Load):
            yield node.id
        elif isinstance(node, ast.Attribute):
            yield node.attr


def test_every_public_function_of_the_core_is_called_by_the_product():
    defined, used = {}, set()
    for path, tree in trees():
        used |= set(used_in(tree))
        if path.startswith("reedcore/") and not path.startswith(BY_ANOTHER_DOOR):
            for node in tree.body:
                if isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
                    defined[node.name] = path
    assert len(defined) > 100
    assert {name for name in defined if name not in used} == FOR_TESTS
