"""Dove Joint: parts for 3D printing and the joints between them."""

import os

# small matrices all through: threads of the linear algebra only get in each other's way (read when NumPy is loaded)
for _name in ("OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS", "MKL_NUM_THREADS"):
    os.environ.setdefault(_name, "1")

__version__ = "0.1.0"
