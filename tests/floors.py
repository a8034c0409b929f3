#!/usr/bin/env python3
# SPDX-License-Identifier: Apache-2.0
"""Checks who includes whom in src: a folder only from floors below it, a room of the application only from the rooms
that it stands on, no Qt below the application, and no circle among files, whether by their headers or their sources.
No file has more than 600 lines, but for tables, and no function more than 80."""
import os
import re
import sys

FLOORS = {"geometry": 1, "scene": 2, "world": 3, "script": 3, "detect": 4, "motion": 4, "rules": 5, "sim": 6, "desk": 7, "io": 7, "words": 8,
          "check": 9, "cli": 10, "app": 10, "embed": 10}
ROOMS = {"ui": "", "model": "ui", "slots": "ui model", "ground": "ui model slots", "timeline": "ui model slots",
         "cards": "ui model slots ground", "panels": "ui model slots", "window": "ui model slots ground timeline cards panels"}

TABLES = {"scene/response.h"}
MOST_LINES = 600
MOST_IN_FUNCTION = 80

root = os.path.join(os.path.dirname(os.path.abspath(__file__)), "..", "src")
wrong = []
includes = {}  # by file without its ending: those that its header or its source includes
files = 0
for folder, _, names in sorted(os.walk(root)):
    place = os.path.relpath(folder, root).split(os.sep)
    for name in sorted(names):
        if not name.endswith((".h", ".cpp")):
            continue
        files += 1
        floor, room = place[0], place[1] if len(place) > 1 else None
        file = "/".join(place + [name])
        if floor not in FLOORS or (floor == "app" and room not in ROOMS):
            wrong.append(f"src/{file}: its folder is neither a floor nor a room")
            continue
        part = file.rsplit(".", 1)[0]
        with open(os.path.join(folder, name)) as opened:
            lines = opened.readlines()
        if len(lines) > MOST_LINES and file not in TABLES:
            wrong.append(f"src/{file}: {len(lines)} lines, more than {MOST_LINES}")
        begun = None  # where the body of a function outside of classes begins
        for number, line in enumerate(lines, 1):
            where = f"src/{file}:{number}"
            if line == "{\n":
                begun = number
            elif line.startswith("}") and begun:
                if number - begun - 1 > MOST_IN_FUNCTION:
                    wrong.append(f"src/{file}:{begun}: a function of {number - begun - 1} lines, more than {MOST_IN_FUNCTION}")
                begun = None
            own = re.match(r'#include "([\w/]+)\.h"', line)
            if own:
                to = own[1].split("/")
                if to[0] != floor and FLOORS.get(to[0], 99) >= FLOORS[floor]:
                    wrong.append(f"{where}: {floor} may not include from {to[0]}")
                if room and to[0] == "app" and to[1] != room and to[1] not in ROOMS[room].split():
                    wrong.append(f"{where}: {room} may not include from {to[1]}")
                if own[1] != part:
                    includes.setdefault(part, {}).setdefault(own[1], where)
            if FLOORS[floor] < 10 and re.match(r"#include <Q", line):
                wrong.append(f"{where}: no Qt below the application")


def findCircles():
    """Each file once: a way that leads back to where it is on is a circle."""
    done = set()
    for start in sorted(includes):
        way = [(start, iter(sorted(includes.get(start, ()))))]
        on = [start]
        while way:
            part, rest = way[-1]
            to = next(rest, None)
            if to is None:
                done.add(part)
                way.pop()
                on.pop()
            elif to in on:
                yield on[on.index(to):] + [to]
            elif to not in done:
                way.append((to, iter(sorted(includes.get(to, ())))))
                on.append(to)


for circle in findCircles():
    wrong.append(f"{includes[circle[0]][circle[1]]}: a circle: {' -> '.join(circle)}")
print("\n".join(wrong))
print(f"Totals: {0 if wrong else 1} passed, {len(wrong)} failed, 0 skipped, floors of {files} files")
sys.exit(bool(wrong))
