#!/usr/bin/env python3
# SPDX-License-Identifier: Apache-2.0
"""Checks that each folder of src includes only from floors below it, and that nothing below `app` includes Qt."""
import os
import re
import sys

FLOORS = {"geometry": 1, "scene": 2, "world": 3, "script": 3, "detect": 4, "motion": 4, "rules": 5, "sim": 6, "check": 7, "desk": 7, "io": 7,
          "cli": 8, "app": 8}

root = os.path.join(os.path.dirname(os.path.abspath(__file__)), "..", "src")
wrong = []
files = 0
for folder, level in FLOORS.items():
    for name in sorted(os.listdir(os.path.join(root, folder))):
        if not name.endswith((".h", ".cpp")):
            continue
        files += 1
        for number, line in enumerate(open(os.path.join(root, folder, name)), 1):
            own = re.match(r'#include "(\w+)/', line)
            if own and own[1] != folder and FLOORS.get(own[1], 99) >= level:
                wrong.append(f"src/{folder}/{name}:{number}: {folder} may not include from {own[1]}")
            if level < 8 and re.match(r"#include <Q", line):
                wrong.append(f"src/{folder}/{name}:{number}: no Qt below the application")
print("\n".join(wrong))
print(f"Totals: {0 if wrong else 1} passed, {len(wrong)} failed, 0 skipped, floors of {files} files")
sys.exit(bool(wrong))
