"""Flask: routes translate HTTP to commands and results, nothing more."""

from .app import Config, create_app

__all__ = ["Config", "create_app"]
