#!/usr/bin/env python3
# SPDX-License-Identifier: Apache-2.0
"""Checks the user guide: no sentence has more than twenty words, and every picture and page that it names is there."""
import os
import re
import sys

MOST = 20

root = sys.argv[1] if len(sys.argv) > 1 else os.path.join(os.path.dirname(__file__), "..")
path = os.path.join(root, "docs", "guide.md")
with open(path, encoding="utf-8") as file:
    guide = file.read()

wrong = []
for target in re.findall(r"\]\(([^)#]+)(?:#[^)]*)?\)", guide):
    if not os.path.exists(os.path.join(root, "docs", target)):
        wrong.append(f"there is no {target}")
text = re.sub(r"```.*?```", "", guide, flags=re.S)
text = re.sub(r"^\|.*$", "", text, flags=re.M)
text = re.sub(r"!\[[^\]]*\]\([^)]*\)", "", text)
text = re.sub(r"\[([^\]]*)\]\([^)]*\)", r"\1", text)
sentences = 0
for part in re.split(r"\n\s*\n|\n(?=[-#0-9])", text):
    for sentence in re.split(r"(?<=[.!?:])\s+(?=[A-Z`*_])|; ", " ".join(part.split())):
        words = [word for word in sentence.split() if re.search(r"\w", word)]
        sentences += bool(words)
        if len(words) > MOST:
            wrong.append(f"{len(words)} words: {sentence}")
for one in wrong:
    print("FAIL!  : docs/guide.md:", one)
print(f"Totals: {0 if wrong else 1} passed, {1 if wrong else 0} failed, 0 skipped, guide of {sentences} sentences")
sys.exit(bool(wrong))
