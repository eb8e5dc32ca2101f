"""Dove Joint: parts for 3D printing and the joints between them."""

__version__ = "0.1.0"
