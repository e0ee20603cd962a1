#!/usr/bin/env python3
"""Writes src/ClearTide.Core/Language/NormalForms.txt: what the Unicode standard says about normal form KC, for every character that it says
anything about, and tests/ClearTide.Core.Tests/Language/NormalFormCases.txt: texts with the form that Python's own library gives them.
Run it once for each new version of the standard."""
import random
import sys
import unicodedata as u

HANGUL = range(0xAC00, 0xD7A4)


def code(text):
    return " ".join(f"{ord(c):X}" for c in text)


rows = [f"# Unicode {u.unidata_version}. d: a character and its full compatibility decomposition; c: a character and its combining class;",
        "# p: a character and the pair that composes to it."]
for n in range(sys.maxunicode + 1):
    c = chr(n)
    if n in HANGUL or 0xD800 <= n < 0xE000:
        continue
    full = u.normalize("NFKD", c)
    if full != c:
        rows.append(f"d {n:X} {code(full)}")
    if u.combining(c):
        rows.append(f"c {n:X} {u.combining(c)}")
    own = u.decomposition(c)
    if own and not own.startswith("<"):
        pair = "".join(chr(int(part, 16)) for part in own.split())
        if len(pair) == 2 and u.normalize("NFC", pair) == c:
            rows.append(f"p {n:X} {code(pair)}")
with open("src/ClearTide.Core/Language/NormalForms.txt", "w", encoding="ascii", newline="\n") as file:
    file.write("\n".join(rows) + "\n")

draw = random.Random(20260101)
known = [chr(n) for n in range(0x20, 0x30000) if not 0xD800 <= n < 0xE000 and u.category(chr(n)) not in ("Cn", "Co", "Cs")]
marked = [c for c in known if u.normalize("NFKC", c) != c or u.combining(c)]
texts = ["\u00b5g", "\u03bcg", "e\u0301", "\u00e9", "\ufb01x", "\uff21", "\u1e9b\u0323",
         "a\u0323\u0307", "a\u0307\u0323", "\u1100\u1161\u11a8",
         "\u212b", "\u2460", "x\u00b2", "\U0001d465", "\u0958", "A\u030a\u0323"]
for _ in range(1500):
    pool = marked if draw.random() < 0.6 else known
    texts.append("".join(draw.choice(draw.choice([pool, marked, known])) for _ in range(draw.randint(1, 6))))
with open("tests/ClearTide.Core.Tests/Language/NormalFormCases.txt", "w", encoding="ascii", newline="\n") as file:
    for text in texts:
        file.write(f"{code(text)};{code(u.normalize('NFKC', text))}\n")
