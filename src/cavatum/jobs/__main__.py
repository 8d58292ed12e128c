"""python -m cavatum.jobs: a worker."""

import sys

from .worker import main

sys.exit(main())
