"""`python -m dividers` is the command line."""

import sys

from dividers.cli import main

sys.exit(main())
