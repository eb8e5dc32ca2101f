"""A project begun from a sample, with the revisions that came before it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ..store import Committed, ProjectStore, WorkshopStore

if TYPE_CHECKING:
    from . import Sample

__all__ = ["begin_from"]


def begin_from(sample: Sample, store: ProjectStore) -> Committed:
    """Keep a sample as a new project. Where there is a story to it, its states are frozen as revisions, the last one as it stands."""
    found = store.insert(sample.make())
    story = sample.before()
    if story:
        revisions = WorkshopStore(store.database)
        for document, note in story:
            revisions.freeze(found.id, document, note)
        revisions.freeze(found.id, found.project, sample.now)
    return found
