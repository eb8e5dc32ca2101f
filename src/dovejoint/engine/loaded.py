"""What workers are copied from (Linux): imported once, in a process of its own that does nothing else, so that a worker begins with all that jobs need.

A worker that dies, or is ended in the middle of a call of the kernel, so costs a moment and not the seconds that loading takes; and all hold what was
loaded in one place of the memory.
"""

import contextlib
import gc

from . import jobs

# what fails here would take all workers down; it fails again, with its sentence, where it is needed
with contextlib.suppress(Exception):
    jobs.load()
# what is loaded stays; looking through it again and again would also copy it for each worker
gc.collect()
gc.freeze()
