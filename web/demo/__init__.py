"""The made-up clinic that a first look is taken with."""
