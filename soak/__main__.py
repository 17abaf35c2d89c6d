"""Run by `make soak`: python -m soak [kills] [fuzz] [press] [walk] [--share 0.1]."""

from __future__ import annotations

import argparse
import os
import sys
import tempfile
import time

os.environ["JAPANNER_STATE"] = tempfile.mkdtemp(prefix="japanner-soak-")
os.environ["JAPANNER_CONFIG"] = os.environ["JAPANNER_STATE"]
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from soak import fuzz, kills, windows

TRIALS = {
    "kills": (kills.run, 60),
    "fuzz": (fuzz.run, 5000),
    "press": (windows.press, 1),
    "walk": (windows.walk, 10_000),
}


def main() -> int:
    parser = argparse.ArgumentParser(prog="soak", description="Try for long what must hold.")
    parser.add_argument("trials", nargs="*", choices=[*TRIALS, []], help="which; all unless named")
    parser.add_argument("--share", type=float, default=1.0, help="of the full length")
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    failed = False
    for name in options.trials or TRIALS:
        run, count = TRIALS[name]
        start = time.monotonic()
        wrong = run(max(round(count * options.share), 1), options.seed)
        print(f"{name}: {len(wrong)} wrong, {time.monotonic() - start:.0f} s", flush=True)
        for line in wrong[:10]:
            print(f"  {line}")
        failed = failed or bool(wrong)
    return int(failed)


if __name__ == "__main__":
    sys.exit(main())
