#!/usr/bin/env bash
# SPDX-License-Identifier: GPL-3.0-or-later
# layers.sh ROOT: core names no interface type, and no folder of core includes one to its right.
# Headers are precompiled by their include path, so that a compiler cache serves other clones.
set -euo pipefail
cd "$1"
order=(base link units parts kit sense standin mechanics nets circuit pins motion wiring revisions harness drive power firstpower rules machine sentences regions boardcode drawing floor arena logbook tune oncar faults world task workshop judge window edit diagnose wireup io)
wrong=0

if grep -rnE '#include [<"](Q[A-Z]|Qsci|app/|cli/)' core; then
    echo "core includes interface code"
    wrong=1
fi
for folder in core/*/; do
    name=$(basename "$folder")
    mine=-1
    for i in "${!order[@]}"; do [ "${order[$i]}" = "$name" ] && mine=$i; done
    if [ "$mine" -lt 0 ]; then
        echo "core/$name has no place in the order of layers"
        wrong=1
        continue
    fi
    for ((i = mine + 1; i < ${#order[@]}; ++i)); do
        if grep -rn "#include \"core/${order[$i]}/" "$folder"; then
            echo "core/$name includes core/${order[$i]}, which stands to its right"
            wrong=1
        fi
    done
done
for list in CMakeLists.txt */CMakeLists.txt; do
    if tr '\n' ' ' <"$list" | grep -oE 'target_precompile_headers\([^)]*\)' | sed 's/<[^>]*>//g' |
        grep -E '\.h|"'; then
        echo "$list precompiles a header as a file: write <its include path>"
        wrong=1
    fi
done
exit $wrong
