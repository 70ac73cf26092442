"""`python -m buccaphon` is the same as `buccaphon`."""

from buccaphon.cli import main

if __name__ == "__main__":
    main()
