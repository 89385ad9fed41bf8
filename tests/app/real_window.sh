#!/usr/bin/env bash
# SPDX-License-Identifier: GPL-3.0-or-later
# real_window.sh XVFB_RUN PROGRAM: plays the demo in a real window on a display without a screen and
# checks its verdict and its pictures.
set -euo pipefail
folder=$(mktemp -d)
trap 'rm -rf "$folder"' EXIT
export HOME="$folder" XDG_RUNTIME_DIR="$folder" QT_QPA_PLATFORM=xcb
"$1" -a -s "-screen 0 1400x900x24" "$2" --play "$folder/pictures" | tee "$folder/out"
grep -q "^Verdict: Stopped; .* cm are left. No contact." "$folder/out"
for name in 1-wire 2-rule-least-threshold 3-rule 4-floor 5-log; do
    test -s "$folder/pictures/$name.png"
done
