import sys

from husbandry.cli import main

sys.exit(main())
