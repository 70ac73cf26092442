"""Fit the onset corrections: how far the aligner's onsets are off by the two sounds that meet, on recordings whose phone
times are known.

    python tools/fit_onset_corrections.py RECORDINGS [--write]

RECORDINGS holds <name>.flac, <name>.txt and <name>.phones.csv (start_s,end_s,phone). The median error of each pair of
sound classes is shrunk towards the overall median by 20 imaginary onsets, so that rare pairs move little. Prints the
accuracy without the table, and with a table fitted on the other voices only (names up to their digits are voices).
"""

import argparse
import csv
import difflib
import json
from collections import defaultdict
from pathlib import Path

import numpy as np

from buccaphon.alignment import aligner
from buccaphon.audio.reading import read_recording
from buccaphon.speech.phones import arpabet_of, class_of
from buccaphon.speech.script import script_words

SHRINKAGE = 20
TABLE = Path(aligner.__file__).with_name("onset_corrections.json")


def onset_errors(recording: Path) -> list[tuple[str, float]]:
    """(class pair, error in ms) of each phone that the reference has too."""
    words = script_words(recording.with_suffix(".txt").read_text("utf-8"))
    score = aligner.align(aligner.AlignmentRequest(read_recording(recording), words))
    found, end = [], 0.0
    for phone in score.phones():
        left = "X" if not found or phone.start > end + 1e-6 else class_of(found[-1][0]).value
        found.append((phone.symbol, left + class_of(phone.symbol).value, phone.start))
        end = phone.end
    with recording.with_name(f"{recording.stem}.phones.csv").open(newline="") as rows:
        truth = [(row["phone"], float(row["start_s"])) for row in csv.DictReader(rows) if row["phone"]]
    names = [arpabet_of(symbol) for symbol, _, _ in found]
    pairs = difflib.SequenceMatcher(None, names, [name for name, _ in truth], autojunk=False).get_matching_blocks()
    return [(found[i + k][1], 1000 * (found[i + k][2] - truth[j + k][1])) for i, j, n in pairs for k in range(n)]


def fit(errors: list[tuple[str, float]]) -> dict[str, float]:
    overall = float(np.median([error for _, error in errors]))
    by_pair = defaultdict(list)
    for pair, error in errors:
        by_pair[pair].append(error)
    table = {}
    for pair, found in sorted(by_pair.items()):
        weight = len(found) / (len(found) + SHRINKAGE)
        table[pair] = round(-(weight * float(np.median(found)) + (1 - weight) * overall), 1)
    return table


def summary(errors: list[float]) -> str:
    sizes = np.abs(errors)
    shares = " ".join(f"<{limit:g} ms {np.mean(sizes < limit):.3f}" for limit in (10, 20, 41.7))
    return f"{len(errors)} onsets, mean {sizes.mean():.1f} ms, {shares}"


def main() -> None:
    cli = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    cli.add_argument("recordings", type=Path)
    cli.add_argument("--write", action="store_true", help="write the table fitted on all voices into the package")
    args = cli.parse_args()
    aligner._onset_corrections = dict  # measure the errors that the table is there to take away
    by_voice = defaultdict(list)
    for path in sorted(args.recordings.glob("*.flac")):
        by_voice[path.stem.rstrip("0123456789")] += onset_errors(path)
    everything = [pair for voice in by_voice.values() for pair in voice]
    print("without:             ", summary([error for _, error in everything]))
    left_out = []
    for voice, errors in by_voice.items():
        table = fit([pair for other, found in by_voice.items() if other != voice for pair in found])
        left_out += [error + table.get(pair, 0.0) for pair, error in errors]
    print("with, voice left out:", summary(left_out))
    table = fit(everything)
    print("with, all voices:    ", summary([error + table[pair] for pair, error in everything]))
    if args.write:
        note = "Added to onsets, by the classes of the sounds before and after; made by tools/fit_onset_corrections.py"
        TABLE.write_text(json.dumps({"note": note, "milliseconds": table}, indent=1) + "\n", "utf-8")


if __name__ == "__main__":
    main()
