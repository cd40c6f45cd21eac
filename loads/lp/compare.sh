#!/usr/bin/env bash
# Compares our search with a general integer-programming solver on the same question. Needs Debian's glpk-utils (glpsol);
# it is a bench tool and never a dependency.
set -eu
cd "$(dirname "$0")/../.."
command -v glpsol >/dev/null || { echo "glpsol is not here: apt-get install glpk-utils" >&2; exit 1; }
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
for lines in 50 500 2000 20000; do
  for reach in 24 48 96; do
    go run ./loads/lp "$lines" "$reach" >"$work/problem.lp" 2>"$work/ours"
    glpsol --lp "$work/problem.lp" --tmlim 300 -o "$work/out" >"$work/log"
    optimum=$(awk '/^Objective:/ {print $4}' "$work/out")
    time=$(awk '/^Time used:/ {t=$3} END {print t " s"}' "$work/log")
    ours=$(sed -n 's/.*least money \([0-9]*\).*/\1/p' "$work/ours")
    verdict=DIFFER
    grep -q 'TIME LIMIT EXCEEDED' "$work/log" && verdict="the solver gave up, at best $optimum"
    [ "$optimum" = "$ours" ] && verdict=same
    echo "$lines lines, $reach GB: solver $optimum in $time; $(cat "$work/ours"): $verdict"
  done
done
