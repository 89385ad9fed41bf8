#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Copies a font under another family name: rename_font.py SOURCE TARGET FAMILY

The monospaced cut of the text face calls itself by the family of the proportional one as well.
Where both are installed, the wrong one can be picked; under a name of its own it cannot."""
import sys

from fontTools.ttLib import TTFont

source, target, family = sys.argv[1:]
font = TTFont(source)
names = font["name"]
style = names.getDebugName(2) or "Regular"
for record in list(names.names):
    if record.nameID in (1, 16):
        names.setName(family, record.nameID, record.platformID, record.platEncID, record.langID)
    elif record.nameID == 4:
        names.setName(f"{family} {style}", 4, record.platformID, record.platEncID, record.langID)
    elif record.nameID == 6:
        names.setName(f"{family}-{style}".replace(" ", ""), 6, record.platformID, record.platEncID,
                      record.langID)
if "CFF " in font:
    cff = font["CFF "].cff
    cff.fontNames = [f"{family}-{style}".replace(" ", "")]
    top = cff.topDictIndex[0]
    top.FamilyName = family
    top.FullName = f"{family} {style}"
font.save(target)
