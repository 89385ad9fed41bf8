#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""texts.py LUPDATE ROOT: does the translator's tool find every text of core, cli and app?

Counts the texts inside say("..."), source("...") and tr("...") by reading the sources itself, and
compares them with what lupdate collects. No text holds a name of the code. A finished sentence that goes round say() is found by a
test of the judgement, not here.
"""
import html
import pathlib
import re
import subprocess
import sys
import tempfile

LITERAL = r'"(?:[^"\\]|\\.)*"'
TOKEN = re.compile(rf'//[^\n]*|/\*.*?\*/|R"\((?:.*?)\)"|{LITERAL}|\'(?:[^\'\\]|\\.)\'', re.S)
CALL = re.compile(rf'(?<![\w:.>])(say|source|tr)\(\s*((?:{LITERAL}\s*)+)')
CORE = ('core', 'cli')
WINDOW = ('app',)
NAME = re.compile(r'\b[A-Za-z][a-z]+[A-Z][a-z]{2,}')  # "BuildLook", not "NiMH" or "mA"
ESCAPES = {'n': '\n', 't': '\t', '"': '"', '\\': '\\'}


def without_comments(text):
    """Comments become blanks; strings stay."""
    return TOKEN.sub(lambda m: ' ' if m.group()[0] == '/' else m.group(), text)


def value(literals):
    inner = ''.join(part[1:-1] for part in re.findall(LITERAL, literals))
    return re.sub(r'\\(.)', lambda m: ESCAPES[m.group(1)], inner)


def written(root, folders):
    texts = {'say': set(), 'source': set(), 'tr': set()}
    for folder in folders:
        for path in sorted((root / folder).rglob('*')):
            if path.suffix in ('.h', '.cpp'):
                for kind, literals in CALL.findall(without_comments(path.read_text())):
                    texts[kind].add(value(literals))
    return texts['tr'] if folders == WINDOW else texts['say'] | texts['source']


def collected(lupdate, root, folders):
    """The window's own texts are tr()'s; in core and cli say() and source() name a text."""
    alias = [] if folders == WINDOW else ['-tr-function-alias', 'qtTrId+=say,qtTrId+=source']
    with tempfile.TemporaryDirectory() as folder:
        ts = pathlib.Path(folder) / 'texts.ts'
        subprocess.run([lupdate, '-silent', '-locations', 'none', *alias,
                        *(str(root / f) for f in folders), '-ts', str(ts)],
                       check=True, stderr=subprocess.DEVNULL)
        pattern = r'<source>(.*?)</source>' if folders == WINDOW else r'<message id="([^"]*)"'
        return {html.unescape(t) for t in re.findall(pattern, ts.read_text(), re.S)}


def main():
    root = pathlib.Path(sys.argv[2])
    right = True
    for folders in (CORE, WINDOW):
        texts = written(root, folders)
        found = collected(sys.argv[1], root, folders)
        print(f'{" and ".join(folders)}: {len(texts)} texts, lupdate finds {len(texts & found)}')
        for text in sorted(texts - found):
            print('not found:', repr(text))
        for text in sorted(t for t in texts if NAME.search(t)):
            print('a name of the code:', repr(text))
            right = False
        # lupdate writes a text with a quotation mark as broken XML
        right = right and len(texts) > 500 and texts <= found
    return 0 if right else 1


sys.exit(main())
