"""`python -m japanner`."""

import sys

from japanner.cli import main

if __name__ == "__main__":
    sys.exit(main())
