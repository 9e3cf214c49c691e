"""The core of Ridgeback: what an animal needs, what an enclosure will do, and what to change.

Knows nothing of the web.

Inside: metres, °C, W, g, Pa, W/m², %RH 0-100, UVI. Names carry their units.
"""

import os

# Small matrices: a second BLAS thread makes a prediction several times slower
# (docs/methods/heat.md, "Speed").
# It must be set before numpy is first imported anywhere in the process.
for _name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS"):
    os.environ.setdefault(_name, "1")

CORE_VERSION = "12"
"""Changes whenever the same request may give another plan; part of every plan and of every cache
key.
"""
