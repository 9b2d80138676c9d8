"""Usual measures of the props that are breathed or voiced through."""

#: (inner diameter mm, length cm) by prop: typical products (convention).
BORES = {
    "straw_6mm": (6.0, 20.0),
    "straw_5mm": (5.0, 20.0),
    "straw_4mm": (4.0, 15.0),
    "straw_3mm": (3.0, 12.0),
    "tube": (10.0, 35.0),
    "tube_soft": (10.0, 35.0),
}
#: Interchangeable props; the resistance is calculated for each.
ALIKE = (
    frozenset({"straw_6mm", "straw_5mm", "straw_4mm", "straw_3mm"}),
    frozenset({"tube", "tube_soft"}),
)
