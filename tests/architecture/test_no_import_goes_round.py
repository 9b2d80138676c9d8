"""There are no import cycles, including imports inside functions."""

import graphlib

import grimp
import pytest


@pytest.mark.parametrize("package", ["reedcore", "web"])
def test_no_circle_of_imports(package):
    graph = grimp.build_graph(package)
    imports = {each: graph.find_modules_directly_imported_by(each) for each in graph.modules}
    graphlib.TopologicalSorter(imports).prepare()  # A CycleError names the circle.
